import { spawnSync } from 'node:child_process';

/** Mean red, green and blue of a picture file, 0…255, as ffmpeg decodes it. */
export function meanColour(png: Uint8Array): number[] {
  const { stdout } = spawnSync(
    'ffmpeg',
    [
      ...['-v', 'error', '-f', 'png_pipe', '-i', 'pipe:0', '-vf', 'scale=1:1'],
      ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
    ],
    { input: png },
  );
  return [...stdout];
}
