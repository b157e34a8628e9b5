/** Plays a list of sound files one after the other into shared memory, without a gap. */
import { sleep } from '../../core/time/clock';
import { systemClock } from '../system-clock';
import { ALL_FORMATS, AudioSampleSink, Input, UrlSource } from 'mediabunny';
import { messageOf } from '../../core/fault';
import { fileAt } from '../../core/scene/file-order';
import { BLOCK_FRAMES, MIXER_SAMPLE_RATE } from '../../core/sound/format';
import { Resampler } from '../../core/sound/resampler';
import type { FromMusic, ToMusic } from '../../protocol/sound-engine';
import { CLOCK, FileRing } from '../../protocol/shared-sound';
import { channelsOf } from '../video/sources/clip';
import { workerScope } from '../worker-scope';

/** Time to have the first sound ready. */
const START_BLOCKS = Math.round((0.25 * MIXER_SAMPLE_RATE) / BLOCK_FRAMES);
const WAIT_MS = 40;

type Files = Extract<ToMusic, { type: 'files' }>;

const tell = (message: FromMusic) => workerScope.postMessage(message);

/** One playing of the list; stopping ends it for good. */
class Playing {
  stopped = false;
  #skipped = false;
  readonly #ring: FileRing;
  readonly #clock: Int32Array;

  constructor(
    readonly list: Files,
    { ring, clock }: Extract<ToMusic, { type: 'play' }>,
    readonly from: number,
  ) {
    this.#ring = new FileRing(ring);
    this.#clock = new Int32Array(clock);
  }

  skip(): void {
    this.#skipped = true;
  }

  stop(): void {
    this.stopped = true;
    this.#ring.stop();
  }

  get #block(): number {
    return Atomics.load(this.#clock, CLOCK.block);
  }

  async run(): Promise<void> {
    const { files, order, loop, seed } = this.list;
    this.#ring.start(this.#block + START_BLOCKS);
    let failed = 0;
    for (let n = this.from; (loop || n < files.length) && !this.stopped; n++) {
      const place = fileAt(n, files.length, order, seed);
      const file = files[place];
      this.#skipped = false;
      try {
        tell({ type: 'now', place, name: file.name });
        await this.#play(file.url);
        failed = 0;
      } catch (error) {
        failed += 1;
        tell({ type: 'problem', message: `"${file.name}" cannot be played: ${messageOf(error)}` });
        if (failed >= files.length) break;
      }
    }
    if (this.stopped) return;
    await this.#drained();
    if (!this.stopped) tell({ type: 'ended' });
  }

  async #play(url: string): Promise<void> {
    const input = new Input({ source: new UrlSource(url), formats: ALL_FORMATS });
    try {
      const track = await input.getPrimaryAudioTrack();
      if (!track) throw new Error('there is no sound in it');
      if (!(await track.canDecode()))
        throw new Error(`this browser cannot decode ${track.codec ?? 'its codec'}`);
      tell({ type: 'length', seconds: await track.computeDuration() });
      const left = new Resampler(track.sampleRate, MIXER_SAMPLE_RATE);
      const right = new Resampler(track.sampleRate, MIXER_SAMPLE_RATE);
      for await (const sample of new AudioSampleSink(track).samples()) {
        const [l, r] = channelsOf(sample);
        sample.close();
        const outLeft = new Float32Array(left.capacity(l.length));
        const outRight = new Float32Array(right.capacity(r.length));
        const count = left.process(l, outLeft);
        right.process(r, outRight);
        await this.#write(outLeft, outRight, count);
        if (this.stopped || this.#skipped) break;
      }
    } finally {
      input.dispose();
    }
  }

  async #write(left: Float32Array, right: Float32Array, count: number): Promise<void> {
    let from = 0;
    while (from < count && !this.stopped && !this.#skipped) {
      // A sound thread that stood still, or a computer that was asleep, is ahead of what was written.
      if (this.#ring.behind(this.#block)) this.#ring.start(this.#block + START_BLOCKS);
      const take = Math.min(this.#ring.room(this.#block), count - from);
      if (take > 0) {
        this.#ring.write(left.subarray(from, from + take), right.subarray(from, from + take), take);
        from += take;
      } else await sleep(systemClock, WAIT_MS);
    }
  }

  /** Waits until what was written has been heard. */
  async #drained(): Promise<void> {
    while (!this.stopped && !this.#ring.behind(this.#block)) await sleep(systemClock, WAIT_MS);
  }
}

let list: Files | null = null;
let order: Extract<ToMusic, { type: 'play' }> | null = null;
let playing: Playing | null = null;

function start(from: number): void {
  playing?.stop();
  playing = list && order && list.files.length > 0 ? new Playing(list, order, from) : null;
  playing?.run().catch((error: unknown) => tell({ type: 'problem', message: messageOf(error) }));
}

workerScope.onmessage = ({ data }: MessageEvent<ToMusic>) => {
  switch (data.type) {
    case 'files':
      list = data;
      if (playing) start(0);
      return;
    case 'play':
      order = data;
      return start(0);
    case 'skip':
      return playing?.skip();
    case 'stop':
      playing?.stop();
      playing = null;
  }
};
