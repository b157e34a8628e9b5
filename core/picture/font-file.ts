/**
 * What a font file is, by its table directory: OpenType (ISO/IEC 14496-22), WOFF 1.0 and WOFF 2.0 (both W3C). Whether its
 * outlines are sound is for whoever draws with it; here it is told whether it is a font at all, and a whole one.
 */
import { Fault } from '../fault';

export interface FontFacts {
  format: 'ttf' | 'otf' | 'woff' | 'woff2';
  /** Whether its weight (or width, slant …) can be anything in a range. */
  variable: boolean;
}

/** Whole scripts of East Asia take up to 20 MB. */
export const MAX_FONT_BYTES = 32 * 1024 * 1024;
const MAX_TABLES = 512;
/** Without these no browser draws with it. */
const NEEDED = ['cmap', 'head', 'hhea', 'hmtx', 'maxp', 'name'];
/** One of these has the letters' shapes. */
const SHAPES = ['glyf', 'CFF ', 'CFF2', 'sbix', 'CBDT'];

/** Tags that WOFF 2.0 writes as their number (its section 5.2). */
const KNOWN_TAGS = (
  'cmap|head|hhea|hmtx|maxp|name|OS/2|post|cvt |fpgm|glyf|loca|prep|CFF |VORG|EBDT|EBLC|gasp|hdmx|kern|LTSH|PCLT|VDMX|' +
  'vhea|vmtx|BASE|GDEF|GPOS|GSUB|EBSC|JSTF|MATH|CBDT|CBLC|COLR|CPAL|SVG |sbix|acnt|avar|bdat|bloc|bsln|cvar|fdsc|feat|' +
  'fmtx|fvar|gvar|hsty|just|lcar|mort|morx|opbd|prop|trak|Zapf|Silf|Glat|Gloc|Feat|Sill'
).split('|');
/** Its number for a tag that stands there in letters. */
const SPELT = 63;
const HEAD_BYTES = { sfnt: 12, woff: 44, woff2: 48 } as const;

const damaged = (why: string): Fault =>
  new Fault('font.damaged', `the font is damaged (${why}): get the file anew`);

class Reader {
  readonly #view: DataView;

  constructor(readonly bytes: Uint8Array) {
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  /** @throws Fault `font.damaged` beyond the end */
  u8(at: number): number {
    this.#within(at, 1);
    return this.#view.getUint8(at);
  }

  u16(at: number): number {
    this.#within(at, 2);
    return this.#view.getUint16(at);
  }

  u32(at: number): number {
    this.#within(at, 4);
    return this.#view.getUint32(at);
  }

  tag(at: number): string {
    this.#within(at, 4);
    return String.fromCharCode(...this.bytes.subarray(at, at + 4));
  }

  #within(at: number, length: number): void {
    if (at + length > this.bytes.length) throw damaged('it is cut off');
  }
}

/** Whether the first bytes are those of a font, or of several in one file. */
export function looksLikeFont(head: Uint8Array): boolean {
  if (head.length < HEAD_BYTES.sfnt) return false;
  const tag = new Reader(head).tag(0);
  return ['\0\x01\0\0', 'OTTO', 'true', 'ttcf', 'wOFF', 'wOF2'].includes(tag);
}

/**
 * @param bytes the whole file
 * @throws Fault `font.damaged`, or `font.collection` for several fonts in one file, with what to do
 */
export function readFontFile(bytes: Uint8Array): FontFacts {
  const reader = new Reader(bytes);
  const first = reader.tag(0);
  if (first === 'ttcf')
    throw new Fault(
      'font.collection',
      'the file holds several fonts: take one of them out as TTF or OTF, and bring that in',
    );
  const { tags, format } =
    first === 'wOFF' ? ofWoff(reader) : first === 'wOF2' ? ofWoff2(reader) : ofSfnt(reader, first);
  for (const tag of NEEDED) if (!tags.has(tag)) throw damaged(`its table "${tag}" is missing`);
  if (!SHAPES.some((tag) => tags.has(tag))) throw damaged('it has no letters');
  return { format, variable: tags.has('fvar') };
}

interface Tables {
  tags: Set<string>;
  format: FontFacts['format'];
}

function countOf(reader: Reader, at: number): number {
  const count = reader.u16(at);
  if (count === 0 || count > MAX_TABLES) throw damaged(`${count} tables`);
  return count;
}

function ofSfnt(reader: Reader, version: string): Tables {
  const tags = new Set<string>();
  const count = countOf(reader, 4);
  for (let i = 0; i < count; i++) {
    const at = HEAD_BYTES.sfnt + i * 16;
    if (reader.u32(at + 8) + reader.u32(at + 12) > reader.bytes.length) throw damaged('it is cut off');
    tags.add(reader.tag(at));
  }
  return { tags, format: version === 'OTTO' ? 'otf' : 'ttf' };
}

function ofWoff(reader: Reader): Tables {
  if (reader.u32(8) !== reader.bytes.length) throw damaged('it is cut off');
  const tags = new Set<string>();
  const count = countOf(reader, 12);
  for (let i = 0; i < count; i++) {
    const at = HEAD_BYTES.woff + i * 20;
    if (reader.u32(at + 4) + reader.u32(at + 8) > reader.bytes.length) throw damaged('it is cut off');
    tags.add(reader.tag(at));
  }
  return { tags, format: 'woff' };
}

function ofWoff2(reader: Reader): Tables {
  if (reader.u32(8) !== reader.bytes.length) throw damaged('it is cut off');
  const tags = new Set<string>();
  let at: number = HEAD_BYTES.woff2;
  /** A number of up to 32 bits, seven of them a byte (UIntBase128, section 4.1). */
  const skipNumber = () => {
    for (let digits = 0; digits < 5; digits++) if (reader.u8(at++) < 0x80) return;
    throw damaged('a number in it has no end');
  };
  const count = countOf(reader, 12);
  for (let i = 0; i < count; i++) {
    const flags = reader.u8(at++);
    const known = flags & 0x3f;
    const tag = known === SPELT ? reader.tag(at) : KNOWN_TAGS[known];
    if (known === SPELT) at += 4;
    tags.add(tag);
    skipNumber();
    // Outlines are changed by version 0 and left alone by 3; all other tables the other way round.
    const outlines = tag === 'glyf' || tag === 'loca';
    const version = flags >> 6;
    if (outlines ? version !== 3 : version !== 0) skipNumber();
  }
  return { tags, format: 'woff2' };
}
