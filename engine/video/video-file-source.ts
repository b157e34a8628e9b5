import {
  ALL_FORMATS,
  AudioSampleSink,
  Input,
  UrlSource,
  VideoSampleSink,
  type AudioSample,
  type VideoSample,
} from 'mediabunny';
import { messageOf } from '../../core/fault';
import { MIXER_SAMPLE_RATE } from '../../core/sound/mixer';
import { Resampler } from '../../core/sound/resampler';
import type { InputState } from '../../protocol/engine';
import { BLOCK, FileRing } from '../../protocol/shared-sound';
import type { DrawContext, PartRect, PictureSource } from './picture-source';

/** Pictures decoded ahead. Each holds a decoder's buffer; decoders have about a dozen. */
const AHEAD_PICTURES = 5;
/** Time to have the first pictures and sound ready before the clip starts. */
const START_SECONDS = 0.4;

/** A video file: decoded here by WebCodecs, shown by programme time, its sound put into shared memory for the mixer. */
export class VideoFileSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'loading';
  width = 0;
  height = 0;
  hasSound = false;
  #queue: { at: number; frame: VideoFrame }[] = [];
  #shown: VideoFrame | null = null;
  #startedAt: number | null = null;
  #ring: FileRing | null = null;
  #closed = false;
  #seconds = 0;
  #wake: (() => void) | null = null;
  #input: Input | null = null;

  constructor(
    url: string,
    readonly loop: boolean,
  ) {
    this.#open(url).catch((error: unknown) => this.#fail(error));
  }

  /** Memory for the sound; may come before or after the file is open. */
  attachSound(buffer: SharedArrayBuffer): void {
    this.#ring = new FileRing(buffer);
    if (this.#startedAt !== null) this.#ring.start(this.#startBlock());
  }

  advance(seconds: number): void {
    this.#seconds = seconds;
    if (this.#startedAt === null) return;
    const media = seconds - this.#startedAt;
    while (this.#queue.length > 0 && this.#queue[0].at <= media) {
      this.#shown?.close();
      this.#shown = this.#queue.shift()!.frame;
    }
    if (this.#queue.length < AHEAD_PICTURES) this.#wake?.();
  }

  draw(context: DrawContext, part: PartRect, width: number, height: number): void {
    if (this.#shown)
      context.drawImage(this.#shown, part.x, part.y, part.width, part.height, 0, 0, width, height);
  }

  close(): void {
    this.#closed = true;
    this.#ring?.stop();
    this.#wake?.();
    for (const { frame } of this.#queue) frame.close();
    this.#queue = [];
    this.#shown?.close();
    this.#shown = null;
    this.#input?.dispose();
  }

  #fail(error: unknown): void {
    if (this.#closed) return;
    this.state = 'failed';
    this.message = `cannot be played: ${messageOf(error)}`;
  }

  #startBlock(): number {
    return Math.round(((this.#startedAt ?? 0) * MIXER_SAMPLE_RATE) / BLOCK);
  }

  async #open(url: string): Promise<void> {
    const input = new Input({ source: new UrlSource(url), formats: ALL_FORMATS });
    this.#input = input;
    const video = await input.getPrimaryVideoTrack();
    if (!video) throw new Error('there is no picture in this file');
    if (!(await video.canDecode()))
      throw new Error(
        `this browser cannot decode ${video.codec ?? 'its codec'}: bring it in as H.264 or VP9`,
      );
    const audio = await input.getPrimaryAudioTrack();
    const playsSound = audio !== null && (await audio.canDecode());
    this.width = video.displayWidth;
    this.height = video.displayHeight;
    this.hasSound = playsSound;
    const duration = await input.computeDuration();
    if (this.#closed) return;
    // Whole blocks, so that sound and picture start on the same sample.
    const block = Math.ceil(((this.#seconds + START_SECONDS) * MIXER_SAMPLE_RATE) / BLOCK);
    this.#startedAt = (block * BLOCK) / MIXER_SAMPLE_RATE;
    this.#ring?.start(block);
    this.state = 'ready';
    this.message = '';
    const work = [this.#playPictures(new VideoSampleSink(video), duration)];
    if (playsSound) work.push(this.#playSound(new AudioSampleSink(audio), duration, audio.sampleRate));
    await Promise.all(work);
  }

  async #playPictures(sink: VideoSampleSink, duration: number): Promise<void> {
    for (let round = 0; !this.#closed; round++) {
      for await (const sample of sink.samples()) {
        await this.#roomForPicture();
        if (this.#closed) return sample.close();
        this.#queue.push({ at: round * duration + Math.max(0, sample.timestamp), frame: frameOf(sample) });
      }
      if (!this.loop || duration <= 0) return;
    }
  }

  async #roomForPicture(): Promise<void> {
    while (!this.#closed && this.#queue.length >= AHEAD_PICTURES)
      await new Promise<void>((resolve) => (this.#wake = resolve));
  }

  async #playSound(sink: AudioSampleSink, duration: number, sampleRate: number): Promise<void> {
    let left = new Resampler(sampleRate, MIXER_SAMPLE_RATE);
    let right = new Resampler(sampleRate, MIXER_SAMPLE_RATE);
    let frames = 0;
    for (let round = 0; !this.#closed; round++) {
      for await (const sample of sink.samples()) {
        const [l, r] = channelsOf(sample);
        const startsAt = round * duration + sample.timestamp;
        sample.close();
        const outL = new Float32Array(left.capacity(l.length));
        const outR = new Float32Array(right.capacity(r.length));
        const count = left.process(l, outL);
        right.process(r, outR);
        // A file's sound may start late or have holes: fill them, so that it stays with the picture.
        const gap = Math.round(startsAt * MIXER_SAMPLE_RATE) - frames;
        if (gap > BLOCK) frames += await this.#writeSound(new Float32Array(gap), new Float32Array(gap), gap);
        const skip = Math.min(count, Math.max(0, -gap - BLOCK));
        frames += await this.#writeSound(outL.subarray(skip), outR.subarray(skip), count - skip);
        if (this.#closed) return;
      }
      if (!this.loop || duration <= 0) return;
      left = new Resampler(sampleRate, MIXER_SAMPLE_RATE);
      right = new Resampler(sampleRate, MIXER_SAMPLE_RATE);
    }
  }

  async #writeSound(left: Float32Array, right: Float32Array, count: number): Promise<number> {
    let from = 0;
    while (from < count && !this.#closed) {
      const ring = this.#ring;
      const room = ring ? ring.room(Math.floor((this.#seconds * MIXER_SAMPLE_RATE) / BLOCK)) : 0;
      const take = Math.min(room, count - from);
      if (ring && take > 0) {
        ring.write(left.subarray(from, from + take), right.subarray(from, from + take), take);
        from += take;
      } else await new Promise((resolve) => setTimeout(resolve, 30));
    }
    return count;
  }
}

function frameOf(sample: VideoSample): VideoFrame {
  const frame = sample.toVideoFrame();
  sample.close();
  return frame;
}

function channelsOf(sample: AudioSample): [Float32Array, Float32Array] {
  const plane = (index: number) => {
    const data = new Float32Array(sample.numberOfFrames);
    sample.copyTo(data, { planeIndex: index, format: 'f32-planar' });
    return data;
  };
  const left = plane(0);
  return [left, sample.numberOfChannels > 1 ? plane(1) : left];
}
