/** Fetches a feed from an address by ffmpeg: HTTP-FLV, HLS, RTSP, RTMP and whatever else it opens over the network. */
import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { messageOf } from '../../core/fault';
import { FlvReader, type FlvTag } from '../../core/media/flv-stream';
import type { Log } from '../log';

/** What may stand in an address here. */
export const PULL_SCHEMES = ['https', 'http', 'rtsp', 'rtsps', 'rtmp', 'rtmps', 'srt'] as const;
/** A playlist must not lead to files of this machine. */
const PROTOCOLS = 'http,https,tcp,tls,crypto,udp,rtp,rtcp,rtsp,rtsps,rtmp,rtmps,srt,hls,httpproxy';
/** What ffmpeg takes plain words for: it would paint them. */
const TEXT_CODECS = ['ansi', 'bintext', 'xbin', 'idf'];
const LOOK_MS = 20_000;
/** Nothing for so long: the other side stands still without a word. */
const SILENT_MS = 6000;
const AGAIN_MS = [1000, 2000, 5000, 10_000];
const SETTLED_MS = 20_000;
const MAX_ERROR_CHARS = 4000;

export interface PullHooks {
  onBegin(): void;
  onTag(tag: FlvTag): void;
  /** @param why in words, with what happens next */
  onEnd(why: string): void;
}

export class FeedPull {
  #child: ChildProcess | null = null;
  #closed = false;
  #tries = 0;
  #timer: NodeJS.Timeout | null = null;

  constructor(
    readonly url: string,
    readonly hooks: PullHooks,
    readonly log: Log,
  ) {
    void this.#begin();
  }

  close(): void {
    this.#closed = true;
    if (this.#timer) clearTimeout(this.#timer);
    this.#child?.kill('SIGKILL');
  }

  async #begin(): Promise<void> {
    const begun = Date.now();
    let why: string;
    try {
      const streams = await this.#look();
      why = this.#closed ? '' : await this.#run(streams);
    } catch (error) {
      why = messageOf(error);
    }
    if (this.#closed) return;
    if (Date.now() - begun > SETTLED_MS) this.#tries = 0;
    const wait = AGAIN_MS[Math.min(this.#tries, AGAIN_MS.length - 1)];
    this.#tries += 1;
    this.hooks.onEnd(`${why}; tried again in ${wait / 1000} s`);
    this.#timer = setTimeout(() => void this.#begin(), wait);
    this.#timer.unref();
  }

  #input(): string[] {
    return [
      '-protocol_whitelist',
      PROTOCOLS,
      // Without it, lost packets of RTSP over UDP would tear the picture.
      ...(/^rtsps?:/.test(this.url) ? ['-rtsp_transport', 'tcp', '-timeout', '10000000'] : []),
      ...(/^https?:/.test(this.url) ? ['-rw_timeout', '10000000'] : []),
      '-i',
      this.url,
    ];
  }

  /** Which codecs it has. @throws Error in words */
  #look(): Promise<{ video: string | null; audio: string | null }> {
    return new Promise((resolve, reject) => {
      this.#child = execFile(
        'ffprobe',
        ['-v', 'error', '-show_entries', 'stream=codec_type,codec_name', '-of', 'json', ...this.#input()],
        { timeout: LOOK_MS, killSignal: 'SIGKILL', maxBuffer: 1 << 20 },
        (error, stdout, stderr) => {
          if (error) return reject(new Error(explain(error, stderr)));
          try {
            const { streams = [] } = JSON.parse(stdout) as {
              streams?: { codec_type: string; codec_name: string }[];
            };
            const of = (type: string) => streams.find((s) => s.codec_type === type)?.codec_name ?? null;
            const found = { video: of('video'), audio: of('audio') };
            if (TEXT_CODECS.includes(found.video ?? '')) found.video = null;
            if (!found.video && !found.audio)
              return reject(new Error('there is neither picture nor sound at this address'));
            resolve(found);
          } catch (parsing) {
            reject(parsing instanceof Error ? parsing : new Error(String(parsing)));
          }
        },
      );
    });
  }

  #run({ video, audio }: { video: string | null; audio: string | null }): Promise<string> {
    return new Promise((resolve) => {
      const child = spawn(
        'ffmpeg',
        [
          ...['-hide_banner', '-loglevel', 'error', '-nostdin', ...this.#input()],
          ...(video ? ['-map', '0:v:0'] : []),
          ...(audio ? ['-map', '0:a:0'] : []),
          // Only what the studio cannot take is encoded again.
          ...(video === 'h264'
            ? ['-c:v', 'copy']
            : [
                '-c:v',
                'libx264',
                '-preset',
                'veryfast',
                '-tune',
                'zerolatency',
                '-g',
                '60',
                '-pix_fmt',
                'yuv420p',
              ]),
          ...(audio === 'aac'
            ? ['-c:a', 'copy']
            : ['-c:a', 'aac', '-b:a', '160k', '-ar', '48000', '-ac', '2']),
          ...['-f', 'flv', '-flvflags', 'no_duration_filesize', 'pipe:1'],
        ],
        { stdio: ['ignore', 'pipe', 'pipe'] },
      );
      this.#child = child;
      const reader = new FlvReader();
      let said = '';
      let begun = false;
      let ending = '';
      let silence: NodeJS.Timeout | null = null;
      const heard = () => {
        if (silence) clearTimeout(silence);
        silence = setTimeout(() => {
          ending = 'nothing comes from there any more';
          child.kill('SIGKILL');
        }, SILENT_MS);
        silence.unref();
      };
      heard();
      child.stdout.on('data', (bytes: Buffer) => {
        heard();
        try {
          for (const tag of reader.push(bytes)) {
            if (!begun) this.hooks.onBegin();
            begun = true;
            this.hooks.onTag(tag);
          }
        } catch (error) {
          ending = messageOf(error);
          child.kill('SIGKILL');
        }
      });
      child.stderr.on('data', (bytes: Buffer) => {
        said = (said + bytes.toString()).slice(-MAX_ERROR_CHARS);
      });
      child.on('error', (error) => resolve(explain(error, said)));
      child.on('close', (code) => {
        if (silence) clearTimeout(silence);
        resolve(ending || (code === 0 ? 'the feed has ended' : explain(null, said)));
      });
    });
  }
}

/** The last thing ffmpeg said, in words and without the address, which may hold a password. */
function explain(error: (Error & { code?: unknown; killed?: boolean }) | null, said: string): string {
  if (error?.code === 'ENOENT') return 'fetching needs ffmpeg on the server: install it';
  if (error?.killed) return 'nothing answers at this address';
  if (/Connection refused|No route|Network is unreachable|timed out|Immediate exit/i.test(said))
    return 'nothing answers at this address';
  if (/401|403|Unauthorized|Forbidden/i.test(said)) return 'it wants another name or password';
  if (/404|Not Found/i.test(said)) return 'there is nothing at this address';
  if (/resolve|Name or service/i.test(said)) return 'there is no computer of this name';
  if (/Protocol .* not on whitelist/i.test(said)) return 'it leads to places that are not taken';
  if (/Invalid data/i.test(said)) return 'what comes from there is no picture or sound';
  const last = said.trim().split('\n').at(-1) ?? '';
  return last.replace(/\S+:\/\/\S+/g, 'the address').slice(0, 200) || 'it could not be fetched';
}
