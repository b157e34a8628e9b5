import { spawn } from 'node:child_process';
import os from 'node:os';
import { Fault } from '../../core/fault';

/** Pictures that are broadcast come first. */
const NICENESS = 10;
const NOTES_KEPT = 600;

/**
 * Runs ffmpeg behind everything else.
 * @param seconds how much it has to do, of the file's own time
 * @param signal ends it
 * @param started is told its number among the machine's processes
 * @returns how far it is, 0…1
 * @throws Fault `ffmpeg.missing`, or `ffmpeg.failed` with its last word
 */
export async function* runFfmpeg(
  args: readonly string[],
  { seconds, signal, started }: { seconds: number; signal?: AbortSignal; started?: (pid: number) => void },
): AsyncGenerator<number> {
  const child = spawn('ffmpeg', ['-v', 'error', '-nostdin', '-y', '-progress', 'pipe:1', ...args], {
    stdio: ['ignore', 'pipe', 'pipe'],
    signal,
    killSignal: 'SIGKILL',
  });
  if (child.pid !== undefined) {
    os.setPriority(child.pid, NICENESS);
    started?.(child.pid);
  }
  let notes = '';
  child.stderr.on('data', (text: Buffer) => {
    notes = (notes + text.toString()).slice(-NOTES_KEPT);
  });
  const ended = new Promise<number | null>((resolve, reject) => {
    child.on('error', (error) =>
      reject(
        (error as NodeJS.ErrnoException).code === 'ENOENT'
          ? new Fault('ffmpeg.missing', 'ffmpeg is not on the server: install it', { cause: error })
          : error,
      ),
    );
    child.on('close', resolve);
  });
  // Told to the reader below, or here when the reading ends first.
  ended.catch(() => {});
  for await (const text of child.stdout as AsyncIterable<Buffer>) {
    const last = [...text.toString().matchAll(/out_time_us=(\d+)/g)].at(-1);
    if (last && seconds > 0) yield Math.min(0.99, Number(last[1]) / 1e6 / seconds);
  }
  const code = await ended;
  if (code !== 0)
    throw new Fault(
      'ffmpeg.failed',
      /No space/i.test(notes)
        ? 'the disk is full: make room first'
        : `the copy did not succeed: ${notes.trim().split('\n').at(-1) ?? 'no word why'}`,
    );
}
