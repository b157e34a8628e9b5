import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Fault } from '../../core/fault';
import { cleanText } from '../../core/audience/words';

/** Longer words are cut: nobody listens for half a minute. */
const MAX_LETTERS = 240;
/** A program that takes longer than this hangs. */
const MAX_MS = 8000;
/** More texts than this do not wait: by the time they were read the moment would be long over. */
const MAX_WAITING = 20;
const MAX_BYTES = 8 * 1024 * 1024;
/** Spoken words that are kept; the same greeting comes again and again. */
const MAX_KEPT = 100;

/** A program that writes as it speaks cannot know how long it will be: the lengths in a WAV header are set right here. */
function withLengths(sound: Buffer): Buffer {
  if (sound.subarray(0, 4).toString('latin1') !== 'RIFF') return sound;
  sound.writeUInt32LE(sound.length - 8, 4);
  const data = sound.indexOf('data', 12, 'latin1');
  if (data > 0) sound.writeUInt32LE(sound.length - data - 8, data + 4);
  return sound;
}

/** Words read aloud by a speech engine that runs on this machine (eSpeak NG); nothing leaves it. */
export class Speech {
  /** Whether there is an engine. */
  readonly available: boolean;
  #waiting = 0;
  #last: Promise<string> = Promise.resolve('');

  constructor(
    readonly folder: string,
    readonly program = 'espeak-ng',
  ) {
    this.available = spawnSync(program, ['--version'], { timeout: 3000 }).status === 0;
  }

  /**
   * A WAV file of the words.
   * @throws Fault `speech.missing` without an engine, `speech.failed` when it does not speak
   */
  async file(words: string): Promise<string> {
    if (!this.available)
      throw new Fault(
        'speech.missing',
        'no speech engine is installed here: install espeak-ng and start again',
      );
    // What is covered is a pause; signs would be read out one by one.
    const text = cleanText(words.replace(/\*+/g, ','), MAX_LETTERS);
    if (text === '') throw new Fault('speech.failed', 'there is nothing to read aloud');
    const file = path.join(
      this.folder,
      `${createHash('sha256').update(text).digest('hex').slice(0, 32)}.wav`,
    );
    if (existsSync(file)) return file;
    if (this.#waiting >= MAX_WAITING)
      throw new Fault('speech.failed', 'too much is to be read aloud at once: the rest is left out');
    this.#waiting += 1;
    try {
      // One after the other: a storm of alerts must not become a storm of programs.
      return await (this.#last = this.#last.then(
        () => this.#make(text, file),
        () => this.#make(text, file),
      ));
    } finally {
      this.#waiting -= 1;
    }
  }

  async #make(text: string, file: string): Promise<string> {
    // Asked for twice before it was there.
    if (existsSync(file)) return file;
    const sound = await this.#speak(text);
    mkdirSync(this.folder, { recursive: true });
    const part = `${file}.${process.pid}.part`;
    writeFileSync(part, sound);
    renameSync(part, file);
    this.#forgetOldest();
    return file;
  }

  #speak(text: string): Promise<Buffer> {
    return new Promise((resolve, reject) => {
      // The words go in by standard input: nothing of them can become an option or a command.
      const child = spawn(this.program, ['--stdin', '--stdout', '-s', '160'], {
        stdio: ['pipe', 'pipe', 'ignore'],
        timeout: MAX_MS,
      });
      const parts: Buffer[] = [];
      let bytes = 0;
      child.stdout.on('data', (part: Buffer) => {
        bytes += part.length;
        if (bytes > MAX_BYTES) child.kill('SIGKILL');
        else parts.push(part);
      });
      child.on('error', (error) =>
        reject(new Fault('speech.failed', `the speech engine does not run: ${error.message}`)),
      );
      child.on('close', (code) => {
        const sound = Buffer.concat(parts);
        if (code === 0 && sound.length > 44) resolve(withLengths(sound));
        else reject(new Fault('speech.failed', 'the speech engine gave no sound'));
      });
      child.stdin.on('error', () => child.kill());
      child.stdin.end(text);
    });
  }

  #forgetOldest(): void {
    const files = readdirSync(this.folder)
      .filter((name) => name.endsWith('.wav'))
      .map((name) => ({ name, at: statSync(path.join(this.folder, name)).mtimeMs }))
      .sort((a, b) => b.at - a.at);
    for (const { name } of files.slice(MAX_KEPT)) rmSync(path.join(this.folder, name), { force: true });
  }
}
