import { spawn, type ChildProcess } from 'node:child_process';
import { Patience } from './taken-time';

/** Pictures a second that are looked at. */
const FPS = 8;

export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Watches a broadcast as a viewer does, with a decoder that is not ours, and looks at its pictures. */
export class StreamWatcher {
  readonly #ffmpeg: ChildProcess;
  #picture: Buffer | null = null;
  #waiting = Buffer.alloc(0);
  /** Pictures seen. */
  seen = 0;
  readonly #watching = new Set<() => void>();

  constructor(
    url: string,
    readonly width: number,
    readonly height: number,
  ) {
    const args = `-v error -fflags nobuffer -i ${url} -an -vf fps=${FPS},scale=${width}:${height} -f rawvideo -pix_fmt rgb24 pipe:1`;
    this.#ffmpeg = spawn('ffmpeg', args.split(' '), { stdio: ['ignore', 'pipe', 'ignore'] });
    const bytes = width * height * 3;
    this.#ffmpeg.stdout!.on('data', (part: Buffer) => {
      this.#waiting = Buffer.concat([this.#waiting, part]);
      while (this.#waiting.length >= bytes) {
        this.#picture = this.#waiting.subarray(0, bytes);
        this.#waiting = this.#waiting.subarray(bytes);
        this.seen += 1;
        for (const look of this.#watching) look();
      }
    });
  }

  /** Share of a region's pixels that are near a colour (`#rrggbb`) in the newest picture, 0…1. */
  share(region: Region, colour: string, tolerance = 40): number {
    const picture = this.#picture;
    if (!picture) return 0;
    const [r, g, b] = [1, 3, 5].map((at) => Number.parseInt(colour.slice(at, at + 2), 16));
    let near = 0;
    for (let y = region.y; y < region.y + region.height; y++)
      for (let x = region.x; x < region.x + region.width; x++) {
        const at = (y * this.width + x) * 3;
        const off = Math.max(
          Math.abs(picture[at] - r),
          Math.abs(picture[at + 1] - g),
          Math.abs(picture[at + 2] - b),
        );
        if (off <= tolerance) near += 1;
      }
    return near / (region.width * region.height);
  }

  /** Waits for a picture in which it is so. @throws Error with the name when none came */
  async until(name: string, is: () => boolean, ms = 20_000): Promise<void> {
    if (this.#picture && is()) return;
    const patience = new Patience(ms);
    await new Promise<void>((resolve, reject) => {
      const done = (end: () => void) => {
        clearInterval(timer);
        this.#watching.delete(look);
        end();
      };
      const look = () => is() && done(resolve);
      const timer = setInterval(() => {
        if (patience.over)
          done(() =>
            reject(new Error(`not seen by viewers: ${name} (${this.seen} pictures) within ${patience}`)),
          );
      }, 200);
      this.#watching.add(look);
    });
  }

  close(): void {
    this.#ffmpeg.kill('SIGKILL');
  }
}
