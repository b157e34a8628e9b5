/**
 * Reads the programme and the recording tracks from shared memory, encodes them, hands packets to the uplink. Whoever calls
 * `encodeNext` sets the pace. The programme is AAC-LC, as platforms want it; recording tracks are Opus where the browser
 * encodes that, since AAC in WebAssembly takes a tenth of a core for each.
 */
import { registerAacEncoder } from '@mediabunny/aac-encoder';
import {
  AudioSample,
  AudioSampleSource,
  canEncodeAudio,
  MkvOutputFormat,
  NullTarget,
  Output,
  type EncodedPacket,
} from 'mediabunny';
import type { Clock } from '../../core/time/clock';
import { Limiter } from '../../core/sound/limiter';
import { isSilent, SilentPackets } from '../../core/sound/silent-packets';
import { ALIGN_FRAMES } from '../../core/sound/format';
import type { SoundTrack, ToUplinkPort } from '../../protocol/engine';
import { BLOCK, CLOCK, ProgrammeRing, type SoundMemory } from '../../protocol/shared-sound';
import { bytesOf } from './bytes-of';
import { OPUS_PACKET_FRAMES, OpusTrack } from './opus-track';

const SAMPLE_RATE = 48_000;
const AAC_FRAMES = 1024;
/** Blocks handed to the encoder at once: one AAC frame. */
const BLOCKS_AT_ONCE = AAC_FRAMES / BLOCK;
/** Samples an AAC-LC encoder puts before the first real one. */
const PRIMING_FRAMES = 1024;
/** Length of the cover's silence; it is played round and round. */
const COVER_FRAMES = SAMPLE_RATE * 2;
/** The sound thread stands still when it has rendered nothing for this long: silence goes out in its place. */
const STANDING_MS = 700;
const PROGRAMME: SoundTrack = { track: 1, name: 'Programme' };
/** Recording tracks are for editing: plenty for one voice or game. */
const TRACK_KBPS = 128;
/** Samples in which the last one of what was heard dies away when the sound thread stands still: 5 ms. */
const FADE_FRAMES = 240;
/** Silence stays this far behind the stage, so that the sound thread can take over ahead of it: a quarter of a second. */
const SILENCE_BEHIND_BLOCKS = 94;

/** An AAC encoder whose packets come out through `onPacket`. */
async function openEncoder(
  kbps: number,
  onPacket: (packet: EncodedPacket, config: Uint8Array | null) => void,
) {
  const source = new AudioSampleSource({
    codec: 'aac',
    bitrate: kbps * 1000,
    onEncodedPacket: (packet, meta) => {
      const description = meta?.decoderConfig?.description;
      onPacket(packet, description ? bytesOf(description) : null);
    },
  });
  const output = new Output({ format: new MkvOutputFormat({ appendOnly: true }), target: new NullTarget() });
  output.addAudioTrack(source);
  await output.start();
  return { source, output };
}

function packetMessage(
  payload: Uint8Array,
  timestampUs: number,
  cover: boolean,
  { soundTrack = 1, frames = AAC_FRAMES } = {},
): ToUplinkPort {
  return {
    type: 'packet',
    cover,
    packet: {
      track: 'audio',
      ...(soundTrack > 1 && { soundTrack }),
      timestampUs,
      durationUs: Math.round((frames * 1e6) / SAMPLE_RATE),
      keyframe: true,
      payload: payload.slice(),
    },
  };
}

async function encodeCover(kbps: number, port: MessagePort): Promise<void> {
  let index = 0;
  const { source, output } = await openEncoder(kbps, (packet, config) => {
    if (config) say(port, configMessage(config, kbps, true));
    say(port, packetMessage(packet.data, Math.round((index++ * AAC_FRAMES * 1e6) / SAMPLE_RATE), true));
  });
  const silence = new Float32Array(AAC_FRAMES * 2);
  for (let frame = 0; frame < COVER_FRAMES; frame += AAC_FRAMES)
    await addSample(source, silence, frame / SAMPLE_RATE);
  await output.finalize();
}

function configMessage(
  codecConfig: Uint8Array,
  kbps: number,
  cover: boolean,
  { track, name }: SoundTrack = PROGRAMME,
  { tracksBeside = 0, codec = 'mp4a.40.2' } = {},
): ToUplinkPort {
  return {
    type: 'config',
    config: {
      type: 'config',
      cover,
      track: 'audio',
      facts: {
        codec,
        sampleRate: SAMPLE_RATE,
        channels: 2,
        kbps,
        soundTrack: track,
        name,
        tracksBeside,
      },
      codecConfig,
    },
  };
}

function say(port: MessagePort, message: ToUplinkPort): void {
  port.postMessage(message, message.type === 'packet' ? [message.packet.payload.buffer] : []);
}

async function addSample(source: AudioSampleSource, planar: Float32Array, seconds: number): Promise<void> {
  const sample = new AudioSample({
    data: planar.slice(),
    format: 'f32-planar',
    numberOfChannels: 2,
    sampleRate: SAMPLE_RATE,
    timestamp: seconds,
  });
  try {
    await source.add(sample);
  } finally {
    sample.close();
  }
}

interface Lane {
  ring: ProgrammeRing;
  planar: Float32Array;
  /** The samples heard last, left and right. */
  last: number[];
  encode: (planar: Float32Array) => Promise<void> | void;
  /** Packets that are still to come, of what was given. */
  pending: () => number;
  finish: () => Promise<void>;
  close: () => Promise<void> | void;
}

export interface SoundEncoderOptions {
  sound: SoundMemory;
  kbps: number;
  port: MessagePort;
  /** Recording tracks beside the programme. */
  tracks: readonly SoundTrack[];
  /** Blocks of the programme were overwritten before they were read: silence went out in their place. */
  onLost: (blocks: number) => void;
  /** A recording track can no longer be encoded. */
  onFailure: (message: string) => void;
}

export class SoundEncoder {
  readonly #clock: Int32Array;
  readonly #lanes: Lane[] = [];
  #lastBlock: number;
  #lastAdvanceMs = -Infinity;
  /** The block that is encoded next. */
  #next: number;

  private constructor(
    readonly clock: Clock,
    readonly options: SoundEncoderOptions,
  ) {
    this.#clock = new Int32Array(options.sound.clock);
    this.#lastBlock = Atomics.load(this.#clock, CLOCK.block);
    this.#next = Math.max(
      this.#lastBlock,
      Atomics.load(this.#clock, CLOCK.stageBlock) - SILENCE_BEHIND_BLOCKS,
    );
  }

  /** Opens the encoders, after the cover's silence was encoded. @throws Error when this browser cannot encode AAC at all */
  static async open(clock: Clock, options: SoundEncoderOptions): Promise<SoundEncoder> {
    const { kbps, port, tracks } = options;
    const wanted = { numberOfChannels: 2, sampleRate: SAMPLE_RATE, bitrate: kbps * 1000 };
    if (!(await canEncodeAudio('aac', wanted))) registerAacEncoder();
    await encodeCover(kbps, port);
    const encoder = new SoundEncoder(clock, options);
    // The programme comes last, so that the other tracks' sound of a moment is there when it arrives.
    const opus = await OpusTrack.possible(TRACK_KBPS);
    for (const track of tracks)
      encoder.#lanes.push(opus ? encoder.#openOpus(track) : await encoder.#openAac(track, TRACK_KBPS));
    encoder.#lanes.push(await encoder.#openAac(PROGRAMME, kbps));
    return encoder;
  }

  /** Packets of recording tracks that encoders have not given out yet. */
  get pending(): number {
    return this.#lanes.reduce((sum, lane) => sum + lane.pending(), 0);
  }

  /** Gives the encoders as much as one AAC frame of every track. @returns false when there is none yet */
  async encodeNext(): Promise<boolean> {
    const { written, standing } = this.#available();
    if (written - this.#next < BLOCKS_AT_ONCE) return false;
    const rendered = Atomics.load(this.#clock, CLOCK.block);
    const oldest = Math.max(ProgrammeRing.oldest(rendered), Atomics.load(this.#clock, CLOCK.firstBlock));
    if (!standing && this.#next < ProgrammeRing.oldest(rendered))
      this.options.onLost(ProgrammeRing.oldest(rendered) - this.#next);
    for (const { ring, planar, last, encode } of this.#lanes) {
      for (let i = 0; i < BLOCKS_AT_ONCE; i++) {
        const block = this.#next + i;
        // What was overwritten or never rendered is replaced by silence, so that the stamps stay true.
        if (block < oldest || block >= rendered) fadeOut(planar, i * BLOCK, last);
        else {
          ring.read(block, planar, i * BLOCK);
          last[0] = planar[(i + 1) * BLOCK - 1];
          last[1] = planar[AAC_FRAMES + (i + 1) * BLOCK - 1];
        }
      }
      await encode(planar);
    }
    this.#next += BLOCKS_AT_ONCE;
    return true;
  }

  /** Gives out what the encoders hold, as at the end of a recording. */
  async finish(): Promise<void> {
    for (const lane of this.#lanes) await lane.finish();
  }

  /** Ends at once: what the encoders hold is gone. */
  async close(): Promise<void> {
    for (const lane of this.#lanes) await lane.close();
    this.options.port.close();
  }

  /** How far there is sound, or silence in its place. */
  #available(): { written: number; standing: boolean } {
    const block = Atomics.load(this.#clock, CLOCK.block);
    if (block !== this.#lastBlock) {
      this.#lastBlock = block;
      this.#lastAdvanceMs = this.clock.nowMs();
    }
    const standing = this.clock.nowMs() - this.#lastAdvanceMs > STANDING_MS;
    const silent = Atomics.load(this.#clock, CLOCK.stageBlock) - SILENCE_BEHIND_BLOCKS;
    return { written: standing ? Math.max(block, silent) : block, standing };
  }

  /**
   * Alignment, the limiter's look-ahead and what the encoder puts before the first sample make the sound late by a known
   * number of samples.
   * @returns where the encoder's own sample 0 lies in the programme
   */
  #shiftFrames(encoderFrames: number): number {
    return this.#next * BLOCK - ALIGN_FRAMES - Limiter.latencyFrames - encoderFrames;
  }

  #lane(track: SoundTrack): Pick<Lane, 'ring' | 'planar' | 'last'> {
    return {
      ring: new ProgrammeRing(this.options.sound.ring, track.track),
      planar: new Float32Array(AAC_FRAMES * 2),
      last: [0, 0],
    };
  }

  #openOpus(track: SoundTrack): Lane {
    const { port, onFailure } = this.options;
    const shift = this.#shiftFrames(0);
    const encoder = new OpusTrack({
      ...{ kbps: TRACK_KBPS, partFrames: AAC_FRAMES, onFailure },
      onHead: (head) => say(port, configMessage(head, TRACK_KBPS, false, track, { codec: 'opus' })),
      onPacket: (payload, frame) => {
        const timestampUs = Math.round(((shift + frame) * 1e6) / SAMPLE_RATE);
        const facts = { soundTrack: track.track, frames: OPUS_PACKET_FRAMES };
        if (timestampUs >= 0) say(port, packetMessage(payload, timestampUs, false, facts));
      },
    });
    return {
      ...this.#lane(track),
      encode: (planar) => encoder.add(planar),
      pending: () => encoder.pending,
      finish: () => encoder.finish(),
      close: () => encoder.close(),
    };
  }

  async #openAac(track: SoundTrack, kbps: number): Promise<Lane> {
    const { port, tracks } = this.options;
    const shiftFrames = this.#shiftFrames(PRIMING_FRAMES);
    let packets = 0;
    let given = 0;
    const send = (payload: Uint8Array) => {
      const timestampUs = Math.round(((shiftFrames + packets * AAC_FRAMES) * 1e6) / SAMPLE_RATE);
      packets += 1;
      if (timestampUs >= 0)
        say(port, packetMessage(payload, timestampUs, false, { soundTrack: track.track }));
    };
    const silence = new SilentPackets();
    const { source, output } = await openEncoder(kbps, (packet, config) => {
      const tracksBeside = track.track === 1 ? tracks.length : 0;
      if (config) say(port, configMessage(config, kbps, false, track, { tracksBeside }));
      silence.take(packet.data);
      send(packet.data);
    });
    return {
      ...this.#lane(track),
      /** Sends what the buffer holds on its way. */
      encode: async (planar) => {
        const spared = silence.give(isSilent(planar));
        if (spared) send(spared);
        else await addSample(source, planar, (given++ * AAC_FRAMES) / SAMPLE_RATE);
      },
      // It is waited for at each frame.
      pending: () => 0,
      finish: () => output.finalize(),
      close: () => output.cancel(),
    };
  }
}

/** One block of silence that begins where the sound broke off: a cut to zero would click. */
function fadeOut(planar: Float32Array, at: number, last: number[]): void {
  for (let side = 0; side < 2; side++) {
    const from = at + side * AAC_FRAMES;
    let value = last[side];
    for (let i = 0; i < BLOCK; i++) {
      value *= 1 - 6 / FADE_FRAMES;
      planar[from + i] = value;
    }
    last[side] = Math.abs(value) < 1e-6 ? 0 : value;
  }
}
