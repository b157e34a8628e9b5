import type { HealthSample } from '~/core/delivery/health';
import type { StageReport, UplinkReport } from '~/protocol/engine';
import type { RelayStatus } from '~/protocol/relay-orders';

/** Ten minutes. */
const MAX_SAMPLES = 600;

/** How the broadcast has done, second by second, as long as this page is open. */
export class HealthHistory {
  #samples: readonly HealthSample[] = [];
  #before: { stage: StageReport; dropped: Map<string, number> } | null = null;
  readonly #listeners = new Set<() => void>();

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly snapshot = (): readonly HealthSample[] => this.#samples;

  /** Takes one second; call while a broadcast is on. */
  add(
    atMs: number,
    stage: StageReport | null,
    uplink: UplinkReport | null,
    session: RelayStatus['session'],
    planFps: number,
  ): void {
    if (!stage) return;
    const before = this.#before?.stage ?? stage;
    const dropped = this.#before?.dropped ?? new Map<string, number>();
    // Counts begin anew with every broadcast.
    const since = (of: (s: StageReport) => number) => Math.max(0, of(stage) - of(before));
    const destinations = session?.destinations ?? [];
    const sample: HealthSample = {
      atMs,
      fps: stage.fps,
      pace: stage.pace,
      scale: stage.scale,
      planFps,
      due: since((s) => s.due),
      skipped: since((s) => s.skipped),
      encoderBusy: since((s) => s.encoderBusy),
      leftOut: since((s) => s.leftOut),
      lineDropped: since((s) => s.lineDropped),
      unackedMs: uplink?.unackedMs ?? 0,
      kbps: uplink?.kbps ?? 0,
      share: Math.min(1, ...Object.values(session?.line.shares ?? {})),
      destinations: destinations.map((d) => ({
        id: d.id,
        name: d.name,
        kbps: d.kbps,
        dropped: Math.max(0, d.framesDropped - (dropped.get(d.id) ?? d.framesDropped)),
        lagMs: d.lagMs,
        state: d.state,
      })),
    };
    this.#before = { stage, dropped: new Map(destinations.map((d) => [d.id, d.framesDropped])) };
    this.#samples = [...this.#samples.slice(-MAX_SAMPLES + 1), sample];
    for (const listener of this.#listeners) listener();
  }

  /** A new broadcast begins. */
  clear(): void {
    this.#samples = [];
    this.#before = null;
  }
}
