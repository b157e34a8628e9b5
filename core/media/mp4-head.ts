/**
 * The head of an MP4 file whose samples lie behind it in a known order: `ftyp` and `moov` first, so that it can be played
 * while it is being fetched.
 *
 * Sources: ISO/IEC 14496-12 (boxes: §8), 14496-14 and 14496-1 §7.2.6 (AAC's descriptors), 14496-15 §5.4 (avc1).
 */
import { PictureGrid } from '../delivery/picture-grid';
import { ByteWriter, concatBytes } from './bytes';

/** Numbers in a row that grow by doubling: a long evening has millions. */
export class NumberRow {
  #values: Float64Array | Uint32Array | Uint8Array;
  length = 0;

  constructor(readonly make: (length: number) => Float64Array | Uint32Array | Uint8Array) {
    this.#values = make(1024);
  }

  push(value: number): void {
    if (this.length === this.#values.length) {
      const grown = this.make(this.length * 2);
      grown.set(this.#values as never);
      this.#values = grown;
    }
    this.#values[this.length++] = value;
  }

  at(index: number): number {
    return this.#values[index];
  }
}

export interface Mp4Track {
  kind: 'video' | 'audio';
  codecPrivate: Uint8Array;
  name: string;
  width: number;
  height: number;
  sampleRate: number;
  channels: number;
  /** Nanoseconds from one picture to the next, when they are even; else null. */
  pictureNs: number | null;
  /** Of each sample: bytes, milliseconds since the beginning, and whether decoding can start there. */
  sizes: NumberRow;
  ms: NumberRow;
  keyframes: NumberRow;
}

const VIDEO_TIMESCALE = 90_000;
/** AAC-LC: samples of sound in an access unit. */
const AAC_FRAMES = 1024;
/** Stamps in whole milliseconds jitter by so much around the true ones. */
const JITTER_MS = 3;
/** What whole milliseconds may be beside the truth. */
const ROUNDING_MS = 1;
const MOVIE_TIMESCALE = 1000;

const ascii = (text: string) => new TextEncoder().encode(text);

function box(type: string, ...parts: Uint8Array[]): Uint8Array {
  const length = parts.reduce((sum, p) => sum + p.length, 8);
  return concatBytes([new ByteWriter().u32(length).bytes(ascii(type)).finish(), ...parts]);
}

function fullBox(type: string, version: number, flags: number, ...parts: Uint8Array[]): Uint8Array {
  return box(type, new ByteWriter().u8(version).u24(flags).finish(), ...parts);
}

/** The unit matrix (§8.2.2). */
function matrix(writer: ByteWriter): ByteWriter {
  for (const value of [0x10000, 0, 0, 0, 0x10000, 0, 0, 0, 0x40000000]) writer.u32(value);
  return writer;
}

function u64(writer: ByteWriter, value: number): ByteWriter {
  return writer.u32(Math.floor(value / 2 ** 32)).u32(value % 2 ** 32);
}

/** Decoding times of all samples in the track's own timescale; one more at the end, where the track ends. */
function timesOf(track: Mp4Track): { timescale: number; times: Float64Array } {
  const even = track.kind === 'video' && track.pictureNs !== null ? evenTimes(track, track.pictureNs) : null;
  if (even) return even;
  const count = track.ms.length;
  const times = new Float64Array(count + 1);
  const timescale = track.kind === 'video' ? VIDEO_TIMESCALE : track.sampleRate;
  const jitter = (JITTER_MS * timescale) / 1000;
  for (let i = 0; i < count; i++) {
    const stamp = Math.round((track.ms.at(i) * timescale) / 1000);
    // Sound goes on seamlessly where its stamps say so but for their rounding.
    const next = track.kind === 'audio' && i > 0 ? times[i - 1] + AAC_FRAMES : stamp;
    times[i] = Math.abs(next - stamp) <= jitter ? next : stamp;
    if (i > 0 && times[i] <= times[i - 1]) times[i] = times[i - 1] + 1;
  }
  const last = count > 1 ? times[count - 1] - times[count - 2] : timescale / 30;
  times[count] =
    (count > 0 ? times[count - 1] : 0) + (track.kind === 'audio' ? AAC_FRAMES : Math.round(last));
  return { timescale, times };
}

/**
 * Pictures that are even in truth, on their grid: editors take a file for constant only when every step is the same.
 * @returns null for a file that says so, and is not
 */
function evenTimes(track: Mp4Track, pictureNs: number): { timescale: number; times: Float64Array } | null {
  const { numerator, denominator } = new PictureGrid(1e9 / pictureNs);
  const count = track.ms.length;
  const times = new Float64Array(count + 1);
  for (let i = 0; i < count; i++) {
    const place = (track.ms.at(i) * numerator) / denominator / 1000;
    const index = Math.round(place);
    if ((Math.abs(place - index) * denominator * 1000) / numerator > ROUNDING_MS) return null;
    times[i] = Math.max(index * denominator, i > 0 ? times[i - 1] + 1 : -Infinity);
  }
  times[count] = (count > 0 ? times[count - 1] : 0) + denominator;
  return { timescale: numerator, times };
}

function sampleEntry(track: Mp4Track): Uint8Array {
  const head = new ByteWriter().u32(0).u16(0).u16(1);
  if (track.kind === 'video') {
    head
      .u32(0)
      .u32(0)
      .u32(0)
      .u32(0)
      .u16(track.width)
      .u16(track.height)
      .u32(0x480000)
      .u32(0x480000)
      .u32(0)
      .u16(1);
    head.bytes(new Uint8Array(32)).u16(24).u16(0xffff);
    return box('avc1', head.finish(), box('avcC', track.codecPrivate));
  }
  head
    .u32(0)
    .u32(0)
    .u16(track.channels)
    .u16(16)
    .u32(0)
    .u32(Math.min(65_535, track.sampleRate) * 65_536);
  return box('mp4a', head.finish(), fullBox('esds', 0, 0, elementaryStream(track.codecPrivate)));
}

/** ES_Descriptor with the decoder's configuration (ISO/IEC 14496-1 §7.2.6.5). */
function elementaryStream(config: Uint8Array): Uint8Array {
  const descriptor = (tag: number, bytes: Uint8Array) =>
    new ByteWriter().u8(tag).u8(0x80).u8(0x80).u8(0x80).u8(bytes.length).bytes(bytes).finish();
  const specific = descriptor(5, config);
  // AAC, audio stream, no buffer size or rates given.
  const decoder = new ByteWriter().u8(0x40).u8(0x15).u24(0).u32(0).u32(0).bytes(specific).finish();
  const body = new ByteWriter()
    .u16(1)
    .u8(0)
    .bytes(descriptor(4, decoder))
    .bytes(descriptor(6, new Uint8Array([2])));
  return descriptor(3, body.finish());
}

/** Runs of equal differences (§8.6.1.2). */
function timeToSample(times: Float64Array): Uint8Array {
  const writer = new ByteWriter();
  let runs = 0;
  let run = 0;
  let delta = -1;
  const flush = () => {
    if (run === 0) return;
    writer.u32(run).u32(delta);
    runs += 1;
  };
  for (let i = 0; i + 1 < times.length; i++) {
    const next = times[i + 1] - times[i];
    if (next !== delta) {
      flush();
      run = 0;
      delta = next;
    }
    run += 1;
  }
  flush();
  return fullBox('stts', 0, 0, new ByteWriter().u32(runs).finish(), writer.finish());
}

/** Where each run of samples of one track begins, and how long it is. */
export interface Chunks {
  offsets: NumberRow;
  counts: NumberRow;
}

function sampleToChunk(counts: NumberRow): Uint8Array {
  const writer = new ByteWriter();
  let entries = 0;
  for (let i = 0; i < counts.length; i++)
    if (i === 0 || counts.at(i) !== counts.at(i - 1)) {
      writer
        .u32(i + 1)
        .u32(counts.at(i))
        .u32(1);
      entries += 1;
    }
  return fullBox('stsc', 0, 0, new ByteWriter().u32(entries).finish(), writer.finish());
}

/** A track that begins later than the movie, or earlier with what is not to be heard, says so (§8.6.6). */
function editList(start: number, duration: number, timescale: number): Uint8Array {
  const inMovie = (time: number) => Math.round((time * MOVIE_TIMESCALE) / timescale);
  const list = new ByteWriter();
  if (start > 0) list.u32(2).u32(inMovie(start)).u32(0xffffffff).u32(0x10000);
  else list.u32(1);
  list
    .u32(inMovie(duration + Math.min(0, start)))
    .u32(Math.max(0, -start))
    .u32(0x10000);
  return box('edts', fullBox('elst', 0, 0, list.finish()));
}

function trak(
  track: Mp4Track,
  chunks: Chunks,
  id: number,
  base: number,
): { bytes: Uint8Array; seconds: number } {
  const { timescale, times } = timesOf(track);
  const count = track.sizes.length;
  const start = times[0] ?? 0;
  const duration = times[count] - start;
  const seconds = times[count] / timescale;
  const sizes = new ByteWriter().u32(0).u32(count);
  for (let i = 0; i < count; i++) sizes.u32(track.sizes.at(i));
  const offsets = new ByteWriter().u32(chunks.offsets.length);
  for (let i = 0; i < chunks.offsets.length; i++) u64(offsets, base + chunks.offsets.at(i));
  const tables = [
    fullBox('stsd', 0, 0, new ByteWriter().u32(1).finish(), sampleEntry(track)),
    timeToSample(times),
    sampleToChunk(chunks.counts),
    fullBox('stsz', 0, 0, sizes.finish()),
    fullBox('co64', 0, 0, offsets.finish()),
  ];
  if (track.kind === 'video') {
    const keys = new ByteWriter();
    let n = 0;
    for (let i = 0; i < count; i++)
      if (track.keyframes.at(i) !== 0) {
        keys.u32(i + 1);
        n += 1;
      }
    tables.push(fullBox('stss', 0, 0, new ByteWriter().u32(n).finish(), keys.finish()));
  }
  const sound = track.kind === 'audio';
  // Version 0 wants 32 bits of duration; hours in milliseconds fit.
  const tkhd = new ByteWriter()
    .u32(0)
    .u32(0)
    .u32(id)
    .u32(0)
    .u32(Math.round(seconds * MOVIE_TIMESCALE))
    .u32(0)
    .u32(0)
    .u16(0)
    .u16(sound ? 1 : 0)
    .u16(sound ? 0x100 : 0)
    .u16(0);
  matrix(tkhd)
    .u32(track.width * 65_536)
    .u32(track.height * 65_536);
  const media = box(
    'mdia',
    fullBox(
      'mdhd',
      1,
      0,
      u64(u64(u64(new ByteWriter(), 0), 0).u32(timescale), duration)
        .u16(0x55c4)
        .u16(0)
        .finish(),
    ),
    fullBox(
      'hdlr',
      0,
      0,
      new ByteWriter()
        .u32(0)
        .bytes(ascii(sound ? 'soun' : 'vide'))
        .u32(0)
        .u32(0)
        .u32(0)
        .bytes(ascii(track.name))
        .u8(0)
        .finish(),
    ),
    box(
      'minf',
      sound
        ? fullBox('smhd', 0, 0, new ByteWriter().u32(0).finish())
        : fullBox('vmhd', 0, 1, new ByteWriter().u32(0).u32(0).finish()),
      box('dinf', fullBox('dref', 0, 0, new ByteWriter().u32(1).finish(), fullBox('url ', 0, 1))),
      box('stbl', ...tables),
    ),
  );
  const edit = start === 0 ? [] : [editList(start, duration, timescale)];
  // The first sound is what players take; the others are there for editors.
  const flags = id <= 2 ? 3 : 2;
  return { bytes: box('trak', fullBox('tkhd', 0, flags, tkhd.finish()), ...edit, media), seconds };
}

/**
 * `ftyp`, `moov` and the header of `mdat`; the samples follow it in the order of the chunks.
 * @param chunks of each track; offsets count from the first byte of the samples
 * @param dataBytes of all samples
 */
export function mp4Head(
  tracks: readonly Mp4Track[],
  chunks: readonly Chunks[],
  dataBytes: number,
): Uint8Array {
  const ftyp = box('ftyp', ascii('isom'), new ByteWriter().u32(512).finish(), ascii('isomiso2avc1mp41'));
  const make = (base: number) => {
    const traks = tracks.map((track, i) => trak(track, chunks[i], i + 1, base));
    const seconds = Math.max(0, ...traks.map((t) => t.seconds));
    const mvhd = new ByteWriter()
      .u32(0)
      .u32(0)
      .u32(MOVIE_TIMESCALE)
      .u32(Math.round(seconds * MOVIE_TIMESCALE))
      .u32(0x10000)
      .u16(0x100)
      .u16(0)
      .u32(0)
      .u32(0);
    matrix(mvhd);
    for (let i = 0; i < 6; i++) mvhd.u32(0);
    mvhd.u32(tracks.length + 1);
    return box('moov', fullBox('mvhd', 0, 0, mvhd.finish()), ...traks.map((t) => t.bytes));
  };
  const mdatBytes = 16;
  const length = ftyp.length + make(0).length + mdatBytes;
  const mdat = u64(new ByteWriter().u32(1).bytes(ascii('mdat')), dataBytes + mdatBytes).finish();
  return concatBytes([ftyp, make(length), mdat]);
}
