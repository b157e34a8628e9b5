/** Takes the sound of the studio's computer from the server into shared memory, a steady while ahead of the mixer. */
import { sidesOf } from '../../core/sound/downmix';
import { BLOCK_FRAMES, MIXER_SAMPLE_RATE } from '../../core/sound/format';
import { LeadKeeper, stretched } from '../../core/sound/lead-keeper';
import type { InputPart } from '../../protocol/input-stream';
import { CLOCK, FileRing } from '../../protocol/shared-sound';
import type { FromComputerSound, ToComputerSound } from '../../protocol/sound-engine';
import { InputStreamClient } from '../video/sources/input-stream-client';
import { workerScope } from '../worker-scope';

/** The mixer takes sound in bursts of up to 100 ms, and what is sent comes unevenly. */
const LEAD_SECONDS = 0.16;
const LEAD_BLOCKS = Math.round((LEAD_SECONDS * MIXER_SAMPLE_RATE) / BLOCK_FRAMES);
/** Sound that begins in the middle of something comes in with a ramp. */
const RAMP_FRAMES = 240;

const tell = (message: FromComputerSound) => workerScope.postMessage(message);

class Taking {
  readonly #ring: FileRing;
  readonly #clock: Int32Array;
  readonly #keeper = new LeadKeeper(LEAD_BLOCKS * BLOCK_FRAMES);
  /** Null while it has no place. */
  #startBlock: number | null = null;
  #ramped = 0;

  constructor({ url, ring, clock }: ToComputerSound) {
    this.#ring = new FileRing(ring);
    this.#clock = new Int32Array(clock);
    new InputStreamClient(
      url,
      (part) => this.#take(part),
      (why) => this.#stop(why),
    );
  }

  #take(part: InputPart): void {
    if (part.kind === 'status') {
      const { state, message } = part.status;
      if (state === 'running') tell({ type: 'state', problem: null });
      else this.#stop(message || 'nothing comes yet');
    } else if (part.kind === 'audio') this.#hear(part.body);
  }

  #stop(problem: string): void {
    this.#ring.stop();
    this.#startBlock = null;
    tell({ type: 'state', problem });
  }

  #hear(body: Uint8Array): void {
    const [left, right] = sidesOf(body);
    const frames = left.length;
    const block = Atomics.load(this.#clock, CLOCK.block);
    const lead =
      this.#startBlock === null ? -1 : (this.#startBlock - block) * BLOCK_FRAMES + this.#ring.written;
    let length = this.#keeper.take(lead, frames);
    if (length === null) {
      this.#keeper.reset();
      this.#startBlock = block + LEAD_BLOCKS;
      this.#ring.start(this.#startBlock);
      this.#ramped = 0;
      length = frames;
    }
    const [outLeft, outRight] = [stretched(left, length), stretched(right, length)];
    for (let i = 0; i < length && this.#ramped < RAMP_FRAMES; i++, this.#ramped++) {
      outLeft[i] *= this.#ramped / RAMP_FRAMES;
      outRight[i] *= this.#ramped / RAMP_FRAMES;
    }
    this.#ring.write(outLeft, outRight, Math.min(length, this.#ring.room(block)));
  }
}

workerScope.onmessage = ({ data }: MessageEvent<ToComputerSound>) => void new Taking(data);
