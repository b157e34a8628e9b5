/**
 * Reads the samples of a Matroska file one after the other, as they lie in it: only what recordings have (H.264, AAC
 * and Opus, no lacing), so that a copy can be made at the speed of the disk. A file that was cut off ends with its last whole sample.
 *
 * Sources: RFC 8794 (EBML), RFC 9559 (Matroska): §5.1 for the elements, §10.2 for the layout of a block.
 */
import { Fault } from '../fault';

/** Where the bytes come from. */
export interface ByteSource {
  readonly size: number;
  /** At most `length` bytes from `at`; fewer only at the end. */
  read(at: number, length: number): Uint8Array;
}

export interface MatroskaTrack {
  number: number;
  kind: 'video' | 'audio';
  codec: string;
  /** AVCDecoderConfigurationRecord or AudioSpecificConfig. */
  codecPrivate: Uint8Array;
  name: string;
  width: number;
  height: number;
  sampleRate: number;
  channels: number;
  /** How much later blocks are stamped than they are heard, milliseconds: what a decoder throws away at first. */
  delayMs: number;
  /** Nanoseconds from one picture to the next, when the file says that they are even; else null. */
  pictureNs: number | null;
}

export interface MatroskaSample {
  /** Index into the tracks. */
  track: number;
  /** Milliseconds, with the file's own resolution. */
  ms: number;
  keyframe: boolean;
  /** Valid until the next sample is asked for. */
  payload: Uint8Array;
}

const ID = {
  segment: 0x18538067,
  info: 0x1549a966,
  timestampScale: 0x2ad7b1,
  tracks: 0x1654ae6b,
  trackEntry: 0xae,
  trackNumber: 0xd7,
  trackType: 0x83,
  codecId: 0x86,
  codecPrivate: 0x63a2,
  codecDelay: 0x56aa,
  defaultDuration: 0x23e383,
  name: 0x536e,
  video: 0xe0,
  pixelWidth: 0xb0,
  pixelHeight: 0xba,
  audio: 0xe1,
  samplingFrequency: 0xb5,
  channels: 0x9f,
  cluster: 0x1f43b675,
  clusterTimestamp: 0xe7,
  simpleBlock: 0xa3,
  blockGroup: 0xa0,
  block: 0xa1,
  referenceBlock: 0xfb,
  ebml: 0x1a45dfa3,
} as const;

const WINDOW_BYTES = 1024 * 1024;
const MAX_HEADER_BYTES = 12;
/** Descriptions are small; anything larger is not one. */
const MAX_DESCRIPTION_BYTES = 1024 * 1024;

interface Element {
  id: number;
  /** Where its contents begin. */
  at: number;
  /** Infinity when it is not known. */
  size: number;
}

/** Looks at a file through a window, so that memory stays small whatever its length. */
class Window {
  #bytes: Uint8Array = new Uint8Array(0);
  #from = 0;

  constructor(readonly source: ByteSource) {}

  /** Exactly these bytes, or null beyond the end. */
  get(at: number, length: number): Uint8Array | null {
    if (at + length > this.source.size) return null;
    if (at < this.#from || at + length > this.#from + this.#bytes.length) {
      this.#bytes = this.source.read(at, Math.max(length, Math.min(WINDOW_BYTES, this.source.size - at)));
      this.#from = at;
      if (this.#bytes.length < length) return null;
    }
    return this.#bytes.subarray(at - this.#from, at - this.#from + length);
  }
}

const unsigned = (bytes: Uint8Array): number => bytes.reduce((value, byte) => value * 256 + byte, 0);
const text = (bytes: Uint8Array): string => new TextDecoder().decode(bytes).replace(/\0+$/, '');

function float(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return bytes.length === 8 ? view.getFloat64(0) : bytes.length === 4 ? view.getFloat32(0) : 0;
}

/** Identifier and size of the element at `at` (RFC 8794 §4–6); null at the end. */
function elementAt(window: Window, at: number): Element | null {
  const left = window.source.size - at;
  if (left < 2) return null;
  const head = window.get(at, Math.min(MAX_HEADER_BYTES, left));
  if (!head) return null;
  const idBytes = Math.clz32(head[0]) - 23;
  if (idBytes > 4 || idBytes >= head.length) throw damaged(at);
  const id = unsigned(head.subarray(0, idBytes));
  const sizeBytes = Math.clz32(head[idBytes]) - 23;
  if (sizeBytes > 8 || idBytes + sizeBytes > head.length) {
    if (left < MAX_HEADER_BYTES) return null;
    throw damaged(at);
  }
  const first = head[idBytes] & (0xff >> sizeBytes);
  const rest = head.subarray(idBytes + 1, idBytes + sizeBytes);
  const unknown = first === 0xff >> sizeBytes && rest.every((b) => b === 0xff);
  let size = first;
  for (const byte of rest) size = size * 256 + byte;
  return { id, at: at + idBytes + sizeBytes, size: unknown ? Infinity : size };
}

const damaged = (at: number) =>
  new Fault('matroska.damaged', `this is no Matroska file, or it is damaged at byte ${at}`);

function* childrenOf(bytes: Uint8Array): Generator<{ id: number; bytes: Uint8Array }> {
  const window = new Window({ size: bytes.length, read: (at, length) => bytes.subarray(at, at + length) });
  for (let at = 0; at < bytes.length;) {
    const element = elementAt(window, at);
    if (!element || element.at + element.size > bytes.length) return;
    yield { id: element.id, bytes: bytes.subarray(element.at, element.at + element.size) };
    at = element.at + element.size;
  }
}

function trackOf(bytes: Uint8Array): MatroskaTrack | null {
  const track: MatroskaTrack = {
    number: 0,
    kind: 'video',
    codec: '',
    codecPrivate: new Uint8Array(0),
    name: '',
    width: 0,
    height: 0,
    sampleRate: 8000,
    channels: 1,
    delayMs: 0,
    pictureNs: null,
  };
  let type = 0;
  for (const child of childrenOf(bytes)) {
    if (child.id === ID.trackNumber) track.number = unsigned(child.bytes);
    else if (child.id === ID.trackType) type = unsigned(child.bytes);
    else if (child.id === ID.codecId) track.codec = text(child.bytes);
    else if (child.id === ID.codecPrivate) track.codecPrivate = child.bytes.slice();
    else if (child.id === ID.codecDelay) track.delayMs = unsigned(child.bytes) / 1e6;
    else if (child.id === ID.defaultDuration) track.pictureNs = unsigned(child.bytes) || null;
    else if (child.id === ID.name) track.name = text(child.bytes);
    else if (child.id === ID.video)
      for (const { id, bytes: value } of childrenOf(child.bytes)) {
        if (id === ID.pixelWidth) track.width = unsigned(value);
        else if (id === ID.pixelHeight) track.height = unsigned(value);
      }
    else if (child.id === ID.audio)
      for (const { id, bytes: value } of childrenOf(child.bytes)) {
        if (id === ID.samplingFrequency) track.sampleRate = float(value);
        else if (id === ID.channels) track.channels = unsigned(value);
      }
  }
  if (type !== 1 && type !== 2) return null;
  track.kind = type === 1 ? 'video' : 'audio';
  // Of sound it is the length of a frame, which nobody asks about.
  if (track.kind === 'audio') track.pictureNs = null;
  return track;
}

export class MatroskaReader {
  readonly tracks: MatroskaTrack[] = [];
  readonly #window: Window;
  #msPerTick = 1;
  #firstCluster = 0;

  /** @throws Fault `matroska.damaged` when it does not begin as Matroska does */
  constructor(readonly source: ByteSource) {
    this.#window = new Window(source);
    const first = elementAt(this.#window, 0);
    if (first?.id !== ID.ebml) throw damaged(0);
    for (let at = 0; ;) {
      const element = elementAt(this.#window, at);
      if (!element) break;
      if (element.id === ID.cluster) {
        this.#firstCluster = at;
        break;
      }
      if (element.id === ID.segment) {
        at = element.at;
        continue;
      }
      if (element.id === ID.info || element.id === ID.tracks) {
        const bytes =
          element.size <= MAX_DESCRIPTION_BYTES ? this.#window.get(element.at, element.size) : null;
        if (!bytes) throw damaged(at);
        this.#describe(element.id, bytes);
      }
      at = element.at + element.size;
    }
    if (this.tracks.length === 0) throw damaged(0);
  }

  /** @throws Fault `matroska.lacing` for a file whose blocks hold several samples; `matroska.damaged` */
  *samples(): Generator<MatroskaSample> {
    let cluster = 0;
    for (let at = this.#firstCluster; at > 0;) {
      const element = elementAt(this.#window, at);
      if (!element) return;
      if (element.id === ID.cluster) {
        at = element.at;
        continue;
      }
      // Cut off in the middle of it.
      if (element.at + element.size > this.source.size) return;
      if (element.id === ID.clusterTimestamp) cluster = unsigned(this.#window.get(element.at, element.size)!);
      else if (element.id === ID.simpleBlock) {
        const sample = this.#sample(this.#window.get(element.at, element.size)!, cluster);
        if (sample) yield sample;
      } else if (element.id === ID.blockGroup) {
        const sample = this.#group(this.#window.get(element.at, element.size)!, cluster);
        if (sample) yield sample;
      }
      at = element.at + element.size;
    }
  }

  #describe(id: number, bytes: Uint8Array): void {
    for (const child of childrenOf(bytes)) {
      if (id === ID.info && child.id === ID.timestampScale) this.#msPerTick = unsigned(child.bytes) / 1e6;
      else if (id === ID.tracks && child.id === ID.trackEntry) {
        const track = trackOf(child.bytes);
        if (track) this.tracks.push(track);
      }
    }
  }

  /** A block: track number, time since the cluster's, flags, payload. */
  #sample(bytes: Uint8Array, cluster: number): MatroskaSample | null {
    const numberBytes = Math.clz32(bytes[0]) - 23;
    if (numberBytes > 2 || bytes.length < numberBytes + 3)
      throw new Fault('matroska.damaged', 'a block is damaged');
    const number = numberBytes === 1 ? bytes[0] & 0x7f : ((bytes[0] & 0x3f) << 8) | bytes[1];
    const track = this.tracks.findIndex((t) => t.number === number);
    if (track < 0) return null;
    const relative = ((bytes[numberBytes] << 24) >> 16) | bytes[numberBytes + 1];
    const flags = bytes[numberBytes + 2];
    if ((flags & 0x06) !== 0)
      throw new Fault('matroska.lacing', 'blocks of several samples are not read here');
    return {
      track,
      ms: (cluster + relative) * this.#msPerTick - this.tracks[track].delayMs,
      keyframe: (flags & 0x80) !== 0,
      payload: bytes.subarray(numberBytes + 3),
    };
  }

  #group(bytes: Uint8Array, cluster: number): MatroskaSample | null {
    let sample: MatroskaSample | null = null;
    let refers = false;
    for (const child of childrenOf(bytes)) {
      if (child.id === ID.block) sample = this.#sample(child.bytes, cluster);
      else if (child.id === ID.referenceBlock) refers = true;
    }
    return sample && { ...sample, keyframe: !refers };
  }
}
