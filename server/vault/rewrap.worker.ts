/**
 * Puts the pictures and sounds of a file into another container without encoding them again, in a thread of its own; then
 * reads the copy and compares every sample with what went in.
 */
import { createHash } from 'node:crypto';
import { statSync } from 'node:fs';
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
import type { FromRewrap, RewrapWork } from './vault-jobs';

const work = workerData as RewrapWork;
const tell = (message: FromRewrap) => parentPort!.postMessage(message);
/** Progress is told after so many samples. */
const TELL_EVERY = 500;

interface Lane {
  track: InputTrack;
  packets: AsyncGenerator<EncodedPacket, void, unknown>;
  next: EncodedPacket | null;
  add: (packet: EncodedPacket) => Promise<void>;
  hash: ReturnType<typeof createHash>;
  count: number;
}

/** What tells one sample from another: its stamp to the microsecond, its kind and its bytes. */
function note(hash: ReturnType<typeof createHash>, packet: EncodedPacket, fromSeconds: number): void {
  hash.update(`${Math.round((packet.timestamp - fromSeconds) * 1e3)} ${packet.type} ${packet.byteLength};`);
  hash.update(packet.data);
}

async function tracksOf(input: Input): Promise<InputTrack[]> {
  const [video, audio] = [await input.getPrimaryVideoTrack(), await input.getAudioTracks()];
  return [...(video ? [video] : []), ...audio];
}

async function main(): Promise<void> {
  const input = new Input({ source: new FilePathSource(work.from), formats: ALL_FORMATS });
  const tracks = await tracksOf(input);
  const video = tracks.find((t): t is InputVideoTrack => t.isVideoTrack());
  if (!video) throw new Error('there are no pictures in it');
  const seconds = await input.computeDuration().catch(() => 0);
  // From the keyframe at or before the wish, or the copy would begin with a broken picture.
  const start = await new EncodedPacketSink(video).getKeyPacket(Math.max(work.fromSeconds ?? 0, 0));
  const from = work.fromSeconds === null ? 0 : (start?.timestamp ?? 0);
  const until = work.toSeconds ?? Infinity;
  const output = new Output({
    format: work.to === 'mp4' ? new Mp4OutputFormat({ fastStart: 'reserve' }) : new MkvOutputFormat(),
    target: new FilePathTarget(work.file),
  });
  const lanes: Lane[] = [];
  for (const track of tracks) {
    const { averagePacketRate } = await track.computePacketStats(200);
    const length = Math.min(until, seconds || until) - from;
    const maximumPacketCount =
      Math.ceil((Number.isFinite(length) ? length : seconds) * averagePacketRate * 1.2) + 500;
    lanes.push(await lane(output, track, from, maximumPacketCount));
  }
  await output.start();
  let done = 0;
  for (;;) {
    const next = lanes
      .filter((l) => l.next !== null)
      .reduce<Lane | null>((a, b) => (!a || b.next!.timestamp < a.next!.timestamp ? b : a), null);
    if (!next || next.next!.timestamp >= until) break;
    const packet = next.next!;
    // Sound that began before the first picture is left out.
    if (packet.timestamp >= from - 1e-6) {
      const moved = from === 0 ? packet : packet.clone({ timestamp: packet.timestamp - from });
      await next.add(moved);
      note(next.hash, packet, from);
      next.count += 1;
    }
    next.next = (await next.packets.next()).value ?? null;
    done += 1;
    if (done % TELL_EVERY === 0 && seconds > 0)
      tell({
        type: 'progress',
        share: (0.6 * (packet.timestamp - from)) / Math.max(1, Math.min(until, seconds) - from),
      });
  }
  await output.finalize();
  input.dispose();
  await prove(lanes, Math.min(until, seconds) - from);
  tell({
    type: 'done',
    seconds: Math.max(0, Math.min(until, seconds) - from),
    bytes: statSync(work.file).size,
  });
}

async function lane(
  output: Output,
  track: InputTrack,
  from: number,
  maximumPacketCount: number,
): Promise<Lane> {
  const sink = new EncodedPacketSink(track);
  const first = (from > 0 ? await sink.getPacket(from) : null) ?? (await sink.getFirstPacket());
  const packets = sink.packets(first ?? undefined);
  const next = (await packets.next()).value ?? null;
  const metadata = { name: track.name ?? undefined, maximumPacketCount };
  const base = { track, packets, next, hash: createHash('sha256'), count: 0 };
  if (track.isVideoTrack()) {
    const source = new EncodedVideoPacketSource(track.codec!);
    const decoderConfig = (await track.getDecoderConfig())!;
    output.addVideoTrack(source, metadata);
    return { ...base, add: (packet) => source.add(packet, { decoderConfig }) };
  }
  const sound = track as InputAudioTrack;
  const source = new EncodedAudioPacketSource(sound.codec!);
  const decoderConfig = (await sound.getDecoderConfig())!;
  output.addAudioTrack(source, metadata);
  return { ...base, add: (packet) => source.add(packet, { decoderConfig }) };
}

/** Reads the copy and compares: the same samples, at the same moments. */
async function prove(lanes: readonly Lane[], seconds: number): Promise<void> {
  const copy = new Input({ source: new FilePathSource(work.file), formats: ALL_FORMATS });
  const tracks = await tracksOf(copy);
  if (tracks.length !== lanes.length) throw new Error('the copy has other tracks than the original');
  for (const [i, track] of tracks.entries()) {
    const hash = createHash('sha256');
    let count = 0;
    for await (const packet of new EncodedPacketSink(track).packets()) {
      note(hash, packet, 0);
      count += 1;
      if (count % TELL_EVERY === 0 && seconds > 0)
        tell({ type: 'progress', share: 0.6 + (0.4 * (i + packet.timestamp / seconds)) / tracks.length });
    }
    if (count !== lanes[i].count || hash.digest('hex') !== lanes[i].hash.digest('hex'))
      throw new Error('the copy is not the same as the original: it was thrown away');
  }
  copy.dispose();
}

main().catch((error: unknown) =>
  tell({ type: 'failed', message: error instanceof Error ? error.message : String(error) }),
);
