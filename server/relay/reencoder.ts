import type { Clock } from '../../core/time/clock';
import { spawn, type ChildProcessWithoutNullStreams } from 'node:child_process';
import os from 'node:os';
import { messageOf } from '../../core/fault';
import { onMetaData } from '../../core/media/flv-payload';
import { FlvReader, flvHeader, flvTag, isKeyPicture, isSequenceHeader } from '../../core/media/flv-stream';
import type { ReencodeOrder } from '../../protocol/relay-orders';
import { SharedMessage, type StreamHeaders } from './shared-message';

/** What waits for the encoder at most; it is too slow when more does. */
const MAX_WAITING_SECONDS = 3;
/** It is started anew so often; then the destination gets what the desk made. */
const MAX_STARTS = 3;
const START_AGAIN_MS = 4000;
/** The viewers' side comes first: the encoder gets what processor time the rest leaves. */
const NICENESS = 6;
const NOTES_KEPT = 400;

/**
 * Makes another picture stream out of one for a single destination: smaller or of a lower rate, with the same sound, the
 * same stamps and keyframes at the same places. By ffmpeg with x264, as a process of its own.
 */
export class Reencoder {
  /** Empty while all is well; what it means for viewers when not. */
  problem = '';
  #process: ChildProcessWithoutNullStreams | null = null;
  #given: StreamHeaders | null = null;
  #made: StreamHeaders | null = null;
  #starts = 0;
  #notBefore = 0;
  #leavingOut = false;
  #passing = false;
  #closed = false;

  constructor(
    readonly order: ReencodeOrder,
    readonly out: (message: SharedMessage, headers: StreamHeaders) => void,
    readonly clock: Clock,
    readonly program = 'ffmpeg',
  ) {}

  /** One message of the encode; what becomes of it comes through `out`, some pictures later. */
  send(message: SharedMessage, headers: StreamHeaders): void {
    if (this.#closed) return;
    if (!this.#process) {
      const starts = message.kind === 'video' && message.keyframe && this.#mayStart();
      if (starts) this.#start();
      if (!this.#process) return this.#pass(message, headers);
    }
    const { stdin } = this.#process;
    const most = (MAX_WAITING_SECONDS * headers.kbps * 1000) / 8;
    if (message.kind === 'video') {
      if (stdin.writableLength > most) this.#leavingOut = true;
      else if (message.keyframe && stdin.writableLength < most / 3) this.#leavingOut = false;
      this.problem = this.#leavingOut
        ? 'The server is too slow to encode for it: pictures are left out there. Take a smaller rate, or let the desk encode.'
        : '';
      if (this.#leavingOut) return;
    }
    if (this.#given !== headers) {
      for (const [kind, body] of [
        ['video', headers.video],
        ['audio', headers.audio],
      ] as const)
        stdin.write(flvTag({ kind, timestampMs: message.timestampMs, body }));
      this.#given = headers;
    }
    if (message.kind !== 'data')
      stdin.write(flvTag({ kind: message.kind, timestampMs: message.timestampMs, body: message.payload }));
  }

  /** Better too much for it than nothing at all: it gets what the desk made, from a keyframe on. */
  #pass(message: SharedMessage, headers: StreamHeaders): void {
    if (this.#starts === 0) return;
    if (message.kind === 'video' && message.keyframe) this.#passing = true;
    if (this.#passing || message.kind === 'audio') this.out(message, headers);
  }

  close(): void {
    this.#closed = true;
    this.#process?.kill('SIGKILL');
    this.#process = null;
  }

  #mayStart(): boolean {
    return this.#starts < MAX_STARTS && this.clock.nowMs() >= this.#notBefore;
  }

  #start(): void {
    const { width, height, videoKbps, careful } = this.order;
    this.#starts += 1;
    // prettier-ignore
    const args = [
      '-hide_banner', '-loglevel', 'error', '-fflags', 'nobuffer', '-copyts', '-f', 'flv', '-i', 'pipe:0',
      '-map', '0:v', '-map', '0:a', '-fps_mode', 'passthrough', '-s', `${width}x${height}`,
      '-c:v', 'libx264', '-preset', careful ? 'medium' : 'veryfast', '-tune', 'zerolatency', '-bf', '0', '-pix_fmt', 'yuv420p',
      '-b:v', `${videoKbps}k`, '-maxrate', `${videoKbps}k`, '-bufsize', `${videoKbps}k`,
      '-force_key_frames', 'source', '-g', '600', '-sc_threshold', '0',
      '-c:a', 'copy', '-avoid_negative_ts', 'disabled', '-flush_packets', '1', '-f', 'flv', 'pipe:1',
    ];
    const child = spawn(this.program, args);
    const reader = new FlvReader();
    let notes = '';
    this.#process = child;
    this.#given = null;
    this.#made = null;
    this.#leavingOut = false;
    const over = (why: string) => {
      if (this.#process !== child) return;
      this.#process = null;
      this.#passing = false;
      this.#notBefore = this.clock.nowMs() + START_AGAIN_MS;
      this.problem = `The server could not encode for it (${why}): it gets the encode of the desk.`;
    };
    child.on('spawn', () => {
      try {
        os.setPriority(child.pid!, NICENESS);
      } catch {
        // Gone already: its exit says why.
      }
    });
    child.on('error', (error: NodeJS.ErrnoException) => {
      // It will not be there the next time either.
      this.#starts = MAX_STARTS;
      over(error.code === 'ENOENT' ? 'ffmpeg is not installed on it' : error.message);
    });
    child.on('close', () => over(notes.trim().split('\n').at(-1) || 'the encoder ended'));
    // Writing to one that has just ended; `close` follows.
    child.stdin.on('error', () => undefined);
    child.stderr.on('data', (text: Buffer) => (notes = (notes + text.toString()).slice(-NOTES_KEPT)));
    child.stdout.on('data', (piece: Buffer) => {
      try {
        for (const tag of reader.push(piece)) this.#take(tag);
      } catch (error) {
        notes = messageOf(error);
        child.kill('SIGKILL');
      }
    });
    child.stdin.write(flvHeader());
  }

  #take(tag: ReturnType<FlvReader['push']>[number]): void {
    const given = this.#given;
    if (this.#closed || tag.kind === 'data' || !given) return;
    if (isSequenceHeader(tag)) {
      if (tag.kind === 'video') this.#made = this.#headersWith(tag.body, given);
      return;
    }
    if (!this.#made) return;
    const key = tag.kind === 'video' && isKeyPicture(tag.body);
    this.out(new SharedMessage(tag.kind, tag.timestampMs, tag.body, key), this.#made);
  }

  #headersWith(video: Uint8Array, given: StreamHeaders): StreamHeaders {
    const { width, height, videoKbps } = this.order;
    const { fps, audio, sound } = given;
    return {
      metadata: onMetaData({ width, height, fps, videoKbps, ...sound }),
      video,
      audio,
      sound,
      kbps: videoKbps + sound.audioKbps,
      videoKbps,
      fps,
    };
  }
}
