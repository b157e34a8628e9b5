import { sleep } from '../../../core/time/clock';
import { systemClock } from '../../system-clock';
import { messageOf } from '../../../core/fault';
import type { Rect } from '../../../core/geometry/rect';
import { fileAt, type ListOrder } from '../../../core/scene/file-order';
import type { CLIP_ENDS, CLIP_STARTS } from '../../../core/show/records';
import { MIXER_SAMPLE_RATE } from '../../../core/sound/format';
import { Resampler } from '../../../core/sound/resampler';
import type { InputState } from '../../../protocol/engine';
import { BLOCK, FileRing } from '../../../protocol/shared-sound';
import { channelsOf, openClip, type Clip } from './clip';
import type { DrawContext, PictureSource } from './picture-source';

/** Pictures decoded ahead. Each holds a decoder's buffer; decoders have about a dozen. */
const AHEAD_PICTURES = 5;
/** Time to have the first sound ready before the clip starts; the first picture is there before. */
const START_SECONDS = 0.15;

export interface ClipsOptions {
  order: ListOrder;
  atEnd: (typeof CLIP_ENDS)[number];
  start: (typeof CLIP_STARTS)[number];
}

/** One run through the clips; a rewind ends it and begins another. */
interface Run {
  stopped: boolean;
  /** Opened clips by their place in the row; a place whose clip could not be opened holds null. */
  clips: Map<number, Promise<Clip | null>>;
  queue: { at: number; frame: VideoFrame }[];
  startedAt: number | null;
  /** Media seconds at which everything has been shown; null while there is more. */
  endsAt: number | null;
}

/**
 * Video files played back to back without a gap: decoded here by WebCodecs, shown by programme time, their sound put
 * into shared memory for the mixer.
 */
export class ClipsSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'loading';
  width = 0;
  height = 0;
  hasSound = false;
  version = 0;
  #run: Run;
  #shown: VideoFrame | null = null;
  #ring: FileRing | null = null;
  #ended = false;
  #seconds = 0;
  #wake: (() => void) | null = null;
  readonly #problems = new Map<number, string>();

  constructor(
    readonly files: readonly { name: string; url: string }[],
    readonly options: ClipsOptions,
    readonly onEnd: () => void,
  ) {
    this.#run = this.#begin();
  }

  get caughtUp(): boolean {
    const { queue, endsAt, startedAt } = this.#run;
    if (this.state === 'failed' || endsAt !== null) return true;
    if (startedAt === null) return this.#shown !== null || queue.length > 0;
    return queue.length >= AHEAD_PICTURES;
  }

  /** Memory for the sound; may come before or after the file is open. */
  attachSound(buffer: SharedArrayBuffer): void {
    this.#ring = new FileRing(buffer);
    if (this.#run.startedAt !== null) this.#ring.start(startBlock(this.#run.startedAt));
  }

  setOnAir(onAir: boolean, seconds: number): void {
    if (this.options.start !== 'on-air') return;
    if (onAir) this.#start(seconds);
    else this.#rewind();
  }

  advance(seconds: number): void {
    this.#seconds = seconds;
    const run = this.#run;
    if (run.startedAt === null) {
      // Waiting for its scene: the first picture stands ready.
      if (this.#shown === null && run.queue.length > 0) this.#show(run.queue.shift()!.frame);
      return;
    }
    const media = seconds - run.startedAt;
    while (run.queue.length > 0 && run.queue[0].at <= media) this.#show(run.queue.shift()!.frame);
    if (run.queue.length < AHEAD_PICTURES) this.#wake?.();
    if (!this.#ended && run.endsAt !== null && media >= run.endsAt) {
      this.#ended = true;
      this.onEnd();
    }
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    if (!this.#shown) return;
    // Clips of another size than the first one are stretched into its picture.
    const sx = this.#shown.displayWidth / this.width;
    const sy = this.#shown.displayHeight / this.height;
    context.drawImage(
      this.#shown,
      part.x * sx,
      part.y * sy,
      part.width * sx,
      part.height * sy,
      0,
      0,
      width,
      height,
    );
  }

  frame(): VideoFrame | null {
    const shown = this.#shown;
    // Clips of another size than the first one are stretched.
    return shown?.displayWidth === this.width && shown.displayHeight === this.height ? shown : null;
  }

  close(): void {
    this.#end(this.#run);
    this.#shown?.close();
    this.#shown = null;
  }

  #show(frame: VideoFrame): void {
    this.#shown?.close();
    this.#shown = frame;
    this.version += 1;
  }

  #begin(): Run {
    const run: Run = { stopped: false, clips: new Map(), queue: [], startedAt: null, endsAt: null };
    this.#ended = false;
    this.#play(run).catch((error: unknown) => {
      if (!run.stopped) this.#fail(`cannot be played: ${messageOf(error)}`);
    });
    return run;
  }

  #end(run: Run): void {
    run.stopped = true;
    this.#ring?.stop();
    this.#wake?.();
    for (const { frame } of run.queue) frame.close();
    run.queue = [];
    for (const clip of run.clips.values()) void clip.then((c) => c?.input.dispose());
    run.clips.clear();
  }

  #rewind(): void {
    if (this.#run.startedAt === null) return;
    this.#end(this.#run);
    this.#shown?.close();
    this.#shown = null;
    this.version += 1;
    this.#run = this.#begin();
  }

  #start(seconds: number): void {
    const run = this.#run;
    if (run.startedAt !== null || this.state === 'failed') return;
    // Whole blocks, so that sound and picture start on the same sample.
    const block = Math.ceil(((seconds + START_SECONDS) * MIXER_SAMPLE_RATE) / BLOCK);
    run.startedAt = (block * BLOCK) / MIXER_SAMPLE_RATE;
    this.#ring?.start(block);
    // The picture that stood ready has left its place to another one.
    this.#wake?.();
  }

  #fail(message: string): void {
    this.state = 'failed';
    this.message = message;
    this.version += 1;
  }

  /** The clip at a place of the row; null when it cannot be played, which is said and passed over. */
  #clipAt(run: Run, place: number): Promise<Clip | null> {
    let clip = run.clips.get(place);
    if (!clip) {
      const file = fileAt(place, this.files.length, this.options.order, this.files.length);
      clip = openClip(this.files[file].url).catch((error: unknown) => {
        const name = this.files.length > 1 ? `"${this.files[file].name}" ` : '';
        this.#problems.set(file, `${name}cannot be played: ${messageOf(error)}`);
        return null;
      });
      run.clips.set(place, clip);
    }
    return clip;
  }

  #forget(run: Run, place: number): void {
    void run.clips.get(place)?.then((clip) => clip?.input.dispose());
    run.clips.delete(place);
  }

  async #play(run: Run): Promise<void> {
    const first = await this.#firstClip(run);
    if (run.stopped) return;
    if (!first) return this.#fail([...this.#problems.values()][0] ?? 'there is nothing to play');
    const { clip } = first;
    this.width = clip.width;
    this.height = clip.height;
    this.hasSound = clip.sound !== null;
    this.state = 'ready';
    this.message = [...this.#problems.values()][0] ?? '';
    if (this.options.start === 'always') this.#start(this.#seconds);
    const pictures = this.#walk(run, async (next, base) => {
      for await (const sample of next.pictures.samples()) {
        await this.#roomForPicture(run);
        if (run.stopped) return sample.close();
        const frame = sample.toVideoFrame();
        const at = base + Math.max(0, sample.timestamp);
        sample.close();
        run.queue.push({ at, frame });
      }
    }).then((total) => {
      if (!run.stopped) run.endsAt = total;
    });
    let frames = 0;
    const sound = this.#walk(run, async (next, base, place) => {
      if (next.sound) frames = await this.#playSound(run, next.sound, base, frames);
      // Both walks are past the clip before this one only when the slower of them is.
      if (place > 0) await pictureReached(run, base);
      if (place > 0) this.#forget(run, place - 1);
    });
    await Promise.all([pictures, sound]);
  }

  async #firstClip(run: Run): Promise<{ clip: Clip } | null> {
    for (let place = 0; place < this.files.length && !run.stopped; place++) {
      const clip = await this.#clipAt(run, place);
      if (clip) return { clip };
    }
    return null;
  }

  /** Goes through the row of clips, opening each next one while the present one runs. @returns seconds in all */
  async #walk(run: Run, play: (clip: Clip, base: number, place: number) => Promise<void>): Promise<number> {
    let base = 0;
    const rounds = this.options.atEnd === 'loop' ? Infinity : 1;
    for (let place = 0; place < rounds * this.files.length && !run.stopped; place++) {
      const clip = await this.#clipAt(run, place);
      if (run.stopped) break;
      if (!clip) continue;
      if (place + 1 < rounds * this.files.length) void this.#clipAt(run, place + 1);
      await play(clip, base, place);
      if (clip.seconds <= 0) break;
      base += clip.seconds;
    }
    return base;
  }

  async #roomForPicture(run: Run): Promise<void> {
    while (!run.stopped && run.queue.length >= AHEAD_PICTURES)
      await new Promise<void>((resolve) => (this.#wake = resolve));
  }

  /** @param frames written so far @returns frames written in all */
  async #playSound(
    run: Run,
    { sink, sampleRate }: NonNullable<Clip['sound']>,
    base: number,
    frames: number,
  ): Promise<number> {
    const left = new Resampler(sampleRate, MIXER_SAMPLE_RATE);
    const right = new Resampler(sampleRate, MIXER_SAMPLE_RATE);
    let written = frames;
    for await (const sample of sink.samples()) {
      const [l, r] = channelsOf(sample);
      const startsAt = base + sample.timestamp;
      sample.close();
      const outL = new Float32Array(left.capacity(l.length));
      const outR = new Float32Array(right.capacity(r.length));
      const count = left.process(l, outL);
      right.process(r, outR);
      // A file's sound may start late or have holes: fill them, so that it stays with the picture.
      const gap = Math.round(startsAt * MIXER_SAMPLE_RATE) - written;
      if (gap > BLOCK)
        written += await this.#writeSound(run, new Float32Array(gap), new Float32Array(gap), gap);
      const skip = Math.min(count, Math.max(0, -gap - BLOCK));
      written += await this.#writeSound(run, outL.subarray(skip), outR.subarray(skip), count - skip);
      if (run.stopped) break;
    }
    return written;
  }

  async #writeSound(run: Run, left: Float32Array, right: Float32Array, count: number): Promise<number> {
    let from = 0;
    while (from < count && !run.stopped) {
      const ring = run.startedAt === null ? null : this.#ring;
      const room = ring ? ring.room(Math.floor((this.#seconds * MIXER_SAMPLE_RATE) / BLOCK)) : 0;
      const take = Math.min(room, count - from);
      if (ring && take > 0) {
        ring.write(left.subarray(from, from + take), right.subarray(from, from + take), take);
        from += take;
      } else await sleep(systemClock, 30);
    }
    return count;
  }
}

/** Resolves when the pictures shown have got to `base`, so that nothing of the clip before is needed any more. */
async function pictureReached(run: Run, base: number): Promise<void> {
  while (!run.stopped && !(run.queue.length > 0 && run.queue[0].at >= base) && run.endsAt === null)
    await sleep(systemClock, 100);
}

function startBlock(seconds: number): number {
  return Math.round((seconds * MIXER_SAMPLE_RATE) / BLOCK);
}
