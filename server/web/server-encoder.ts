import { execFile } from 'node:child_process';

/** Whether this machine has an ffmpeg that makes H.264 with x264, which encoding on the server needs. */
export function hasServerEncoder(program = 'ffmpeg'): Promise<boolean> {
  return new Promise((resolve) =>
    execFile(program, ['-hide_banner', '-encoders'], { timeout: 5000 }, (error, stdout) =>
      resolve(error === null && stdout.includes('libx264')),
    ),
  );
}
