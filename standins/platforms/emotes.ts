/** Made-up emotes as small PNG files, one of them moving (APNG), drawn in code. */
import { crc32, deflateSync } from 'node:zlib';

const SIZE = 56;
type Pixel = readonly [number, number, number, number];
type Painter = (x: number, y: number) => Pixel | null;

const NONE: Pixel = [0, 0, 0, 0];
const disc = (cx: number, cy: number, r: number) => (x: number, y: number) => Math.hypot(x - cx, y - cy) <= r;
const box = (x0: number, y0: number, x1: number, y1: number) => (x: number, y: number) =>
  x >= x0 && x < x1 && y >= y0 && y < y1;

function lantern(lit: boolean): Painter {
  const glass = disc(28, 30, 15);
  const cap = box(18, 8, 38, 15);
  const foot = box(18, 45, 38, 52);
  const glow: Pixel = lit ? [255, 208, 92, 255] : [120, 96, 52, 255];
  return (x, y) => (cap(x, y) || foot(x, y) ? [58, 66, 78, 255] : glass(x, y) ? glow : null);
}

const bell: Painter = (x, y) => {
  const half = 6 + ((y - 8) / 32) * 16;
  if (y >= 8 && y < 40 && Math.abs(x - 28) <= half) return [226, 174, 69, 255];
  if (box(8, 40, 48, 45)(x, y)) return [196, 140, 40, 255];
  return disc(28, 48, 5)(x, y) ? [150, 104, 30, 255] : null;
};

const train: Painter = (x, y) => {
  if (disc(16, 44, 7)(x, y) || disc(40, 44, 7)(x, y)) return [37, 44, 53, 255];
  if (box(30, 12, 48, 40)(x, y)) return [99, 189, 187, 255];
  if (box(6, 24, 48, 40)(x, y)) return [70, 150, 150, 255];
  return box(10, 10, 17, 26)(x, y) ? [58, 66, 78, 255] : null;
};

const snow: Painter = (x, y) => {
  const [dx, dy] = [x - 28, y - 28];
  const r = Math.hypot(dx, dy);
  const arm = Math.abs(((Math.atan2(dy, dx) / (Math.PI / 3)) % 1) + (dy < 0 ? 1 : 0) - 0.5);
  return r < 25 && (arm > 0.42 || r < 6) ? [214, 233, 245, 255] : null;
};

const FRAMES: Record<string, Painter[]> = {
  lantern: [lantern(true), lantern(false)],
  bell: [bell],
  train: [train],
  snow: [snow],
};
export const EMOTE_NAMES = Object.keys(FRAMES);

function chunk(type: string, data: Buffer): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE(crc32(body), body.length + 4);
  return out;
}

function pixels(paint: Painter): Buffer {
  const rows = Buffer.alloc(SIZE * (1 + SIZE * 4));
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) rows.set(paint(x, y) ?? NONE, y * (1 + SIZE * 4) + 1 + x * 4);
  return deflateSync(rows);
}

/** A PNG (ISO/IEC 15948), with animation chunks when there are several pictures; null for an unknown name. */
export function emotePng(name: string): Buffer | null {
  if (!Object.hasOwn(FRAMES, name)) return null;
  const frames = FRAMES[name];
  const header = Buffer.alloc(13);
  header.writeUInt32BE(SIZE, 0);
  header.writeUInt32BE(SIZE, 4);
  // 8 bits a sample, red green blue and alpha.
  header.set([8, 6, 0, 0, 0], 8);
  const parts = [Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]), chunk('IHDR', header)];
  if (frames.length > 1) {
    const control = Buffer.alloc(8);
    control.writeUInt32BE(frames.length, 0);
    parts.push(chunk('acTL', control));
  }
  let sequence = 0;
  frames.forEach((paint, i) => {
    if (frames.length > 1) {
      const frame = Buffer.alloc(26);
      frame.writeUInt32BE(sequence++, 0);
      frame.writeUInt32BE(SIZE, 4);
      frame.writeUInt32BE(SIZE, 8);
      // Four tenths of a second each.
      frame.writeUInt16BE(4, 20);
      frame.writeUInt16BE(10, 22);
      parts.push(chunk('fcTL', frame));
    }
    if (i === 0) parts.push(chunk('IDAT', pixels(paint)));
    else {
      const number = Buffer.alloc(4);
      number.writeUInt32BE(sequence++, 0);
      parts.push(chunk('fdAT', Buffer.concat([number, pixels(paint)])));
    }
  });
  parts.push(chunk('IEND', Buffer.alloc(0)));
  return Buffer.concat(parts);
}
