/** Encodes a recording track with the browser's own Opus encoder: about a tenth of what AAC costs here. */
import { opusPreSkip, withoutPreSkip } from '../../core/media/opus';
import { bytesOf } from './bytes-of';

const SAMPLE_RATE = 48_000;
/** Samples of a packet, 60 ms: each packet costs as much on its way as its encoding. */
export const OPUS_PACKET_FRAMES = 2880;
/** Parts that are given to the encoder at once, of one AAC frame each: enough for a packet. */
const AT_ONCE = 3;
/** Of 10: more is not heard at the rate of a recording track, and costs several times as much. */
const COMPLEXITY = 2;

export interface OpusTrackOptions {
  kbps: number;
  /** Samples in one part that is added. */
  partFrames: number;
  /** A packet; `frame` is the number of its first sample, from the first one that was added, and may be negative. */
  onPacket: (payload: Uint8Array, frame: number) => void;
  /** The stream's identification header, before its first packet. */
  onHead: (head: Uint8Array) => void;
  onFailure: (message: string) => void;
}

export class OpusTrack {
  readonly #encoder: AudioEncoder;
  readonly #gathered: Float32Array;
  #parts = 0;
  #given = 0;
  #packets = 0;
  #preSkip = 0;
  #closed = false;

  /** Whether this browser encodes it. */
  static async possible(kbps: number): Promise<boolean> {
    if (typeof AudioEncoder === 'undefined') return false;
    return (await AudioEncoder.isConfigSupported(configOf(kbps))).supported === true;
  }

  constructor(readonly options: OpusTrackOptions) {
    this.#gathered = new Float32Array(AT_ONCE * options.partFrames * 2);
    this.#encoder = new AudioEncoder({
      output: (chunk, meta) => this.#output(chunk, meta),
      error: (error) => {
        if (!this.#closed) options.onFailure(`a recording track failed: ${error.message}`);
      },
    });
    this.#encoder.configure(configOf(options.kbps));
  }

  /** Packets that are still to come of what the encoder was given. */
  get pending(): number {
    return Math.floor(this.#given / OPUS_PACKET_FRAMES) - this.#packets;
  }

  /** @param planar left, then right, `partFrames` samples each */
  add(planar: Float32Array): void {
    const { partFrames } = this.options;
    const side = AT_ONCE * partFrames;
    this.#gathered.set(planar.subarray(0, partFrames), this.#parts * partFrames);
    this.#gathered.set(planar.subarray(partFrames), side + this.#parts * partFrames);
    this.#parts += 1;
    if (this.#parts === AT_ONCE) this.#give();
  }

  /** Resolves when everything that was added is out. */
  async finish(): Promise<void> {
    if (this.#parts > 0) this.#give();
    await this.#encoder.flush();
  }

  close(): void {
    this.#closed = true;
    if (this.#encoder.state !== 'closed') this.#encoder.close();
  }

  #give(): void {
    const frames = this.#parts * this.options.partFrames;
    const side = this.#gathered.length / 2;
    const data = new Float32Array(frames * 2);
    data.set(this.#gathered.subarray(0, frames));
    data.set(this.#gathered.subarray(side, side + frames), frames);
    const samples = new AudioData({
      ...{ format: 'f32-planar', sampleRate: SAMPLE_RATE, numberOfChannels: 2, numberOfFrames: frames },
      timestamp: Math.round((this.#given * 1e6) / SAMPLE_RATE),
      data,
      transfer: [data.buffer],
    });
    this.#encoder.encode(samples);
    samples.close();
    this.#given += frames;
    this.#parts = 0;
  }

  #output(chunk: EncodedAudioChunk, meta: EncodedAudioChunkMetadata | undefined): void {
    const description = meta?.decoderConfig?.description;
    if (description && this.#packets === 0) {
      const head = bytesOf(description);
      this.#preSkip = opusPreSkip(head);
      this.options.onHead(withoutPreSkip(head));
    }
    const payload = new Uint8Array(chunk.byteLength);
    chunk.copyTo(payload);
    this.options.onPacket(payload, this.#packets * OPUS_PACKET_FRAMES - this.#preSkip);
    this.#packets += 1;
  }
}

function configOf(kbps: number): AudioEncoderConfig {
  return {
    ...{ codec: 'opus', sampleRate: SAMPLE_RATE, numberOfChannels: 2, bitrate: kbps * 1000 },
    opus: { frameDuration: (OPUS_PACKET_FRAMES * 1e6) / SAMPLE_RATE, complexity: COMPLEXITY },
  };
}
