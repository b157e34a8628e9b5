/** Colour tables against ffmpeg's own lookup. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { ColourProcess } from '../../core/picture/colour-process';
import { writeCube, type CubeTable } from '../../core/picture/cube-table';
import { NO_GRADE } from '../../core/show/colour-records';
import { seededRandom } from '../../standins/inputs/random';

const [W, H] = [64, 64];
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-colour-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function byFfmpeg(filter: string, rgb: Buffer): Buffer {
  const args = `-v error -f rawvideo -pix_fmt rgb24 -s ${W}x${H} -i - -vf ${filter} -f rawvideo -pix_fmt rgb24 -`;
  const { stdout, stderr, status } = spawnSync('ffmpeg', args.split(' '), { input: rgb });
  if (status !== 0) throw new Error(String(stderr));
  return stdout;
}

test.each([
  [3, 2],
  [3, 17],
  [3, 33],
  [1, 256],
] as const)(
  'a %dD table of %d gives what ffmpeg makes of the same file, within 2 of 255',
  (dimensions, size) => {
    const random = seededRandom(size * 31 + dimensions);
    const entries = dimensions === 3 ? size ** 3 : size;
    const table: CubeTable = {
      title: 'Random',
      dimensions,
      size,
      domain: { min: [0, 0, 0], max: [1, 1, 1] },
      values: Float32Array.from({ length: entries * 3 }, () => random()),
    };
    const file = path.join(folder, `${dimensions}-${size}.cube`);
    writeFileSync(file, writeCube(table));
    const rgb = Buffer.from(Array.from({ length: W * H * 3 }, () => Math.floor(random() * 256)));
    const theirs = byFfmpeg(
      dimensions === 3 ? `lut3d=${file}:interp=tetrahedral` : `lut1d=${file}:interp=linear`,
      rgb,
    );
    const ours = new Uint8ClampedArray(W * H * 4).fill(255);
    for (let i = 0; i < W * H; i++) ours.set(rgb.subarray(i * 3, i * 3 + 3), i * 4);
    new ColourProcess({ values: NO_GRADE, table, strength: 1, key: null }).colour(ours, W, H);
    let worst = 0;
    for (let i = 0; i < W * H; i++)
      for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(ours[i * 4 + c] - theirs[i * 3 + c]));
    expect(worst).toBeLessThanOrEqual(2);
  },
);
