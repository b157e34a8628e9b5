import { systemClock } from '../../system-clock';
import type { Rect } from '../../../core/geometry/rect';
import { DueQueue } from '../../../core/media/due-queue';
import { FeedPlayout } from '../../../core/media/feed-playout';
import { readFeedTag } from '../../../core/media/feed-tags';
import { stereoOf } from '../../../core/sound/downmix';
import type { InputState } from '../../../protocol/engine';
import type { InputPart } from '../../../protocol/input-stream';
import { FeedDecoder } from './feed-decoder';
import { InputStreamClient } from './input-stream-client';
import type { DrawContext, PictureSource } from './picture-source';
import { PlacedSound } from './placed-sound';

/** Without a part for this long the feed stands still, and that is said. */
const STILL_SECONDS = 1.5;
/** Decoded pictures that wait: the buffer at 60 a second. */
const MAX_WAITING = 48;

/** A network feed: decoded here, played by the programme's time, its sound put into shared memory for the mixer. */
export class FeedSource implements PictureSource {
  state: InputState['state'] = 'waiting';
  message = 'is being reached';
  width = 0;
  height = 0;
  version = 0;
  hasSound = false;
  readonly #client: InputStreamClient;
  readonly #playout = new FeedPlayout();
  readonly #decoder = new FeedDecoder({
    picture: (frame) => this.#queuePicture(frame),
    sound: (data) => this.#hear(data),
    problem: (kind, text) => this.#cannotDecode(kind, text),
  });
  readonly #queue = new DueQueue<VideoFrame>(MAX_WAITING, (frame) => frame.close());
  #shown: VideoFrame | null = null;
  readonly #sound = new PlacedSound();
  #seconds = 0;
  #advancedAt = systemClock.nowMs();
  #heardAt = -Infinity;
  /** A failure of the feed itself, which no further part takes away. */
  #problem: string | null = null;
  /** Of each kind, why it cannot be decoded at present. */
  readonly #undecodable: { video: string | null; audio: string | null } = { video: null, audio: null };

  constructor(url: string) {
    this.#client = new InputStreamClient(
      url,
      (part) => this.#take(part),
      (why) => this.#stop(why),
    );
  }

  attachSound(buffer: SharedArrayBuffer): void {
    this.#sound.attach(buffer);
  }

  advance(seconds: number): void {
    this.#seconds = seconds;
    this.#advancedAt = systemClock.nowMs();
    const { offset } = this.#playout;
    const due = offset === null ? null : this.#queue.newest(offset, seconds);
    if (due) this.#show(due);
    if (this.state === 'ready' && seconds - this.#heardAt > STILL_SECONDS)
      this.#stop('the feed stands still; it returns automatically');
    else if (this.state === 'ready') {
      const tenths = Math.round(this.#playout.delaySeconds * 10) / 10;
      this.message =
        this.#problem ??
        this.#undecodable.video ??
        this.#undecodable.audio ??
        `shown ${tenths.toFixed(1)} s after it arrives`;
    }
  }

  draw(context: DrawContext, part: Rect, width: number, height: number): void {
    if (this.#shown)
      context.drawImage(this.#shown, part.x, part.y, part.width, part.height, 0, 0, width, height);
  }

  frame(): VideoFrame | null {
    return this.#shown;
  }

  close(): void {
    this.#client.close();
    this.#reset();
  }

  /** The programme's time now, also between two pictures. */
  #now(): number {
    return this.#seconds + (systemClock.nowMs() - this.#advancedAt) / 1000;
  }

  #show(frame: VideoFrame): void {
    this.#shown?.close();
    this.#shown = frame;
    this.width = frame.displayWidth;
    this.height = frame.displayHeight;
    this.state = 'ready';
    this.#undecodable.video = null;
    this.version += 1;
  }

  /** Nothing comes: the placeholder says why, until something comes again. */
  #stop(why: string): void {
    if (this.state === 'waiting' && this.message === why) return;
    this.state = 'waiting';
    this.message = why;
    this.version += 1;
    this.#reset();
  }

  #reset(): void {
    this.#queue.clear();
    this.#shown?.close();
    this.#shown = null;
    this.#decoder.reset();
    this.#sound.stop();
    this.#playout.reset();
  }

  #take(part: InputPart): void {
    if (part.kind === 'status') {
      const { state, message } = part.status;
      this.#problem = state !== 'waiting' && message ? message : null;
      if (state === 'waiting') this.#stop(message);
      else if (state === 'failed') {
        this.#stop(message);
        this.state = 'failed';
      } else if (this.#problem) this.message = this.#problem;
      return;
    }
    if (part.kind === 'picture') return;
    const read = readFeedTag(part);
    if (read.type === 'picture' || read.type === 'sound') this.#arrived(read.seconds);
    if (read.type === 'audioConfig') this.hasSound = true;
    this.#decoder.take(read);
  }

  #arrived(seconds: number): void {
    this.#heardAt = this.#seconds;
    if (this.#playout.arrived(seconds, this.#now())) this.#sound.renew();
  }

  #queuePicture(frame: VideoFrame): void {
    this.#queue.push(frame.timestamp / 1e6, frame);
  }

  /** Said as long as nothing comes that can be decoded; what is shown stays. */
  #cannotDecode(kind: 'video' | 'audio', text: string): void {
    this.#undecodable[kind] = text;
    if (this.message === text || kind === 'audio') return;
    this.message = text;
    this.version += 1;
  }

  #hear(data: AudioData): void {
    this.#undecodable.audio = null;
    const { offset } = this.#playout;
    if (!this.#sound.wanted || offset === null) return;
    const planes = Array.from({ length: data.numberOfChannels }, (_, planeIndex) => {
      const plane = new Float32Array(data.numberOfFrames);
      data.copyTo(plane, { planeIndex, format: 'f32-planar' });
      return plane;
    });
    const [l, r] = stereoOf(planes);
    this.#sound.put(l, r, data.sampleRate, data.timestamp / 1e6 + offset, this.#now());
  }
}
