/**
 * How the planes of an H.264 stream are to be read, as its parameter sets say it.
 * Sources: ITU-T H.264 §7.3.2.1.1 (sequence parameter set), §7.4.1.1 (emulation prevention), Annex E (VUI); ITU-T H.273
 * (code points).
 */
import { Fault } from '../fault';
import { NAL, parseAvcConfig } from './avc';

/** Primaries and transfer are those of a screen, BT.709, whichever matrix made the planes. */
export interface StreamColour {
  /** Brightness 0…255, and not 16…235. */
  fullRange: boolean;
  matrix: 'bt709' | 'bt601';
}

/** What players take for granted where a stream says nothing. */
export const USUAL_COLOUR: StreamColour = { fullRange: false, matrix: 'bt709' };

const BT709 = 1;
/** SMPTE 170M, the one of BT.601 in this list. */
const MATRIX_CODES = { bt709: BT709, bt601: 6 } as const;
/** `video_format`: unspecified. */
const FORMAT_UNSPECIFIED = 5;
const EXTENDED_SAR = 255;
/** Profiles whose sets say more of chroma and scaling (§7.3.2.1.1). */
const HIGH_PROFILES: readonly number[] = [100, 110, 122, 244, 44, 83, 86, 118, 128, 138, 139, 134, 135];

/** Bits of a parameter set, read in order and copied while they are. */
class BitCopier {
  readonly #out: number[] = [];
  #at = 0;
  #copying = true;

  constructor(
    readonly bytes: Uint8Array,
    /** Bits before the stop bit. */
    readonly length: number,
  ) {}

  get left(): number {
    return this.length - this.#at;
  }

  bit(): number {
    if (this.#at >= this.length) throw new Fault('avc.set', 'H.264 sequence parameter set ends too early');
    const bit = (this.bytes[this.#at >> 3] >> (7 - (this.#at & 7))) & 1;
    this.#at += 1;
    if (this.#copying) this.#out.push(bit);
    return bit;
  }

  bits(count: number): number {
    let value = 0;
    for (let i = 0; i < count; i++) value = value * 2 + this.bit();
    return value;
  }

  /** Exp-Golomb, ue(v) (§9.1). */
  exp(): number {
    let zeros = 0;
    while (this.bit() === 0)
      if (++zeros > 32) throw new Fault('avc.set', 'H.264 sequence parameter set has a number without end');
    return 2 ** zeros - 1 + this.bits(zeros);
  }

  /** se(v) (§9.1.1). */
  signedExp(): number {
    const code = this.exp();
    return code % 2 === 1 ? (code + 1) / 2 : -code / 2;
  }

  /** Reads on without taking over. */
  skipping<T>(read: () => T): T {
    this.#copying = false;
    const value = read();
    this.#copying = true;
    return value;
  }

  write(value: number, count: number): void {
    for (let i = count - 1; i >= 0; i--) this.#out.push((value >> i) & 1);
  }

  /** The copy, with stop bit and padding (§7.3.2.11). */
  whole(): Uint8Array {
    const bits = [...this.#out, 1];
    while (bits.length % 8 !== 0) bits.push(0);
    return Uint8Array.from({ length: bits.length / 8 }, (_, i) =>
      bits.slice(i * 8, i * 8 + 8).reduce((byte, bit) => byte * 2 + bit, 0),
    );
  }
}

function withoutEmulation(unit: Uint8Array): Uint8Array {
  const out: number[] = [];
  let zeros = 0;
  for (const byte of unit) {
    if (zeros >= 2 && byte === 3) {
      zeros = 0;
      continue;
    }
    zeros = byte === 0 ? zeros + 1 : 0;
    out.push(byte);
  }
  return Uint8Array.from(out);
}

function withEmulation(unit: Uint8Array): Uint8Array {
  const out: number[] = [];
  let zeros = 0;
  for (const byte of unit) {
    if (zeros >= 2 && byte <= 3) {
      out.push(3);
      zeros = 0;
    }
    zeros = byte === 0 ? zeros + 1 : 0;
    out.push(byte);
  }
  return Uint8Array.from(out);
}

function copierOf(unit: Uint8Array): BitCopier {
  const bytes = withoutEmulation(unit);
  let end = bytes.length;
  while (end > 0 && bytes[end - 1] === 0) end -= 1;
  if (end < 4) throw new Fault('avc.set', 'H.264 sequence parameter set is empty');
  const trailing = bytes[end - 1];
  let zeros = 0;
  while (((trailing >> zeros) & 1) === 0) zeros += 1;
  return new BitCopier(bytes, end * 8 - zeros - 1);
}

function scalingList(bits: BitCopier, size: number): void {
  let [last, next] = [8, 8];
  for (let i = 0; i < size; i++) {
    if (next !== 0) next = (last + bits.signedExp() + 256) % 256;
    if (next !== 0) last = next;
  }
}

/** Up to where the set says whether it has usability information. */
function upToUsability(bits: BitCopier): void {
  bits.bits(8);
  const profile = bits.bits(8);
  bits.bits(16);
  bits.exp();
  if (HIGH_PROFILES.includes(profile)) {
    const chroma = bits.exp();
    if (chroma === 3) bits.bit();
    bits.exp();
    bits.exp();
    bits.bit();
    if (bits.bit())
      for (let i = 0; i < (chroma === 3 ? 12 : 8); i++) if (bits.bit()) scalingList(bits, i < 6 ? 16 : 64);
  }
  bits.exp();
  const order = bits.exp();
  if (order === 0) bits.exp();
  else if (order === 1) {
    bits.bit();
    bits.signedExp();
    bits.signedExp();
    const count = bits.exp();
    for (let i = 0; i < count; i++) bits.signedExp();
  }
  bits.exp();
  bits.bit();
  bits.exp();
  bits.exp();
  if (!bits.bit()) bits.bit();
  bits.bit();
  if (bits.bit()) for (let i = 0; i < 4; i++) bits.exp();
}

/** Up to where the usability information says what kind of signal it is. */
function upToSignal(bits: BitCopier): void {
  if (bits.bit() && bits.bits(8) === EXTENDED_SAR) bits.bits(32);
  if (bits.bit()) bits.bit();
}

/** What a sequence parameter set says; null where it says nothing, or something that is no screen's. */
function colourOfSet(unit: Uint8Array): StreamColour | null {
  const bits = copierOf(unit);
  upToUsability(bits);
  if (!bits.bit()) return null;
  upToSignal(bits);
  if (!bits.bit()) return null;
  bits.bits(3);
  const fullRange = bits.bit() === 1;
  if (!bits.bit()) return null;
  const [primaries, , code] = [bits.bits(8), bits.bits(8), bits.bits(8)];
  const matrix =
    code === MATRIX_CODES.bt709 ? 'bt709' : code === 5 || code === MATRIX_CODES.bt601 ? 'bt601' : null;
  return matrix && primaries === BT709 ? { fullRange, matrix } : null;
}

/**
 * A sequence parameter set that says this and is else as it was.
 * @throws Fault `avc.set` when it is damaged
 */
export function setWithColour(unit: Uint8Array, { fullRange, matrix }: StreamColour): Uint8Array {
  const bits = copierOf(unit);
  upToUsability(bits);
  const had = bits.skipping(() => bits.bit()) === 1;
  bits.write(1, 1);
  if (had) upToSignal(bits);
  else bits.write(0, 2);
  if (had)
    bits.skipping(() => {
      if (!bits.bit()) return;
      bits.bits(4);
      if (bits.bit()) bits.bits(24);
    });
  bits.write(1, 1);
  bits.write(FORMAT_UNSPECIFIED, 3);
  bits.write(fullRange ? 1 : 0, 1);
  bits.write(1, 1);
  for (const code of [BT709, BT709, MATRIX_CODES[matrix]]) bits.write(code, 8);
  if (had) while (bits.left > 0) bits.bit();
  // Where chroma lies, timing, two kinds of buffers, structure of pictures, restrictions: none of it is said.
  else bits.write(0, 6);
  return withEmulation(bits.whole());
}

/** What a configuration record says of its planes; null where it says nothing. @throws Fault `avc.*` when damaged */
export function colourOf(config: Uint8Array): StreamColour | null {
  return colourOfSet(parseAvcConfig(config).sps[0]);
}

/**
 * A configuration record (ISO/IEC 14496-15 §5.3.3.1) whose sets say how planes are to be read.
 * @throws Fault `avc.*` when it is damaged
 */
export function configWithColour(config: Uint8Array, colour: StreamColour): Uint8Array {
  const sets = parseAvcConfig(config).sps;
  const out: number[] = [...config.subarray(0, 6)];
  let at = 6;
  for (const unit of sets) {
    const now = setWithColour(unit, colour);
    out.push(now.length >> 8, now.length & 255, ...now);
    at += 2 + unit.length;
  }
  return Uint8Array.from([...out, ...config.subarray(at)]);
}

/**
 * An access unit with start codes (Annex B) whose sets say how planes are to be read; others are given back as they are.
 * @throws Fault `avc.set` when a set is damaged
 */
export function annexBWithColour(bytes: Uint8Array, colour: StreamColour): Uint8Array {
  const starts: number[] = [];
  for (let i = 0; i + 3 < bytes.length; i++)
    if (bytes[i] === 0 && bytes[i + 1] === 0 && bytes[i + 2] === 1) starts.push(i + 3);
  const sets = starts.filter((at) => (bytes[at] & 0x1f) === NAL.sps);
  if (sets.length === 0) return bytes;
  const out: number[] = [];
  let from = 0;
  for (const at of sets) {
    const next = starts.find((start) => start > at);
    // Of the next start code; a fourth byte of it, zero, belongs to no unit.
    let end = next === undefined ? bytes.length : next - 3;
    while (bytes[end - 1] === 0) end -= 1;
    out.push(...bytes.subarray(from, at), ...setWithColour(bytes.subarray(at, end), colour));
    from = end;
  }
  const rest = bytes.subarray(from);
  const whole = new Uint8Array(out.length + rest.length);
  whole.set(out);
  whole.set(rest, out.length);
  return whole;
}

/**
 * How planes were made, by the brightness (0…255) that white and red came out with: white is 235 or 255, and red is the
 * matrix's own share of it (BT.601 0.299, BT.709 0.2126).
 */
export function colourByBrightness(white: number, red: number): StreamColour {
  const fullRange = white > 245;
  const share = fullRange ? red / 255 : (red - 16) / 219;
  return { fullRange, matrix: share > (0.299 + 0.2126) / 2 ? 'bt601' : 'bt709' };
}
