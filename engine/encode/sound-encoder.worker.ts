/** Reads the programme from shared memory, encodes AAC-LC, hands packets to the uplink. Encodes the cover's silence first. */
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
import { messageOf } from '../../core/fault';
import { Limiter } from '../../core/sound/limiter';
import { isSilent, SilentPackets } from '../../core/sound/silent-packets';
import { ALIGN_FRAMES } from '../../core/sound/format';
import type { FromSoundEncoder, SoundTrack, ToSoundEncoder, ToUplinkPort } from '../../protocol/engine';
import { BLOCK, CLOCK, ProgrammeRing, type SoundMemory } from '../../protocol/shared-sound';
import { workerScope } from '../worker-scope';

const SAMPLE_RATE = 48_000;
const AAC_FRAMES = 1024;
/** Blocks handed to the encoder at once: one AAC frame. */
const BLOCKS_AT_ONCE = AAC_FRAMES / BLOCK;
/** Samples an AAC-LC encoder puts before the first real one. */
const PRIMING_FRAMES = 1024;
/** Length of the cover's silence; it is played round and round. */
const COVER_FRAMES = SAMPLE_RATE * 2;
const POLL_MS = 10;
/** The sound thread stands still when it has rendered nothing for this long: silence goes out in its place. */
const STANDING_MS = 700;
const PROGRAMME: SoundTrack = { track: 1, name: 'Programme' };
/** Recording tracks are for editing: plenty for one voice or game. */
const TRACK_KBPS = 128;
/** Samples in which the last one of what was heard dies away when the sound thread stands still: 5 ms. */
const FADE_FRAMES = 240;
/** Silence stays this far behind the stage, so that the sound thread can take over ahead of it: a quarter of a second. */
const SILENCE_BEHIND_BLOCKS = 94;

const tell = (message: FromSoundEncoder) => workerScope.postMessage(message);

let run: { stop: () => Promise<void> } | null = null;

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

function bytesOf(data: AllowSharedBufferSource): Uint8Array {
  return ArrayBuffer.isView(data)
    ? new Uint8Array(data.buffer as ArrayBuffer, data.byteOffset, data.byteLength).slice()
    : new Uint8Array(data as ArrayBuffer).slice();
}

function packetMessage(
  payload: Uint8Array,
  timestampUs: number,
  cover: boolean,
  soundTrack = 1,
): ToUplinkPort {
  return {
    type: 'packet',
    cover,
    packet: {
      track: 'audio',
      ...(soundTrack > 1 && { soundTrack }),
      timestampUs,
      durationUs: Math.round((AAC_FRAMES * 1e6) / SAMPLE_RATE),
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
  tracksBeside = 0,
): ToUplinkPort {
  return {
    type: 'config',
    config: {
      type: 'config',
      cover,
      track: 'audio',
      facts: {
        codec: 'mp4a.40.2',
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

async function start(
  sound: SoundMemory,
  kbps: number,
  port: MessagePort,
  tracks: readonly SoundTrack[],
): Promise<{ stop: () => Promise<void> }> {
  if (!(await canEncodeAudio('aac', { numberOfChannels: 2, sampleRate: SAMPLE_RATE, bitrate: kbps * 1000 })))
    registerAacEncoder();
  await encodeCover(kbps, port);
  const clock = new Int32Array(sound.clock);
  let lastBlock = Atomics.load(clock, CLOCK.block);
  let lastAdvance = -Infinity;
  /** How far there is sound, or silence in its place. */
  const available = (): { written: number; standing: boolean } => {
    const block = Atomics.load(clock, CLOCK.block);
    if (block !== lastBlock) {
      lastBlock = block;
      lastAdvance = performance.now();
    }
    const standing = performance.now() - lastAdvance > STANDING_MS;
    return {
      written: standing
        ? Math.max(block, Atomics.load(clock, CLOCK.stageBlock) - SILENCE_BEHIND_BLOCKS)
        : block,
      standing,
    };
  };
  let next = Math.max(lastBlock, Atomics.load(clock, CLOCK.stageBlock) - SILENCE_BEHIND_BLOCKS);
  const firstFrame = next * BLOCK;
  /** Alignment, the limiter's look-ahead and the encoder's priming make the sound late by a known number of samples. */
  const shiftFrames = firstFrame - ALIGN_FRAMES - Limiter.latencyFrames - PRIMING_FRAMES;
  const lane = async (track: SoundTrack, rate: number) => {
    let packets = 0;
    let given = 0;
    const send = (payload: Uint8Array) => {
      const timestampUs = Math.round(((shiftFrames + packets * AAC_FRAMES) * 1e6) / SAMPLE_RATE);
      packets += 1;
      if (timestampUs >= 0) say(port, packetMessage(payload, timestampUs, false, track.track));
    };
    const silence = new SilentPackets();
    const { source, output } = await openEncoder(rate, (packet, config) => {
      const beside = track.track === 1 ? tracks.length : 0;
      if (config) say(port, configMessage(config, rate, false, track, beside));
      silence.take(packet.data);
      send(packet.data);
    });
    return {
      output,
      ring: new ProgrammeRing(sound.ring, track.track),
      planar: new Float32Array(AAC_FRAMES * 2),
      last: [0, 0],
      /** Sends what the buffer holds on its way. */
      encode: async (planar: Float32Array) => {
        const spared = silence.give(isSilent(planar));
        if (spared) send(spared);
        else await addSample(source, planar, (given++ * AAC_FRAMES) / SAMPLE_RATE);
      },
    };
  };
  // The programme comes last, so that the other tracks' sound of a moment is there when it arrives.
  const lanes: Awaited<ReturnType<typeof lane>>[] = [];
  for (const track of tracks) lanes.push(await lane(track, TRACK_KBPS));
  lanes.push(await lane(PROGRAMME, kbps));
  let running = true;
  const work = (async () => {
    while (running) {
      const { written, standing } = available();
      if (written - next < BLOCKS_AT_ONCE) {
        await new Promise((resolve) => setTimeout(resolve, POLL_MS));
        continue;
      }
      const rendered = Atomics.load(clock, CLOCK.block);
      const oldest = Math.max(ProgrammeRing.oldest(rendered), Atomics.load(clock, CLOCK.firstBlock));
      if (!standing && next < ProgrammeRing.oldest(rendered))
        tell({ type: 'lost', blocks: ProgrammeRing.oldest(rendered) - next });
      for (const { ring, planar, last, encode } of lanes) {
        for (let i = 0; i < BLOCKS_AT_ONCE; i++) {
          // What was overwritten or never rendered is replaced by silence, so that the stamps stay true.
          if (next + i < oldest || next + i >= rendered) fadeOut(planar, i * BLOCK, last);
          else {
            ring.read(next + i, planar, i * BLOCK);
            last[0] = planar[(i + 1) * BLOCK - 1];
            last[1] = planar[AAC_FRAMES + (i + 1) * BLOCK - 1];
          }
        }
        await encode(planar);
      }
      next += BLOCKS_AT_ONCE;
    }
  })();
  work.catch((error: unknown) => tell({ type: 'failed', message: messageOf(error) }));
  return {
    stop: async () => {
      running = false;
      await work.catch(() => undefined);
      for (const { output } of lanes) await output.cancel();
      port.close();
    },
  };
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

workerScope.onmessage = async ({ data }: MessageEvent<ToSoundEncoder>) => {
  try {
    const before = run;
    run = null;
    await before?.stop();
    if (data.type === 'start') run = await start(data.sound, data.kbps, data.port, data.tracks);
  } catch (error) {
    tell({ type: 'failed', message: `The sound encoder failed: ${messageOf(error)}` });
  }
};
