import { sleep } from '../../../core/time/clock';
import { systemClock } from '../../system-clock';
import { messageOf } from '../../../core/fault';
import type { Rect } from '../../../core/geometry/rect';
import { fileAt, type ListOrder } from '../../../core/scene/file-order';
import type { ClipsInput } from '../../../core/show/inputs/clips';
import { MIXER_SAMPLE_RATE } from '../../../core/sound/format';
import { Resampler } from '../../../core/sound/resampler';
import type { ClipsOrder, InputState, Played } from '../../../protocol/engine';
import { BLOCK, FileRing } from '../../../protocol/shared-sound';
import { channelsOf, openClip, type Clip } from './clip';
import type { DrawContext, PictureSource } from './picture-source';

/** Pictures decoded ahead. Each holds a decoder's buffer; decoders have about a dozen. */
const AHEAD_PICTURES = 5;
/** A jump to the end leaves so much to be seen. */
const END_MARGIN_SECONDS = 0.1;
/** Time to have the first sound ready before the clip starts; the first picture is there before. */
const START_SECONDS = 0.15;

export interface ClipsOptions {
  order: ListOrder;
  atEnd: ClipsInput['atEnd'];
  start: ClipsInput['start'];
}

/** One run through the clips; a rewind ends it and begins another. */
interface Run {
  stopped: boolean;
  /** Opened clips by their place in the row; a place whose clip could not be opened holds null. */
  clips: Map<number, Promise<Clip | null>>;
  queue: { at: number; frame: VideoFrame }[];
  /** Media seconds it begins at. */
  from: number;
  /** Begins as soon as it can. */
  starts: boolean;
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
  /** The picture that stands there is of another place: the first one that comes takes it. */
  #stale = true;
  /** How long the whole row is, seconds; null until all of it was looked at. */
  #length: number | null = null;
  #wake: (() => void) | null = null;
  readonly #problems = new Map<number, string>();

  constructor(
    readonly files: readonly { name: string; url: string }[],
    readonly options: ClipsOptions,
    readonly onEnd: () => void,
  ) {
    this.#run = this.#begin(0, options.start === 'always');
  }

  get played(): Played {
    const { startedAt, from } = this.#run;
    const seconds = this.#media ?? from;
    return {
      seconds: this.#length === null ? seconds : this.#inRow(seconds),
      length: this.#length,
      playing: startedAt !== null && !this.#ended,
    };
  }

  /** What a hand wants of it, on air or off. */
  obey(order: ClipsOrder): void {
    if (this.state === 'failed') return;
    const { startedAt, from } = this.#run;
    const playing = startedAt !== null && !this.#ended;
    if (order.do === 'play') {
      if (playing) return;
      if (this.#ended) this.#goTo(0, true);
      else this.#start(this.#seconds);
    } else if (order.do === 'pause') {
      if (!playing) return;
      const at = this.#inRow(this.#media ?? from);
      this.#goTo(at, false);
      this.#stale = false;
    } else {
      const { toSeconds } = order;
      const last = this.#length ?? Infinity;
      const to = toSeconds >= 0 ? toSeconds : this.#length === null ? 0 : last + toSeconds;
      this.#goTo(Math.max(0, Math.min(to, last - END_MARGIN_SECONDS)), playing);
    }
  }

  /** Media seconds of this picture; null while nothing runs. */
  get #media(): number | null {
    const { startedAt, from, endsAt } = this.#run;
    if (startedAt === null) return null;
    return Math.min(endsAt ?? Infinity, from + Math.max(0, this.#seconds - startedAt));
  }

  /** Where that is within one round of the row. */
  #inRow(media: number): number {
    return this.options.atEnd === 'loop' && this.#length ? media % this.#length : media;
  }

  #goTo(media: number, playing: boolean): void {
    this.#end(this.#run);
    this.#stale = true;
    this.#run = this.#begin(media, playing);
  }

  get caughtUp(): boolean {
    const { queue, endsAt, startedAt } = this.#run;
    if (this.state === 'failed' || endsAt !== null) return true;
    if (startedAt === null) return !this.#stale || queue.length > 0;
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
      // Waiting for its scene, or paused: the first picture stands ready.
      if (this.#stale && run.queue.length > 0) this.#show(run.queue.shift()!.frame);
      return;
    }
    const media = run.from + seconds - run.startedAt;
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
    this.#stale = false;
    this.version += 1;
  }

  #begin(from: number, starts: boolean): Run {
    const run: Run = {
      ...{ stopped: false, clips: new Map(), queue: [], from, starts, startedAt: null, endsAt: null },
    };
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
    if (this.#run.startedAt === null && this.#run.from === 0) return;
    this.#goTo(0, false);
    this.#shown?.close();
    this.#shown = null;
    this.version += 1;
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
    if (run.starts) this.#start(this.#seconds);
    if (this.#length === null) void this.#measure(run);
    const pictures = this.#walk(run, async (next, base, skip) => {
      for await (const sample of next.pictures.samples(skip)) {
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
    const sound = this.#walk(run, async (next, base, skip, place) => {
      if (next.sound) frames = await this.#playSound(run, next.sound, base, skip, frames);
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

  /** Looks how long the row is, by the heads of its files. */
  async #measure(run: Run): Promise<void> {
    let seconds = 0;
    for (let file = 0; file < this.files.length; file++) {
      if (run.stopped) return;
      try {
        const clip = await openClip(this.files[file].url);
        seconds += clip.seconds;
        clip.input.dispose();
      } catch {
        // It is passed over when its turn comes, and said then.
      }
    }
    this.#length = seconds;
  }

  /**
   * Goes through the row of clips, opening each next one while the present one runs.
   * @param play `skip`: seconds of the clip that lie before where the run begins @returns seconds in all
   */
  async #walk(
    run: Run,
    play: (clip: Clip, base: number, skip: number, place: number) => Promise<void>,
  ): Promise<number> {
    let base = 0;
    const rounds = this.options.atEnd === 'loop' ? Infinity : 1;
    for (let place = 0; place < rounds * this.files.length && !run.stopped; place++) {
      const clip = await this.#clipAt(run, place);
      if (run.stopped) break;
      if (!clip) continue;
      if (place + 1 < rounds * this.files.length) void this.#clipAt(run, place + 1);
      const skip = Math.max(0, run.from - base);
      if (skip < clip.seconds || clip.seconds <= 0) await play(clip, base, skip, place);
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
    skipSeconds: number,
    frames: number,
  ): Promise<number> {
    const left = new Resampler(sampleRate, MIXER_SAMPLE_RATE);
    const right = new Resampler(sampleRate, MIXER_SAMPLE_RATE);
    let written = frames;
    for await (const sample of sink.samples(skipSeconds)) {
      const [l, r] = channelsOf(sample);
      const startsAt = base + sample.timestamp - run.from;
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
