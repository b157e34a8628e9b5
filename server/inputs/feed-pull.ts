/** Fetches a feed from an address by ffmpeg: HTTP-FLV, HLS, RTSP, RTMP and whatever else it opens over the network. */
import { spawn, type ChildProcess, type ChildProcessByStdio } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import { hostAndPort } from '../../core/inputs/web-address';
import { messageOf } from '../../core/fault';
import { FlvReader, type FlvTag } from '../../core/media/flv-stream';
import type { Log } from '../log';
import { FilteringProxy } from './filtering-proxy';

/** What may stand in an address here. */
export const PULL_SCHEMES = ['https', 'http', 'rtsp', 'rtsps', 'rtmp', 'rtmps', 'srt'] as const;
/** What each kind of address may lead to: never to files of this machine, and from a feed of one kind to no other. */
const PROTOCOLS: readonly (readonly [scheme: RegExp, protocols: string])[] = [
  [/^https?:/, 'http,https,tcp,tls,crypto,hls,httpproxy'],
  [/^rtsps?:/, 'rtsp,rtsps,tcp,tls,udp,rtp,rtcp,srtp,crypto'],
  [/^rtmps?:/, 'rtmp,rtmps,tcp,tls,crypto'],
  [/^srt:/, 'srt'],
];
/** What ffmpeg takes plain words for: it would paint them. */
const TEXT_CODECS = ['ansi', 'bintext', 'xbin', 'idf'];
const LOOK_MS = 20_000;
/** Nothing for so long: the other side stands still without a word. */
const SILENT_MS = 6000;
const AGAIN_MS = [1000, 2000, 5000, 10_000];
const SETTLED_MS = 20_000;
const MAX_ERROR_CHARS = 4000;
const MAX_FOUND_CHARS = 1 << 20;

export interface PullHooks {
  onBegin(): void;
  onTag(tag: FlvTag): void;
  /** @param why in words, with what happens next */
  onEnd(why: string): void;
}

export class FeedPull {
  /** Playlists and redirects meet it: they must not lead to other places of this computer or its network. */
  #proxy: FilteringProxy | null = null;
  /** Where it was kept away from. */
  #blocked: string | null = null;
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
    this.#proxy?.close();
  }

  async #begin(): Promise<void> {
    const begun = Date.now();
    let why: string;
    this.#blocked = null;
    try {
      if (/^https?:/.test(this.url))
        this.#proxy ??= await FilteringProxy.open({
          // What was typed may be in the own network: a camera is.
          allowed: new Set([hostAndPort(new URL(this.url))]),
          onBlocked: (host) => (this.#blocked = host),
        });
      if (this.#closed) return this.#proxy?.close();
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

  /**
   * The address goes in by standard input, as a list of one: arguments of a process can be read by everybody here, and an
   * address may hold a password.
   */
  #input(): string[] {
    const protocols = PROTOCOLS.find(([scheme]) => scheme.test(this.url))?.[1] ?? 'srt';
    return ['-f', 'concat', '-safe', '0', '-protocol_whitelist', `pipe,${protocols}`, '-i', 'pipe:0'];
  }

  get #list(): string {
    const options = /^rtsps?:/.test(this.url)
      ? // Without it, lost packets of RTSP over UDP would tear the picture.
        ['option rtsp_transport tcp', 'option timeout 10000000']
      : /^https?:/.test(this.url)
        ? ['option rw_timeout 10000000']
        : [];
    const quoted = `'${this.url.replaceAll("'", `'\\''`)}'`;
    return ['ffconcat version 1.0', `file ${quoted}`, ...options, ''].join('\n');
  }

  /** Starts ffmpeg or ffprobe on the address. */
  #spawn(program: string, args: string[]): ChildProcessByStdio<Writable, Readable, Readable> {
    const through = this.#proxy && `http://127.0.0.1:${this.#proxy.port}`;
    const child = spawn(program, args, {
      stdio: ['pipe', 'pipe', 'pipe'],
      env: { PATH: process.env.PATH, ...(through && { http_proxy: through, https_proxy: through }) },
    });
    // One that ended before it read this is told by its end.
    child.stdin.on('error', () => undefined);
    child.stdin.end(this.#list);
    this.#child = child;
    return child;
  }

  /** Which codecs it has. @throws Error in words */
  #look(): Promise<{ video: string | null; audio: string | null }> {
    return new Promise((resolve, reject) => {
      const child = this.#spawn('ffprobe', [
        ...['-v', 'error', '-show_entries', 'stream=codec_type,codec_name', '-of', 'json'],
        ...this.#input(),
      ]);
      let [found, said, late] = ['', '', false];
      const timer = setTimeout(() => {
        late = true;
        child.kill('SIGKILL');
      }, LOOK_MS);
      child.stdout.on('data', (bytes: Buffer) => {
        found += bytes.toString();
        if (found.length > MAX_FOUND_CHARS) child.kill('SIGKILL');
      });
      child.stderr.on('data', (bytes: Buffer) => (said = (said + bytes.toString()).slice(-MAX_ERROR_CHARS)));
      child.on('error', (error) => {
        clearTimeout(timer);
        reject(new Error(explain(error, said)));
      });
      child.on('close', (code) => {
        clearTimeout(timer);
        if (late) return reject(new Error('nothing answers at this address'));
        if (code !== 0) return reject(new Error(this.#blockedWords() ?? explain(null, said)));
        try {
          const { streams = [] } = JSON.parse(found) as {
            streams?: { codec_type: string; codec_name: string }[];
          };
          const of = (type: string) => streams.find((s) => s.codec_type === type)?.codec_name ?? null;
          const codecs = { video: of('video'), audio: of('audio') };
          if (TEXT_CODECS.includes(codecs.video ?? '')) codecs.video = null;
          if (!codecs.video && !codecs.audio)
            return reject(new Error('there is neither picture nor sound at this address'));
          resolve(codecs);
        } catch (parsing) {
          reject(parsing instanceof Error ? parsing : new Error(String(parsing)));
        }
      });
    });
  }

  #blockedWords(): string | null {
    return this.#blocked === null
      ? null
      : `it leads to ${this.#blocked}, a place in your own network that was not allowed`;
  }

  #run({ video, audio }: { video: string | null; audio: string | null }): Promise<string> {
    return new Promise((resolve) => {
      const child = this.#spawn('ffmpeg', [
        ...['-hide_banner', '-loglevel', 'error', ...this.#input()],
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
        ...(audio === 'aac' ? ['-c:a', 'copy'] : ['-c:a', 'aac', '-b:a', '160k', '-ar', '48000', '-ac', '2']),
        ...['-f', 'flv', '-flvflags', 'no_duration_filesize', 'pipe:1'],
      ]);
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
        resolve(
          ending || (code === 0 ? 'the feed has ended' : (this.#blockedWords() ?? explain(null, said))),
        );
      });
    });
  }
}

/** The last thing ffmpeg said, in words and without the address, which may hold a password. */
function explain(error: (Error & { code?: unknown }) | null, said: string): string {
  if (error?.code === 'ENOENT') return 'fetching needs ffmpeg on the server: install it';
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
