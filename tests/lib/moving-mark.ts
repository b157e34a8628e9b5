/** Where something of one colour is in every picture of a file, by a decoder that is not ours. */
import { spawnSync } from 'node:child_process';

/** Small is quick; fine things need more. */
const SIZE = [160, 90] as const;

export interface Mark {
  /** Centre, 0…1 of the width. */
  x: number;
  /** Share of the picture that has the colour, 0…1. */
  share: number;
}

/**
 * @param colour red, green and blue, 0…255; `null` where a picture has none of it
 * @param size that it is looked at in, pixels
 */
export function marksOf(
  file: string,
  [r, g, b]: readonly [number, number, number],
  [W, H]: readonly [number, number] = SIZE,
): (Mark | null)[] {
  const args = [
    '-v',
    'error',
    '-i',
    file,
    '-an',
    // One for one: a file that states its rate would else be filled up where it has gaps.
    '-fps_mode',
    'passthrough',
    '-vf',
    `scale=${W}:${H}`,
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgb24',
    '-',
  ];
  const { stdout, status, stderr } = spawnSync('ffmpeg', args, { maxBuffer: 1 << 29 });
  if (status !== 0) throw new Error(String(stderr));
  const bytes = W * H * 3;
  return Array.from({ length: Math.floor(stdout.length / bytes) }, (_, n) => {
    let sum = 0;
    let count = 0;
    for (let i = 0; i < W * H; i++) {
      const at = n * bytes + i * 3;
      if (Math.max(Math.abs(stdout[at] - r), Math.abs(stdout[at + 1] - g), Math.abs(stdout[at + 2] - b)) > 45)
        continue;
      sum += i % W;
      count += 1;
    }
    return count < 8 ? null : { x: sum / count / W, share: count / (W * H) };
  });
}
