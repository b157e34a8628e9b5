import type { ChannelRecord } from '../../core/show/records';
import { FileRing } from '../../protocol/shared-sound';
import type { FromComputerSound, ToComputerSound } from '../../protocol/sound-engine';

interface Sounding {
  worker: Worker;
  ring: SharedArrayBuffer;
}

/** A worker for each channel that has the sound of the studio's computer. */
export class ComputerSounds {
  readonly #sounding = new Map<string, Sounding>();

  constructor(
    readonly clock: SharedArrayBuffer,
    readonly tell: (channelId: string, problem: string | null) => void,
  ) {}

  /** @returns the memory the channel's sound is in */
  ringOf(channelId: string): SharedArrayBuffer {
    let sounding = this.#sounding.get(channelId);
    if (!sounding) {
      const worker = new Worker(new URL('./computer-sound.worker.ts', import.meta.url), {
        type: 'module',
        name: 'computer-sound',
      });
      sounding = { worker, ring: FileRing.create().buffer };
      this.#sounding.set(channelId, sounding);
      worker.onmessage = ({ data }: MessageEvent<FromComputerSound>) => this.tell(channelId, data.problem);
      worker.postMessage({
        type: 'take',
        url: new URL(`/files/sounds/${encodeURIComponent(channelId)}`, location.origin).href,
        ring: sounding.ring,
        clock: this.clock,
      } satisfies ToComputerSound);
    }
    return sounding.ring;
  }

  /** Lets go of those that are not there any more, or have another sound now. */
  update(channels: readonly ChannelRecord[]): void {
    for (const [id, { worker }] of this.#sounding)
      if (!channels.some((c) => c.id === id && c.source.type === 'computer')) {
        worker.terminate();
        this.#sounding.delete(id);
        this.tell(id, null);
      }
  }

  close(): void {
    for (const { worker } of this.#sounding.values()) worker.terminate();
    this.#sounding.clear();
  }
}
