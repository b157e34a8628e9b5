/** Reads a picture's size from its first bytes, before anything is decoded: a small file can hold an enormous picture. */
import type { Size } from '../geometry/rect';

const u16 = (b: Uint8Array, at: number) => (b[at] << 8) | b[at + 1];
const u32 = (b: Uint8Array, at: number) =>
  ((b[at] << 24) | (b[at + 1] << 16) | (b[at + 2] << 8) | b[at + 3]) >>> 0;
const le16 = (b: Uint8Array, at: number) => b[at] | (b[at + 1] << 8);
const le24 = (b: Uint8Array, at: number) => le16(b, at) | (b[at + 2] << 16);
const ascii = (b: Uint8Array, at: number, length: number) =>
  String.fromCharCode(...b.subarray(at, at + length));

/**
 * @param bytes the beginning of a file; 64 kB are enough for all but oddly made JPEGs
 * @returns the size in pixels, or null when it is not one of PNG, GIF, JPEG or WebP, or ends too early
 */
export function pictureSize(bytes: Uint8Array): Size | null {
  // PNG: signature, then the IHDR chunk (W3C PNG §11.2.2).
  if (bytes.length >= 24 && u32(bytes, 0) === 0x89504e47 && ascii(bytes, 12, 4) === 'IHDR')
    return { width: u32(bytes, 16), height: u32(bytes, 20) };
  // GIF89a, logical screen descriptor (§18).
  if (bytes.length >= 10 && ascii(bytes, 0, 3) === 'GIF')
    return { width: le16(bytes, 6), height: le16(bytes, 8) };
  if (bytes.length >= 30 && ascii(bytes, 0, 4) === 'RIFF' && ascii(bytes, 8, 4) === 'WEBP')
    return webpSize(bytes);
  if (bytes.length >= 4 && u16(bytes, 0) === 0xffd8) return jpegSize(bytes);
  return null;
}

/** WebP container: extended, lossless (RFC 9649 §2.7, §3.4) and simple lossy (RFC 6386 §9.1) forms. */
function webpSize(b: Uint8Array): Size | null {
  switch (ascii(b, 12, 4)) {
    case 'VP8X':
      return { width: le24(b, 24) + 1, height: le24(b, 27) + 1 };
    case 'VP8L': {
      const bits = (le24(b, 21) | (b[24] << 24)) >>> 0;
      return { width: (bits & 0x3fff) + 1, height: ((bits >>> 14) & 0x3fff) + 1 };
    }
    case 'VP8 ':
      return { width: le16(b, 26) & 0x3fff, height: le16(b, 28) & 0x3fff };
    default:
      return null;
  }
}

/** Walks the markers to the frame header SOFn (ITU-T T.81 §B.2.2). */
function jpegSize(b: Uint8Array): Size | null {
  let at = 2;
  while (at + 9 < b.length) {
    if (b[at] !== 0xff) return null;
    const marker = b[at + 1];
    if (marker === 0xff || (marker >= 0xd0 && marker <= 0xd8) || marker === 0x01) {
      at += marker === 0xff ? 1 : 2;
      continue;
    }
    // C4, C8 and CC are tables, not frames.
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return { width: u16(b, at + 7), height: u16(b, at + 5) };
    at += 2 + Math.max(2, u16(b, at + 2));
  }
  return null;
}
