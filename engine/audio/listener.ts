import type { Cancel } from '../../core/time/clock';
import { systemClock } from '../system-clock';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { ChannelRecord } from '../../core/show/records';
import type { EchoFinding } from '../../core/sound/analysis/echo-finder';
import type { SoundcheckResult, SoundcheckTakes } from '../../core/sound/analysis/soundcheck';
import type { SpectrumMatch } from '../../core/sound/analysis/spectrum-match';
import { BLOCK_FRAMES, MIXER_SAMPLE_RATE } from '../../core/sound/format';
import type { FromListener, TakeFigures, ToListener } from '../../protocol/sound-engine';
import { CLOCK, Probe, ProgrammeRing, type SoundMemory } from '../../protocol/shared-sound';
import type { SoundDesk } from './sound-desk';

/** With several microphones the echo finder listens to each in turn for so long. */
const TURN_MS = 20_000;
const POLL_MS = 80;

type CallResult<T extends FromListener['type']> = Extract<FromListener, { type: T }>;
/** A call without its number, which is given here. */
type Call = ToListener extends infer M ? (M extends { call: number } ? Omit<M, 'call'> : never) : never;

/** The page's side of the worker that listens, and the takes it listens to. */
export class Listener {
  #worker: Worker | null = null;
  #calls = 0;
  readonly #waiting = new Map<number, (message: FromListener) => void>();
  #voices: readonly ChannelRecord[] = [];
  #turn = 0;
  /** The channel that is listened to. */
  #heard: string | null = null;
  readonly #endTurns: Cancel;
  readonly #probe: Probe;

  constructor(
    readonly memory: SoundMemory,
    readonly sound: SoundDesk,
    readonly onEcho: (finding: (EchoFinding & { channelId: string }) | null) => void,
  ) {
    this.#probe = new Probe(memory.probe);
    this.#endTurns = systemClock.every(TURN_MS, () => this.#nextTurn());
  }

  setDocument(document: ShowDocument): void {
    // Nothing but a microphone can hear the programme.
    this.#voices = recordsOf(document, 'channel').filter(
      (c) => c.source.type === 'microphone' && c.role === 'voice' && !c.muted,
    );
    if (this.#voices.length > 0 && !this.#worker) this.#say({ type: 'watchEcho', probe: this.memory.probe });
    this.#listenTo();
  }

  close(): void {
    this.#endTurns();
    this.#worker?.terminate();
  }

  /** Records the chosen channel as it comes in. @param progress 0…1 */
  recordRaw(seconds: number, progress: (share: number) => void, signal: AbortSignal): Promise<Float32Array> {
    const out = new Float32Array(seconds * MIXER_SAMPLE_RATE);
    const start = this.#probe.blocks;
    return this.#until(
      () => (this.#probe.blocks - start) * BLOCK_FRAMES,
      out.length,
      progress,
      signal,
      () => {
        this.#probe.read('raw', out, start + Math.ceil(out.length / BLOCK_FRAMES));
        return out;
      },
    );
  }

  /** Records the programme as viewers would hear it. @param progress 0…1 */
  async recordProgramme(
    seconds: number,
    progress: (share: number) => void,
    signal: AbortSignal,
  ): Promise<{ left: Float32Array; right: Float32Array }> {
    const clock = new Int32Array(this.memory.clock);
    const ring = new ProgrammeRing(this.memory.ring);
    const blocks = Math.ceil((seconds * MIXER_SAMPLE_RATE) / BLOCK_FRAMES);
    const planar = new Float32Array(blocks * BLOCK_FRAMES * 2);
    let next = Atomics.load(clock, CLOCK.block);
    const start = next;
    return this.#until(
      () => {
        const end = Math.min(Atomics.load(clock, CLOCK.block), start + blocks);
        next = Math.max(next, ProgrammeRing.oldest(end));
        for (; next < end; next++) ring.read(next, planar, (next - start) * BLOCK_FRAMES);
        return end - start;
      },
      blocks,
      progress,
      signal,
      () => ({ left: planar.slice(0, planar.length / 2), right: planar.slice(planar.length / 2) }),
    );
  }

  async soundcheck(takes: SoundcheckTakes, targetLufs: number): Promise<SoundcheckResult> {
    const noise = this.sound.noiseModule;
    return (await this.#call<'soundcheck'>({ type: 'soundcheck', takes, targetLufs, noise })).result;
  }

  async match(
    reference: Float32Array,
    voice: Float32Array,
    { chain, trimDb }: ChannelRecord,
  ): Promise<SpectrumMatch> {
    const noise = this.sound.noiseModule;
    return (await this.#call<'match'>({ type: 'match', reference, voice, chain, trimDb, noise })).result;
  }

  async measure(left: Float32Array, right: Float32Array): Promise<TakeFigures> {
    return (await this.#call<'measure'>({ type: 'measure', left, right })).figures;
  }

  /** Waits until `reached` has come to `goal`. @throws Error when the sound stands still, or the user cancels */
  #until<T>(
    reached: () => number,
    goal: number,
    progress: (share: number) => void,
    signal: AbortSignal,
    done: () => T,
  ): Promise<T> {
    return new Promise((resolve, reject) => {
      let last = 0;
      let moved = systemClock.nowMs();
      const cancel = systemClock.every(POLL_MS, () => {
        const now = reached();
        progress(Math.min(1, now / goal));
        if (now > last) {
          last = now;
          moved = systemClock.nowMs();
        }
        const standing = systemClock.nowMs() - moved > 3000;
        if (now < goal && !signal.aborted && !standing) return;
        cancel();
        if (signal.aborted) reject(new Error('cancelled'));
        else if (now < goal)
          reject(new Error('The sound stands still: press anywhere to start it, then try again.'));
        else resolve(done());
      });
    });
  }

  #call<T extends FromListener['type']>(message: Call): Promise<CallResult<T>> {
    const call = ++this.#calls;
    return new Promise((resolve, reject) => {
      this.#waiting.set(call, (answer) => {
        if (answer.type === 'failed') reject(new Error(answer.message));
        else resolve(answer as CallResult<T>);
      });
      this.#say({ ...message, call } as ToListener);
    });
  }

  #say(message: ToListener): void {
    if (!this.#worker) {
      this.#worker = new Worker(new URL('./listener.worker.ts', import.meta.url), {
        type: 'module',
        name: 'listener',
      });
      this.#worker.onmessage = ({ data }: MessageEvent<FromListener>) => {
        if (data.type === 'echo') return this.#echo(data.finding);
        this.#waiting.get(data.call)?.(data);
        this.#waiting.delete(data.call);
      };
      // It watches until it is ended, and sleeps while there is nothing to listen to.
      if (message.type !== 'watchEcho')
        this.#worker.postMessage({ type: 'watchEcho', probe: this.memory.probe });
    }
    this.#worker.postMessage(message);
  }

  #echo(finding: EchoFinding | null): void {
    const channel = this.#listening();
    this.onEcho(finding && channel ? { ...finding, channelId: channel.id } : null);
  }

  #listening(): ChannelRecord | null {
    return this.#voices.length === 0 ? null : this.#voices[this.#turn % this.#voices.length];
  }

  #nextTurn(): void {
    if (this.#voices.length < 2) return;
    this.#turn += 1;
    this.#listenTo();
  }

  #listenTo(): void {
    const id = this.#listening()?.id ?? null;
    // What was found in a microphone that is muted or gone no longer concerns anybody.
    if (id !== this.#heard) this.onEcho(null);
    this.#heard = id;
    this.sound.setEcho(id);
  }
}
