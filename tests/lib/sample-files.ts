/** Small files made by code: a graphic with an opening, an animated picture, a vector animation. */
import { deflateSync } from 'node:zlib';

const CRC = Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});

function chunk(type: string, data: Uint8Array): Buffer {
  const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
  let crc = 0xffffffff;
  for (const byte of body) crc = CRC[(crc ^ byte) & 0xff] ^ (crc >>> 8);
  const out = Buffer.alloc(body.length + 8);
  out.writeUInt32BE(data.length, 0);
  body.copy(out, 4);
  out.writeUInt32BE((crc ^ 0xffffffff) >>> 0, body.length + 4);
  return out;
}

/** An RGBA picture as PNG (W3C PNG, third edition). */
export function rgbaPng(
  width: number,
  height: number,
  pixel: (x: number, y: number) => readonly number[],
): Buffer {
  const raw = Buffer.alloc((width * 4 + 1) * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) raw.set(pixel(x, y), y * (width * 4 + 1) + 1 + x * 4);
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 6, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(raw)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

/** 480 × 270, solid, with an opening of 300 × 180 at (60, 40) whose corners have a radius of 30. */
export function borderPng(): Buffer {
  return rgbaPng(480, 270, (x, y) => {
    const dx = Math.max(90 - (x + 0.5), x + 0.5 - 330, 0);
    const dy = Math.max(70 - (y + 0.5), y + 0.5 - 190, 0);
    return Math.hypot(dx, dy) <= 30 ? [0, 0, 0, 0] : [226, 174, 69, 255];
  });
}

/** 480 × 270, solid, with two rectangular openings: 200 × 120 at (40, 40), 120 × 90 at (300, 120). */
export function twoOpeningsPng(): Buffer {
  return rgbaPng(480, 270, (x, y) =>
    (x >= 40 && x < 240 && y >= 40 && y < 160) || (x >= 300 && x < 420 && y >= 120 && y < 210)
      ? [0, 0, 0, 0]
      : [99, 189, 187, 255],
  );
}

/** 64 × 64, two frames of a tenth of a second, white and black, round and round (GIF89a). */
export function gifAnimation(): Buffer {
  const head = Buffer.concat([
    Buffer.from('GIF89a', 'latin1'),
    Buffer.from([64, 0, 64, 0, 0x80, 0, 0, 0xff, 0xff, 0xff, 0, 0, 0]),
    Buffer.from([0x21, 0xff, 11]),
    Buffer.from('NETSCAPE2.0', 'latin1'),
    Buffer.from([3, 1, 0, 0, 0]),
  ]);
  const frame = (index: number) => {
    // Uncompressed LZW: a clear code before the table grows past three bits, so that every code has three.
    const codes: number[] = [];
    for (let i = 0; i < 64 * 64; i++) {
      if (i % 2 === 0) codes.push(4);
      codes.push(index);
    }
    codes.push(5);
    const bytes: number[] = [];
    let bits = 0;
    let count = 0;
    for (const code of codes) {
      bits |= code << count;
      count += 3;
      while (count >= 8) {
        bytes.push(bits & 0xff);
        bits >>= 8;
        count -= 8;
      }
    }
    if (count > 0) bytes.push(bits & 0xff);
    const blocks: number[] = [];
    for (let i = 0; i < bytes.length; i += 255) {
      const part = bytes.slice(i, i + 255);
      blocks.push(part.length, ...part);
    }
    return Buffer.from([0x21, 0xf9, 4, 4, 10, 0, 0, 0, 0x2c, 0, 0, 0, 0, 64, 0, 64, 0, 0, 2, ...blocks, 0]);
  };
  return Buffer.concat([head, frame(0), frame(1), Buffer.from([0x3b])]);
}

/** Two seconds of a coloured box that stands or turns (Lottie Animation Community specification 1.0). */
function boxLottie(
  size: { width: number; height: number },
  box: { x: number; y: number; width: number; height: number },
  colour: readonly number[],
  turning: object,
): Buffer {
  return Buffer.from(
    JSON.stringify({
      v: '5.7.0',
      fr: 30,
      ip: 0,
      op: 60,
      w: size.width,
      h: size.height,
      layers: [
        {
          ty: 4,
          ip: 0,
          op: 60,
          st: 0,
          ks: {
            p: { a: 0, k: [box.x + box.width / 2, box.y + box.height / 2] },
            a: { a: 0, k: [0, 0] },
            s: { a: 0, k: [100, 100] },
            o: { a: 0, k: 100 },
            r: turning,
          },
          shapes: [
            {
              ty: 'gr',
              it: [
                {
                  ty: 'rc',
                  p: { a: 0, k: [0, 0] },
                  s: { a: 0, k: [box.width, box.height] },
                  r: { a: 0, k: 0 },
                },
                { ty: 'fl', c: { a: 0, k: [...colour, 1] }, o: { a: 0, k: 100 } },
                {
                  ty: 'tr',
                  p: { a: 0, k: [0, 0] },
                  a: { a: 0, k: [0, 0] },
                  s: { a: 0, k: [100, 100] },
                  r: { a: 0, k: 0 },
                  o: { a: 0, k: 100 },
                },
              ],
            },
          ],
        },
      ],
    }),
  );
}

/** A square that turns once in two seconds. */
export function lottieJson(): Buffer {
  return boxLottie({ width: 200, height: 200 }, { x: 40, y: 40, width: 120, height: 120 }, [0.9, 0.4, 0.2], {
    a: 1,
    k: [
      { t: 0, s: [0], i: { x: [1], y: [1] }, o: { x: [0], y: [0] } },
      { t: 60, s: [360] },
    ],
  });
}

/** Magenta on its left half, clear on its right. */
export function halfLottie(width: number, height: number): Buffer {
  return boxLottie({ width, height }, { x: 0, y: 0, width: width / 2, height }, [1, 0, 1], { a: 0, k: 0 });
}
