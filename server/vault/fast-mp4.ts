import { closeSync, fstatSync, openSync, readSync, writeSync } from 'node:fs';
import type { MatroskaReader } from '../../core/media/matroska-reader';
import { type ByteSource, type MatroskaSample } from '../../core/media/matroska-reader';
import { mp4Head, NumberRow, type Chunks, type Mp4Track } from '../../core/media/mp4-head';

const WRITE_BYTES = 4 * 1024 * 1024;

/** A file as a source of bytes; close it when done. */
export function openSource(file: string): ByteSource & { close: () => void } {
  const descriptor = openSync(file, 'r');
  return {
    size: fstatSync(descriptor).size,
    read: (at, length) => {
      const bytes = new Uint8Array(length);
      let got = 0;
      while (got < length) {
        const more = readSync(descriptor, bytes, got, length - got, at + got);
        if (more === 0) break;
        got += more;
      }
      return bytes.subarray(0, got);
    },
    close: () => closeSync(descriptor),
  };
}

/** Whether a recording is of the plain kind that is copied fast: H.264 and AAC in Matroska. */
export function isPlain(reader: MatroskaReader): boolean {
  return (
    reader.tracks.some((t) => t.kind === 'video') &&
    reader.tracks.every(
      (t) => t.codecPrivate.length >= 2 && t.codec === (t.kind === 'video' ? 'V_MPEG4/ISO/AVC' : 'A_AAC'),
    )
  );
}

export interface CopyRange {
  /** Milliseconds of the keyframe it begins with, and where it ends. */
  fromMs: number;
  untilMs: number;
}

/** The range from the keyframe at or before a wish. */
export function rangeOf(
  reader: MatroskaReader,
  fromSeconds: number | null,
  toSeconds: number | null,
): CopyRange {
  const untilMs = toSeconds === null ? Infinity : toSeconds * 1000;
  if (fromSeconds === null) return { fromMs: 0, untilMs };
  let fromMs = 0;
  for (const { track, ms, keyframe } of reader.samples()) {
    if (ms > fromSeconds * 1000) break;
    if (keyframe && reader.tracks[track].kind === 'video') fromMs = ms;
  }
  return { fromMs, untilMs };
}

/** Samples of the range, with their time from its beginning. */
export function* samplesIn(
  reader: MatroskaReader,
  { fromMs, untilMs }: CopyRange,
): Generator<MatroskaSample> {
  for (const sample of reader.samples())
    // From the very beginning also what comes before it: a decoder wants it, though nobody hears it.
    if ((sample.ms >= fromMs || fromMs === 0) && sample.ms < untilMs)
      yield { ...sample, ms: sample.ms - fromMs };
}

/**
 * Writes an MP4 with its head in front: the samples are looked through once for their tables and once for their bytes.
 * @param progress 0…1
 * @returns its length in seconds
 */
export function writeMp4(
  reader: MatroskaReader,
  range: CopyRange,
  file: string,
  progress: (share: number) => void,
): number {
  const tracks: Mp4Track[] = reader.tracks.map((t) => ({
    ...t,
    sizes: new NumberRow((n) => new Uint32Array(n)),
    ms: new NumberRow((n) => new Float64Array(n)),
    keyframes: new NumberRow((n) => new Uint8Array(n)),
  }));
  const chunks: Chunks[] = tracks.map(() => ({
    offsets: new NumberRow((n) => new Float64Array(n)),
    counts: new NumberRow((n) => new Uint32Array(n)),
  }));
  let dataBytes = 0;
  let before = -1;
  let run = 0;
  const endRun = () => {
    if (before >= 0) chunks[before].counts.push(run);
  };
  for (const { track, ms, keyframe, payload } of samplesIn(reader, range)) {
    tracks[track].sizes.push(payload.length);
    tracks[track].ms.push(ms);
    tracks[track].keyframes.push(keyframe ? 1 : 0);
    if (track !== before) {
      endRun();
      chunks[track].offsets.push(dataBytes);
      before = track;
      run = 0;
    }
    run += 1;
    dataBytes += payload.length;
  }
  endRun();
  const used = tracks.flatMap((t, i) => (t.sizes.length > 0 ? [i] : []));
  const head = mp4Head(
    used.map((i) => tracks[i]),
    used.map((i) => chunks[i]),
    dataBytes,
  );
  const descriptor = openSync(file, 'w', 0o600);
  try {
    const buffer = new Uint8Array(WRITE_BYTES);
    let filled = 0;
    let written = 0;
    const flush = () => {
      for (let at = 0; at < filled;) at += writeSync(descriptor, buffer, at, filled - at);
      written += filled;
      filled = 0;
      progress(written / (head.length + dataBytes));
    };
    const put = (bytes: Uint8Array) => {
      for (let at = 0; at < bytes.length;) {
        const part = Math.min(bytes.length - at, WRITE_BYTES - filled);
        buffer.set(bytes.subarray(at, at + part), filled);
        filled += part;
        at += part;
        if (filled === WRITE_BYTES) flush();
      }
    };
    put(head);
    for (const { payload } of samplesIn(reader, range)) put(payload);
    flush();
  } finally {
    closeSync(descriptor);
  }
  return Math.max(0, ...used.map((i) => tracks[i].ms.at(tracks[i].ms.length - 1))) / 1000;
}
