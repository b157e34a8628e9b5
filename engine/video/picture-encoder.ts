import { messageOf } from '../../core/fault';
import { PictureGrid } from '../../core/delivery/picture-grid';
import { RateGovernor, type GovernorReport } from '../../core/delivery/rate-governor';
import type { Size } from '../../core/geometry/rect';
import type { EncodePlan, FromUplinkPort, ToUplinkPort } from '../../protocol/engine';
import { encoderConfig, streamConfig } from '../encode/encoder-config';

/** Pictures the encoder may have in hand; more means it is too slow, and waiting would only grow. */
const MAX_QUEUE = 6;
/** Smallest change of the rate worth telling the encoder. */
const RETUNE_SHARE = 0.04;

export type AddResult = 'encoded' | 'leftOut' | 'busy' | 'line';

/** H.264 encoder with the governor before it; packets leave through the port to the uplink. */
export class PictureEncoder {
  readonly #grid: PictureGrid;
  readonly #governor: RateGovernor;
  readonly #encoder: VideoEncoder;
  /** Smaller and smaller copies of a picture. */
  readonly #halves: OffscreenCanvas[] = [];
  readonly #indexAt = new Map<number, number>();
  /** Number of the first picture: keyframes are counted from it. */
  firstIndex: number | null = null;
  #target: number;
  #forceKeyframe = false;
  #lineFactor = 1;
  #dropToKeyframe = false;
  #closed = false;
  /** What came out while the encoder before this one still had something to say. */
  #held: ToUplinkPort[] | null = null;
  #before: Promise<void> = Promise.resolve();

  constructor(
    readonly plan: EncodePlan,
    readonly port: MessagePort,
    readonly onFailure: (message: string) => void,
  ) {
    this.#grid = new PictureGrid(plan.fps);
    this.#governor = new RateGovernor(plan.kbps, plan.fps, this.#grid.interval(plan.keyframeSeconds));
    this.#target = plan.kbps;
    this.#encoder = new VideoEncoder({
      output: (chunk, meta) => this.#output(chunk, meta),
      error: (error) => {
        if (!this.#closed) this.onFailure(`The picture encoder failed: ${error.message}`);
      },
    });
    this.#encoder.configure(encoderConfig(plan));
    port.onmessage = ({ data }: MessageEvent<FromUplinkPort>) => {
      if (data.type === 'keyframe') this.#forceKeyframe = true;
      else {
        this.#lineFactor = data.factor;
        if (data.dropToKeyframe) this.#dropToKeyframe = true;
      }
    };
  }

  /** A scene has come on by a cut: the governor is warned. */
  cut(): void {
    this.#governor.cut();
  }

  /** Pictures that were given to the encoder and have not come out. */
  get pending(): number {
    return this.#indexAt.size;
  }

  report(): GovernorReport {
    return this.#governor.report();
  }

  /** Whether picture `index` is a keyframe of the grid: those are made whatever the machine has time for. */
  keyframeDue(index: number): boolean {
    return this.firstIndex !== null && this.#governor.keyframeDue(index - this.firstIndex);
  }

  /** @param index number of the picture on the programme's grid */
  add(canvas: OffscreenCanvas, index: number): AddResult {
    this.firstIndex ??= index;
    if (this.#encoder.state !== 'configured') return 'busy';
    const own = index - this.firstIndex;
    // Platforms cut and viewers join at keyframes: those keep to the grid, one in two seconds can wait in the encoder.
    if (this.#encoder.encodeQueueSize > MAX_QUEUE && !this.#governor.keyframeDue(own)) return 'busy';
    const order = this.#governor.next(own, this.#forceKeyframe, this.#lineFactor);
    if (this.#dropToKeyframe) {
      // The line carries nothing now: whole groups of pictures go, never single ones.
      if (!order.keyframe) return 'line';
      this.#dropToKeyframe = false;
    }
    if (!order.encode) return 'leftOut';
    this.#retune(order.targetKbps);
    const timestamp = this.#grid.timeUs(index);
    const picture = order.softening > 1 ? this.#soften(canvas, order.softening) : canvas;
    const frame = new VideoFrame(picture, { timestamp, duration: this.#grid.timeUs(index + 1) - timestamp });
    this.#indexAt.set(timestamp, own);
    try {
      this.#encoder.encode(frame, { keyFrame: order.keyframe });
      if (order.keyframe) this.#forceKeyframe = false;
    } finally {
      frame.close();
    }
    return 'encoded';
  }

  /** Keeps what comes out back until then. */
  holdUntil(done: Promise<void>): void {
    this.#held = [];
    this.#before = done;
    void done.finally(() => {
      const held = this.#held ?? [];
      this.#held = null;
      if (!this.#closed) for (const message of held) say(this.port, message);
    });
  }

  /** Gives out everything it has, and ends; resolves then. */
  async retire(): Promise<void> {
    try {
      // One that was changed again at once: who comes next waits for all before it.
      await this.#before;
      if (this.#encoder.state === 'configured') await this.#encoder.flush();
    } catch {
      // It failed meanwhile, which was told.
    } finally {
      this.close();
    }
  }

  #tell(message: ToUplinkPort): void {
    if (this.#held) this.#held.push(message);
    else say(this.port, message);
  }

  close(): void {
    this.#closed = true;
    if (this.#encoder.state !== 'closed') this.#encoder.close();
    this.port.close();
  }

  #retune(targetKbps: number): void {
    if (Math.abs(targetKbps - this.#target) < this.plan.kbps * RETUNE_SHARE) return;
    this.#target = targetKbps;
    this.#encoder.configure(encoderConfig(this.plan, targetKbps));
  }

  /**
   * The picture at 1/`by` of its size. The encoder enlarges it again (WebCodecs, section 7: a frame of another size is
   * scaled to the configured one), in planes of brightness and colour: a fraction of what a canvas would take.
   */
  #soften(canvas: OffscreenCanvas, by: number): OffscreenCanvas {
    let [from, { width, height }]: [OffscreenCanvas, Size] = [canvas, this.plan];
    // By halves: each point is the mean of four, with no more reading than that.
    for (let half = 2, i = 0; half <= by; half *= 2, i++) {
      [width, height] = [Math.max(2, Math.round(width / 2)), Math.max(2, Math.round(height / 2))];
      const into = (this.#halves[i] ??= new OffscreenCanvas(width, height));
      const context = into.getContext('2d', { alpha: false })!;
      context.imageSmoothingQuality = 'low';
      context.drawImage(from, 0, 0, width, height);
      from = into;
    }
    return from;
  }

  #output(chunk: EncodedVideoChunk, meta: EncodedVideoChunkMetadata | undefined): void {
    const description = meta?.decoderConfig?.description;
    const { codec, width, height, fps, kbps } = this.plan;
    if (description)
      this.#tell({
        type: 'config',
        config: {
          type: 'config',
          cover: false,
          track: 'video',
          facts: { codec, width, height, fps, kbps },
          codecConfig: streamConfig(description, this.plan),
        },
      });
    const keyframe = chunk.type === 'key';
    const own = this.#indexAt.get(chunk.timestamp);
    if (own !== undefined) {
      this.#indexAt.delete(chunk.timestamp);
      this.#governor.encoded(own, chunk.byteLength, keyframe);
    }
    this.#tell(packetOf(chunk, false));
  }
}

function packetOf(chunk: EncodedVideoChunk, cover: boolean): Extract<ToUplinkPort, { type: 'packet' }> {
  const payload = new Uint8Array(chunk.byteLength);
  chunk.copyTo(payload);
  return {
    type: 'packet',
    cover,
    packet: {
      track: 'video',
      timestampUs: chunk.timestamp,
      durationUs: chunk.duration ?? 0,
      keyframe: chunk.type === 'key',
      payload,
    },
  };
}

function say(port: MessagePort, message: ToUplinkPort): void {
  port.postMessage(message, message.type === 'packet' ? [message.packet.payload.buffer] : []);
}

/**
 * Encodes the cover: one group of pictures of the given canvas, sent ahead so that the relay can play it while the desk
 * is away.
 * @param paint draws picture n of the loop
 */
export async function encodeCover(
  plan: EncodePlan,
  port: MessagePort,
  paint: (n: number, of: number) => OffscreenCanvas,
): Promise<void> {
  const grid = new PictureGrid(plan.fps);
  const count = grid.interval(2);
  let failure: unknown = null;
  const encoder = new VideoEncoder({
    output: (chunk, meta) => {
      const description = meta?.decoderConfig?.description;
      const { codec, width, height, fps, kbps } = plan;
      if (description)
        say(port, {
          type: 'config',
          config: {
            type: 'config',
            cover: true,
            track: 'video',
            facts: { codec, width, height, fps, kbps },
            codecConfig: streamConfig(description, plan),
          },
        });
      say(port, packetOf(chunk, true));
    },
    error: (error) => (failure = error),
  });
  try {
    // At the plan's rate, though it needs less: headers depend on the rate, and other headers begin another file.
    encoder.configure(encoderConfig(plan));
    for (let n = 0; n < count; n++) {
      const frame = new VideoFrame(paint(n, count), {
        timestamp: grid.timeUs(n),
        duration: grid.timeUs(n + 1) - grid.timeUs(n),
      });
      encoder.encode(frame, { keyFrame: n === 0 });
      frame.close();
      // In small portions: the live encoder and the composition go on meanwhile.
      if (n % 4 === 3) await encoder.flush();
    }
    await encoder.flush();
    if (failure) throw failure;
    say(port, { type: 'coverEnd' });
  } catch (error) {
    throw new Error(`the cover could not be prepared: ${messageOf(error)}`);
  } finally {
    if (encoder.state !== 'closed') encoder.close();
  }
}
