/** Deinterlacing, measured against pictures that ffmpeg wove of two fields, and against ffmpeg's own way of taking them apart. */
import { execFileSync } from 'node:child_process';
import { expect, test } from 'vitest';
import { deinterlacePlane } from '../../core/picture/deinterlace';

const [WIDTH, HEIGHT, COUNT] = [352, 288, 24];
const SIZE = WIDTH * HEIGHT;

/** Brightness of each picture, by a chain of ffmpeg's filters over one that moves and has fine parts that stand still. */
function pictures(filters: string): Buffer[] {
  const raw = execFileSync(
    'ffmpeg',
    [
      ...[
        '-v',
        'error',
        '-f',
        'lavfi',
        '-i',
        `testsrc2=size=${WIDTH}x${HEIGHT}:rate=50:duration=${COUNT / 25}`,
      ],
      ...['-vf', filters, '-pix_fmt', 'gray', '-f', 'rawvideo', '-'],
    ],
    { maxBuffer: 1 << 28 },
  );
  return Array.from({ length: Math.floor(raw.length / SIZE) }, (_, i) =>
    raw.subarray(i * SIZE, (i + 1) * SIZE),
  );
}

/** Peak signal-to-noise ratio over all pictures but the first and last, dB. */
function psnr(one: readonly Uint8Array[], other: readonly Uint8Array[]): number {
  let sum = 0;
  let points = 0;
  for (let n = 1; n < Math.min(one.length, other.length) - 1; n++)
    for (let i = 0; i < SIZE; i++) {
      sum += (one[n][i] - other[n][i]) ** 2;
      points += 1;
    }
  return 10 * Math.log10((255 * 255) / (sum / points));
}

test('pictures of two fields come back as those of the first of them', () => {
  // Fifty moments a second; of two the first gives the even lines, the second the odd ones.
  const plain = pictures('framestep=2');
  const woven = pictures('tinterlace=mode=interleave_top');
  const theirs = pictures('tinterlace=mode=interleave_top,setfield=tff,yadif=mode=send_frame:parity=tff');
  const out = woven.map(() => new Uint8Array(SIZE));
  woven.forEach((picture, n) =>
    deinterlacePlane(picture, woven[n - 1] ?? null, out[n], {
      ...{ offset: 0, stride: WIDTH, rowBytes: WIDTH, height: HEIGHT },
    }),
  );
  expect(woven).toHaveLength(COUNT);
  const [combed, ours, yadif] = [woven, out, theirs].map((of) => psnr(of, plain));
  const figures = `woven ${combed.toFixed(1)} dB, ours ${ours.toFixed(1)} dB, yadif ${yadif.toFixed(1)} dB`;
  expect(ours, figures).toBeGreaterThan(combed + 3);
  expect(ours, figures).toBeGreaterThan(yadif - 3);
});

test('a picture that stands still stays as it is, to the last bit', () => {
  const [, still] = pictures('tinterlace=mode=interleave_top');
  const out = new Uint8Array(SIZE);
  deinterlacePlane(still, still, out, { offset: 0, stride: WIDTH, rowBytes: WIDTH, height: HEIGHT });
  expect(Buffer.compare(out, still)).toBe(0);
});
