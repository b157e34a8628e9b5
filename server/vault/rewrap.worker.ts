/**
 * Puts the pictures and sounds of a file into another container without encoding them again, in a thread of its own; then
 * reads the copy and compares every sample with what went in. Only recording tracks in Opus become AAC on the way into
 * MP4: editors take nothing else there.
 */
import { createHash, type Hash } from 'node:crypto';
import { rmSync, statSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import {
  ALL_FORMATS,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  FilePathSource,
  FilePathTarget,
  Input,
  MkvOutputFormat,
  Mp4OutputFormat,
  Output,
  type EncodedPacket,
  type InputAudioTrack,
  type InputTrack,
  type InputVideoTrack,
} from 'mediabunny';
import { isFault } from '../../core/fault';
import { rateOf } from '../../core/delivery/picture-grid';
import { MatroskaReader } from '../../core/media/matroska-reader';
import { isPlain, openSource, rangeOf, samplesIn, writeMp4 } from './fast-mp4';
import { runFfmpeg } from './run-ffmpeg';
import { PARTS, type FromRewrap, type RewrapWork } from './rewrap-orders';

const work = workerData as RewrapWork;
const tell = (message: FromRewrap) => parentPort!.postMessage(message);
/** Progress is told after so many samples. */
const TELL_EVERY = 500;
/** The copying is the first part of the work; the rest is the proof. */
const COPIED = 0.6;
/** Stamps in whole milliseconds against a track's own clock. */
const SAME_MS = 4;
/** Of a recording track that is encoded once more: above what it had, so that nothing is heard of it. */
const TRACK_KBPS = 192;
/**
 * Gaps become silence, since editors lay samples one after the other. The encoder's own first frame comes before the first
 * sample: that one begins a frame later, or ffmpeg would move the whole file to have no time before zero.
 */
const SOUND_FILTER = `aresample=async=1,atrim=start=${1030 / 48_000}`;
const WHOLE = { fromSeconds: null, toSeconds: null };

/** What went in of one track: its bytes, and when each sample is shown. */
class Expected {
  readonly hash: Hash = createHash('sha256');
  readonly ms: number[] = [];

  add(bytes: Uint8Array, ms: number): void {
    this.hash.update(bytes);
    this.ms.push(ms);
  }
}

async function tracksOf(input: Input): Promise<InputTrack[]> {
  const [video, audio] = [await input.getPrimaryVideoTrack(), await input.getAudioTracks()];
  return [...(video ? [video] : []), ...audio];
}

interface Copied {
  expected: Expected[];
  seconds: number;
}

interface Way {
  from: string;
  file: string;
  to: RewrapWork['to'];
  fromSeconds: number | null;
  toSeconds: number | null;
  /** 0…1 of the copying. */
  progress: (share: number) => void;
}

/** Our own recordings, at the speed of the disk. @returns null for a file of another kind */
function copyFast(way: Way): Copied | null {
  if (way.to !== 'mp4') return null;
  const source = openSource(way.from);
  try {
    const reader = new MatroskaReader(source);
    if (!isPlain(reader)) return null;
    const range = rangeOf(reader, way.fromSeconds, way.toSeconds);
    const seconds = writeMp4(reader, range, way.file, way.progress);
    way.progress(1);
    const expected = reader.tracks.map(() => new Expected());
    for (const { track, ms, payload } of samplesIn(reader, range)) expected[track].add(payload, ms);
    // Pictures first, as the copy's are read.
    const order = reader.tracks.map((_, i) => i).filter((i) => expected[i].ms.length > 0);
    order.sort(
      (a, b) => Number(reader.tracks[a].kind === 'audio') - Number(reader.tracks[b].kind === 'audio'),
    );
    return { expected: order.map((i) => expected[i]), seconds };
  } catch (error) {
    // Not Matroska, or not of the plain kind: the general way takes it, or says what is wrong with it.
    if (isFault(error)) return null;
    throw error;
  } finally {
    source.close();
  }
}

interface Lane {
  packets: AsyncGenerator<EncodedPacket, void, unknown>;
  next: EncodedPacket | null;
  add: (packet: EncodedPacket) => Promise<void>;
  expected: Expected;
}

/**
 * How many pictures a second a Matroska file has, evenly; null when it does not say so, is not so, or is another kind of
 * file. What is not on its grid would be moved onto it.
 */
function evenRate(file: string): number | null {
  const source = openSource(file);
  try {
    const reader = new MatroskaReader(source);
    const video = reader.tracks.findIndex((t) => t.kind === 'video');
    const ns = reader.tracks[video]?.pictureNs ?? null;
    if (ns === null) return null;
    const rate = rateOf(1e9 / ns);
    for (const { track, ms } of reader.samples()) {
      const place = (ms * rate) / 1000;
      if (track === video && Math.abs(place - Math.round(place)) * 1000 > rate) return null;
    }
    return rate;
  } catch (error) {
    if (isFault(error)) return null;
    throw error;
  } finally {
    source.close();
  }
}

/** Any file that can be read here, into any container. */
async function copyAny(way: Way): Promise<Copied> {
  const input = new Input({ source: new FilePathSource(way.from), formats: ALL_FORMATS });
  const tracks = await tracksOf(input);
  const video = tracks.find((t): t is InputVideoTrack => t.isVideoTrack());
  if (!video) throw new Error('there are no pictures in it');
  const whole = await input.computeDuration().catch(() => 0);
  // From the keyframe at or before the wish, or the copy would begin with a broken picture.
  const start = await new EncodedPacketSink(video).getKeyPacket(Math.max(way.fromSeconds ?? 0, 0));
  const from = way.fromSeconds === null ? 0 : (start?.timestamp ?? 0);
  const until = way.toSeconds ?? Infinity;
  const seconds = Math.max(0, Math.min(until, whole) - from);
  const output = new Output({
    format: way.to === 'mp4' ? new Mp4OutputFormat({ fastStart: 'reserve' }) : new MkvOutputFormat(),
    target: new FilePathTarget(way.file),
  });
  const lanes: Lane[] = [];
  const rate = evenRate(way.from);
  for (const track of tracks) {
    const { averagePacketRate } = await track.computePacketStats(200);
    lanes.push(await lane(output, track, from, Math.ceil(seconds * averagePacketRate * 1.2) + 500, rate));
  }
  await output.start();
  for (let done = 0; ; done++) {
    const next = lanes
      .filter((l) => l.next !== null)
      .reduce<Lane | null>((a, b) => (!a || b.next!.timestamp < a.next!.timestamp ? b : a), null);
    if (!next || next.next!.timestamp >= until) break;
    const packet = next.next!;
    // Sound that began before the first picture is left out.
    if (packet.timestamp >= from - 1e-6) {
      await next.add(from === 0 ? packet : packet.clone({ timestamp: packet.timestamp - from }));
      next.expected.add(packet.data, (packet.timestamp - from) * 1000);
    }
    next.next = (await next.packets.next()).value ?? null;
    if (done % TELL_EVERY === 0 && seconds > 0) way.progress((packet.timestamp - from) / seconds);
  }
  await output.finalize();
  input.dispose();
  return { expected: lanes.map((l) => l.expected).filter((e) => e.ms.length > 0), seconds };
}

async function lane(
  output: Output,
  track: InputTrack,
  from: number,
  maximumPacketCount: number,
  rate: number | null,
): Promise<Lane> {
  const sink = new EncodedPacketSink(track);
  const first = (from > 0 ? await sink.getPacket(from) : null) ?? (await sink.getFirstPacket());
  const packets = sink.packets(first ?? undefined);
  const next = (await packets.next()).value ?? null;
  const metadata = { name: track.name ?? undefined, maximumPacketCount };
  const base = { packets, next, expected: new Expected() };
  if (track.isVideoTrack()) {
    const source = new EncodedVideoPacketSource(track.codec!);
    const decoderConfig = (await track.getDecoderConfig())!;
    output.addVideoTrack(source, rate === null ? metadata : { ...metadata, frameRate: rate });
    return { ...base, add: (packet) => source.add(packet, { decoderConfig }) };
  }
  const sound = track as InputAudioTrack;
  const source = new EncodedAudioPacketSource(sound.codec!);
  const decoderConfig = (await sound.getDecoderConfig())!;
  output.addAudioTrack(source, metadata);
  return { ...base, add: (packet) => source.add(packet, { decoderConfig }) };
}

/** Reads the copy, by a reader that had no part in writing it, and compares: the same samples, at the same moments. */
async function prove(expected: readonly Expected[], seconds: number): Promise<void> {
  const copy = new Input({ source: new FilePathSource(work.file), formats: ALL_FORMATS });
  const tracks = await tracksOf(copy);
  if (tracks.length !== expected.length) throw new Error('the copy has other tracks than the original');
  for (const [i, track] of tracks.entries()) {
    const { hash: wanted, ms } = expected[i];
    const hash = createHash('sha256');
    let count = 0;
    for await (const packet of new EncodedPacketSink(track).packets()) {
      hash.update(packet.data);
      if (Math.abs(packet.timestamp * 1000 - ms[count]) > SAME_MS)
        throw new Error('the copy has other times than the original: it was thrown away');
      count += 1;
      if (count % TELL_EVERY === 0 && seconds > 0)
        tell({
          type: 'progress',
          share: COPIED + ((1 - COPIED) * (i + packet.timestamp / seconds)) / tracks.length,
        });
    }
    if (count !== ms.length || hash.digest('hex') !== wanted.digest('hex'))
      throw new Error('the copy is not the same as the original: it was thrown away');
  }
  copy.dispose();
}

/** Which of a file's sounds are in Opus, counted from 0. */
async function opusSounds(file: string): Promise<number[]> {
  const input = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
  const sounds = await input.getAudioTracks();
  input.dispose();
  return sounds.flatMap(({ codec }, i) => (codec === 'opus' ? [i] : []));
}

/** A copy in which editors find AAC on every track: the range by itself first, then the sound, then the container. */
async function copyForEditors(opus: readonly number[]): Promise<Copied> {
  const [part, sound] = [work.file + PARTS.range, work.file + PARTS.sound];
  const share = (from: number, to: number) => (of: number) =>
    tell({ type: 'progress', share: (from + of * (to - from)) * COPIED });
  const ranged = work.fromSeconds !== null || work.toSeconds !== null;
  try {
    if (ranged) await copyAny({ ...work, file: part, to: 'mkv', progress: share(0, 0.1) });
    const input = ranged ? part : work.from;
    const seconds = await lengthOf(input);
    const args = ['-i', input, '-map', '0', '-c', 'copy'];
    for (const i of opus)
      args.push(`-filter:a:${i}`, SOUND_FILTER, `-c:a:${i}`, 'aac', `-b:a:${i}`, `${TRACK_KBPS}k`);
    const told = share(0.1, 0.8);
    const started = (pid: number) => tell({ type: 'helper', pid });
    for await (const of of runFfmpeg([...args, '-f', 'matroska', sound], { seconds, started })) told(of);
    // Its number may be another program's from now on.
    tell({ type: 'helper', pid: null });
    rmSync(part, { force: true });
    const way: Way = { ...WHOLE, from: sound, file: work.file, to: 'mp4', progress: share(0.8, 1) };
    return copyFast(way) ?? (await copyAny(way));
  } finally {
    for (const file of [part, sound]) rmSync(file, { force: true });
  }
}

async function lengthOf(file: string): Promise<number> {
  const input = new Input({ source: new FilePathSource(file), formats: ALL_FORMATS });
  try {
    return await input.computeDuration();
  } finally {
    input.dispose();
  }
}

async function copied(): Promise<Copied> {
  const opus = work.to === 'mp4' ? await opusSounds(work.from) : [];
  if (opus.length > 0) return copyForEditors(opus);
  const way: Way = { ...work, progress: (share) => tell({ type: 'progress', share: share * COPIED }) };
  return copyFast(way) ?? (await copyAny(way));
}

async function main(): Promise<void> {
  const { expected, seconds } = await copied();
  await prove(expected, seconds);
  tell({ type: 'done', seconds, bytes: statSync(work.file).size });
}

main().catch((error: unknown) =>
  tell({ type: 'failed', message: error instanceof Error ? error.message : String(error) }),
);
