/** The sound thread's shell: the browser calls it for each block. */
import type { ToMixer } from '../../protocol/sound-engine';
import type { SoundMemory } from '../../protocol/shared-sound';
import { SoundThread } from './sound-thread';

// The worklet's global scope has no types in the DOM library.
declare const registerProcessor: (name: string, processor: unknown) => void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

class MixerProcessor extends AudioWorkletProcessor {
  readonly #thread: SoundThread;

  constructor(options: { processorOptions: { sound: SoundMemory; noise: ArrayBuffer | null } }) {
    super();
    const { sound, noise } = options.processorOptions;
    // There is no finer clock in a worklet.
    this.#thread = new SoundThread(sound, noise, Date.now);
    this.port.onmessage = ({ data }: MessageEvent<ToMixer>) => this.#thread.obey(data);
  }

  process(inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    this.#thread.render(inputs, outputs);
    return true;
  }
}

registerProcessor('dolomite-mixer', MixerProcessor);
