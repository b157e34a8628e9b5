/**
 * The sound of this computer, of one output or one program: by the sound server that PulseAudio and PipeWire both are
 * (`pactl`, `parec`). Other systems have no such door; there the browser's own sharing is the way.
 */
import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { promisify } from 'node:util';
import Joi from 'joi';
import { messageOf } from '../../core/fault';
import type { ComputerSoundSource } from '../../core/show/records';

/** Sixteen bits a sample, as the mixer's format has them: 48 kHz, two channels. */
export const CAPTURE_RATE = 48_000;
const CAPTURE_CHANNELS = 2;
const FRAME_BYTES = 2 * CAPTURE_CHANNELS;
/** So much is passed on at once: 20 ms. */
export const PACKET_FRAMES = 960;
const LATENCY_MS = 20;
/** A program that does not play has no stream: it is looked for again so often. */
const AGAIN_MS = 1000;
const LIST_MS = 3000;
const MAX_LIST_CHARS = 4 << 20;

export interface ComputerSounds {
  /** Why there are none, in words; empty when this computer can give its sound. */
  problem: string;
  outputs: { name: string; label: string }[];
  programs: { name: string; label: string }[];
}

const sinksSchema = Joi.array<{ name: string; description: string; monitor_source: string }[]>().items(
  Joi.object({
    name: Joi.string().max(300).required(),
    description: Joi.string().allow('').max(300).required(),
    monitor_source: Joi.string().max(300).required(),
  }).unknown(true),
);
const streamsSchema = Joi.array<{ index: number; properties: Record<string, string> }[]>().items(
  Joi.object({
    index: Joi.number().integer().required(),
    properties: Joi.object().pattern(Joi.string(), Joi.string().allow('')).required(),
  }).unknown(true),
);

const run = promisify(execFile);

/** What the sound server lists. @throws Error in words */
async function listed<T>(what: 'sinks' | 'sink-inputs', schema: Joi.Schema<T>): Promise<T> {
  const limits = { timeout: LIST_MS, maxBuffer: MAX_LIST_CHARS };
  const { stdout } = await run('pactl', ['--format=json', 'list', what], limits).catch((error: unknown) => {
    throw new Error(
      (error as NodeJS.ErrnoException).code === 'ENOENT'
        ? 'it needs PulseAudio or PipeWire and their program pactl: install pulseaudio-utils'
        : 'no sound server answers: start PulseAudio or PipeWire',
      { cause: error },
    );
  });
  const { error: wrong, value } = schema.validate(JSON.parse(stdout));
  if (wrong) throw new Error('the sound server lists what cannot be read');
  return value as T;
}

/** A stream by the name of its program; streams of our own browser are the studio itself. */
const programOf = ({ properties }: { properties: Record<string, string> }): string =>
  properties['application.name'] ?? '';

/** What of this computer can be heard now. */
export async function computerSounds(): Promise<ComputerSounds> {
  try {
    const outputs = (await listed('sinks', sinksSchema)).map(({ name, description }) => ({
      name,
      label: description || name,
    }));
    const names = new Set((await listed('sink-inputs', streamsSchema)).map(programOf));
    names.delete('');
    const programs = [...names].sort().map((name) => ({ name, label: name }));
    return { problem: '', outputs, programs };
  } catch (error) {
    return { problem: messageOf(error), outputs: [], programs: [] };
  }
}

/** What to record from, as `parec` takes it. @throws Error in words while it is not there */
async function recordedFrom({ of, name }: ComputerSoundSource): Promise<string[]> {
  if (of === 'output') {
    const sink = (await listed('sinks', sinksSchema)).find((one) => one.name === name);
    if (!sink) throw new Error('this output is not there');
    return [`--device=${sink.monitor_source}`];
  }
  const stream = (await listed('sink-inputs', streamsSchema)).find((one) => programOf(one) === name);
  if (!stream) throw new Error(`${name} plays nothing at present`);
  return [`--monitor-stream=${stream.index}`];
}

export interface CaptureHooks {
  /** Whole packets of interleaved 16-bit samples. */
  onSound: (samples: Uint8Array) => void;
  /** @param problem in words; empty while it is heard */
  onState: (problem: string) => void;
}

/** Records one of them, and again whenever it comes back, until it is closed. */
export class SoundCapture {
  #child: ChildProcess | null = null;
  #timer: NodeJS.Timeout | null = null;
  #closed = false;

  constructor(
    readonly source: ComputerSoundSource,
    readonly hooks: CaptureHooks,
  ) {
    void this.#begin();
  }

  close(): void {
    this.#closed = true;
    if (this.#timer) clearTimeout(this.#timer);
    this.#child?.kill('SIGKILL');
  }

  async #begin(): Promise<void> {
    let from: string[];
    try {
      from = await recordedFrom(this.source);
    } catch (error) {
      return this.#again(messageOf(error));
    }
    if (this.#closed) return;
    const child = spawn(
      'parec',
      [
        ...['--raw', '--format=s16le', `--rate=${CAPTURE_RATE}`, `--channels=${CAPTURE_CHANNELS}`],
        ...[`--latency-msec=${LATENCY_MS}`, '--client-name=Dolomite', ...from],
      ],
      { stdio: ['ignore', 'pipe', 'ignore'] },
    );
    this.#child = child;
    let kept: Buffer = Buffer.alloc(0);
    const size = PACKET_FRAMES * FRAME_BYTES;
    child.stdout.on('data', (bytes: Buffer) => {
      this.hooks.onState('');
      kept = kept.length === 0 ? bytes : Buffer.concat([kept, bytes]);
      for (; kept.length >= size; kept = kept.subarray(size)) this.hooks.onSound(kept.subarray(0, size));
    });
    child.on('error', (error) => this.#again(messageOf(error)));
    child.on('close', () =>
      this.#again(
        this.source.of === 'program' ? `${this.source.name} has stopped playing` : 'this output has gone',
      ),
    );
  }

  #again(why: string): void {
    if (this.#closed || this.#timer) return;
    this.hooks.onState(why);
    this.#timer = setTimeout(() => {
      this.#timer = null;
      if (!this.#closed) void this.#begin();
    }, AGAIN_MS);
    this.#timer.unref();
  }
}
