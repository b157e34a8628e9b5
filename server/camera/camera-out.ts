import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { lstat, rm } from 'node:fs/promises';
import { promisify } from 'node:util';
import { messageOf } from '../../core/fault';
import type { CameraFormat, CameraPlace, CameraState } from '../../protocol/camera';

/** What the decoder has not taken yet may be so much: half a second or so. More is left out up to the next keyframe. */
const BUFFERED_BYTES = 300_000;
const NOTES_KEPT = 600;
/** A reader that has gone may come again. */
const AGAIN_MS = 500;

/**
 * Pictures into a camera of the system: decoded by ffmpeg and written into a loopback device, or into a named pipe as
 * YUV4MPEG2. Begins anew when a pipe's reader has gone.
 */
export class CameraOut {
  #child: ChildProcess | null = null;
  #closed = false;
  /** Until a keyframe nothing can be decoded. */
  #waits = true;
  #timer: NodeJS.Timeout | undefined;

  constructor(
    readonly place: CameraPlace,
    readonly format: CameraFormat,
    readonly say: (state: CameraState) => void,
  ) {}

  /** Makes the pipe where one is wanted, and begins. */
  async open(): Promise<void> {
    try {
      if (this.place.type === 'pipe') await freshPipe(this.place.path);
      if (!this.#closed) this.#begin();
    } catch (error) {
      this.#fail(messageOf(error));
    }
  }

  /** @param picture H.264 in Annex B, a whole picture */
  write(picture: Uint8Array): void {
    const into = this.#child?.stdin;
    if (!into?.writable) return;
    if (into.writableLength > BUFFERED_BYTES) this.#waits = true;
    if (this.#waits && !beginsAnew(picture)) return;
    this.#waits = false;
    into.write(picture);
  }

  async close(): Promise<void> {
    this.#closed = true;
    clearTimeout(this.#timer);
    this.#child?.kill('SIGKILL');
    if (this.place.type === 'pipe') await rm(this.place.path, { force: true });
  }

  #begin(): void {
    this.#waits = true;
    const child = spawn('ffmpeg', cameraArgs(this.place, this.format), { stdio: ['pipe', 'ignore', 'pipe'] });
    this.#child = child;
    let notes = '';
    child.stderr.on('data', (text: Buffer) => {
      const said = text.toString();
      // It opens what it writes to once it has seen a picture; a pipe opens when somebody reads it.
      if (said.includes('frame=')) this.say({ state: 'running' });
      else notes = (notes + said).slice(-NOTES_KEPT);
    });
    // A decoder that has gone is told by its end.
    child.stdin.on('error', () => undefined);
    child.on('error', (error: NodeJS.ErrnoException) =>
      this.#fail(error.code === 'ENOENT' ? 'ffmpeg is not on the server: install it' : error.message),
    );
    child.on('close', () => {
      if (this.#closed || this.#child !== child) return;
      const why = notes.trim().split('\n').at(-1) ?? '';
      if (this.place.type === 'pipe' && (why === '' || /Broken pipe/i.test(notes))) return this.#again();
      this.#fail(why || 'the camera ended');
    });
    if (this.place.type === 'pipe') this.say({ state: 'waiting' });
  }

  #again(): void {
    this.say({ state: 'waiting' });
    this.#timer = setTimeout(() => this.#begin(), AGAIN_MS);
  }

  #fail(message: string): void {
    if (this.#closed) return;
    this.say({ state: 'failed', message });
    this.#child = null;
  }
}

/** ffmpeg's arguments: H.264 in, each picture out as soon as it is decoded. */
export function cameraArgs({ type, path }: CameraPlace, { fps, width, height }: CameraFormat): string[] {
  return [
    ...['-v', 'error', '-stats', '-stats_period', '1', '-y'],
    ...['-fflags', 'nobuffer', '-flags', 'low_delay', '-probesize', '4096', '-analyzeduration', '0'],
    ...['-f', 'h264', '-framerate', String(fps), '-i', 'pipe:0'],
    ...['-fps_mode', 'passthrough', '-s', `${width}x${height}`, '-pix_fmt', 'yuv420p'],
    ...['-f', type === 'pipe' ? 'yuv4mpegpipe' : 'v4l2', path],
  ];
}

/** Whether a picture brings its parameters along (ITU-T H.264 §7.4.1.2.3: a sequence parameter set is NAL type 7). */
function beginsAnew(picture: Uint8Array): boolean {
  for (let i = 0; i + 3 < Math.min(picture.length, 64); i++)
    if (picture[i] === 0 && picture[i + 1] === 0 && picture[i + 2] === 1 && (picture[i + 3] & 31) === 7)
      return true;
  return false;
}

/** An empty named pipe; one of before is removed, anything else that lies there is not. @throws when it cannot be made */
async function freshPipe(path: string): Promise<void> {
  const there = await lstat(path).catch(() => null);
  if (there && !there.isFIFO()) throw new Error(`${path} is in the way: move it elsewhere`);
  await rm(path, { force: true });
  await promisify(execFile)('mkfifo', ['-m', '600', path]);
}
