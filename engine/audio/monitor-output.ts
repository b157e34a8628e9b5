/** Where settings are kept in this browser and not in the show: device ids mean nothing elsewhere. */
export type StoredOutput = 'dolomite-monitor' | 'dolomite-windows';

export interface MonitorSettings {
  /** '' is the system's default output; null is off. */
  deviceId: string | null;
  gainDb: number;
}

export const MONITOR_OFF: MonitorSettings = { deviceId: null, gainDb: -6 };

/**
 * Brings the monitor to a chosen output by an audio element of its own, so that the sound clock does not hang on a device
 * that may be pulled out.
 */
export class MonitorOutput {
  settings: MonitorSettings;
  problem: string | null = null;
  readonly #element = new Audio();

  constructor(
    readonly node: MediaStreamAudioDestinationNode,
    readonly store: StoredOutput,
    readonly onChange: () => void,
  ) {
    this.#element.srcObject = node.stream;
    this.settings = stored(store);
    void this.#apply();
    navigator.mediaDevices.addEventListener('devicechange', this.#again);
  }

  readonly #again = () => void this.#apply();

  set(settings: MonitorSettings): void {
    const moved = settings.deviceId !== this.settings.deviceId;
    this.settings = settings;
    localStorage.setItem(this.store, JSON.stringify(settings));
    if (moved) void this.#apply();
  }

  /** After a press: browsers let sound be heard only then. */
  resume(): void {
    if (this.settings.deviceId !== null && this.#element.paused) void this.#apply();
  }

  close(): void {
    navigator.mediaDevices.removeEventListener('devicechange', this.#again);
    this.#element.pause();
    this.#element.srcObject = null;
  }

  async #apply(): Promise<void> {
    const { deviceId } = this.settings;
    this.problem = null;
    if (deviceId === null) this.#element.pause();
    else
      try {
        await this.#element.setSinkId(deviceId);
        await this.#element.play();
      } catch (error) {
        const name = error instanceof DOMException ? error.name : '';
        this.problem =
          name === 'NotFoundError'
            ? 'The headphones are gone: plug them in, or choose another output'
            : name === 'NotAllowedError'
              ? 'Press anywhere: the browser lets the headphones sound only then'
              : `The output cannot be used: ${error instanceof Error ? error.message : String(error)}`;
      }
    this.onChange();
  }
}

function stored(store: StoredOutput): MonitorSettings {
  try {
    const value = JSON.parse(localStorage.getItem(store) ?? 'null') as Partial<MonitorSettings> | null;
    if (
      value &&
      (value.deviceId === null || typeof value.deviceId === 'string') &&
      typeof value.gainDb === 'number' &&
      Number.isFinite(value.gainDb)
    )
      return { deviceId: value.deviceId, gainDb: Math.min(10, Math.max(-60, value.gainDb)) };
  } catch {
    // Written by something else: begin anew.
  }
  return MONITOR_OFF;
}
