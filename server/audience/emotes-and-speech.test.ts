import { chmodSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterEach, describe, expect, test } from 'vitest';
import { Fault } from '../../core/fault';
import { EmoteCache } from './emote-cache';
import { Speech } from './speech';

const closing: (() => void)[] = [];
afterEach(() => closing.splice(0).forEach((close) => close()));

function folder(): string {
  const made = mkdtempSync(path.join(os.tmpdir(), 'dolomite-emotes-'));
  closing.push(() => rmSync(made, { recursive: true, force: true }));
  return made;
}

const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==',
  'base64',
);

describe('emotes', () => {
  async function cache() {
    const asked: string[] = [];
    const server = http.createServer((request, response) => {
      asked.push(request.url ?? '');
      const name = path.basename(request.url ?? '');
      if (name === 'bell') return response.end(PNG);
      if (name === 'page') return response.end('<html><script>alert(1)</script></html>');
      if (name === 'huge') return response.end(Buffer.concat([PNG, Buffer.alloc(600 * 1024)]));
      if (name === 'away') return response.writeHead(302, { location: 'http://127.0.0.1:1/secret' }).end();
      return response.writeHead(404).end();
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    closing.push(() => server.close());
    const emoteUrl = `http://127.0.0.1:${(server.address() as AddressInfo).port}/emotes/`;
    const of = (platform: string) => (platform === 'larch' ? emoteUrl : undefined);
    return { emotes: new EmoteCache(folder(), of), asked };
  }

  test('are fetched once and kept', async () => {
    const { emotes, asked } = await cache();
    const { file, mime } = await emotes.find('larch', 'bell');
    expect([mime, readFileSync(file)]).toEqual(['image/png', PNG]);
    await emotes.find('larch', 'bell');
    expect(asked).toEqual(['/emotes/bell']);
  });

  test.each(['page', 'huge', 'away', 'missing', '../../etc/passwd', '.', 'a b'])(
    '%s is refused',
    async (name) => {
      const { emotes, asked } = await cache();
      await expect(emotes.find('larch', name)).rejects.toThrow(Fault);
      await expect(emotes.find('larch', name)).rejects.toThrow(Fault);
      // Nobody is asked again and again for what is not there.
      expect(asked.length).toBeLessThanOrEqual(1);
      await expect(emotes.find('elsewhere', 'bell')).rejects.toThrow(Fault);
    },
  );
});

describe('speech', () => {
  /** A program that speaks like the real one: words by standard input, sound by standard output. */
  function engine(script: string): string {
    const file = path.join(folder(), 'speak');
    writeFileSync(file, `#!/bin/sh\nif [ "$1" = --version ]; then exit 0; fi\n${script}\n`);
    chmodSync(file, 0o755);
    return file;
  }
  const sound = 'head -c 4000 /dev/zero';

  test('words become a file, the same words the same one', async () => {
    const speech = new Speech(folder(), engine(`cat; ${sound}`));
    expect(speech.available).toBe(true);
    const file = await speech.file('mossbell follows; `rm -rf /` --help\u0000');
    expect(readFileSync(file).subarray(0, 35).toString()).toBe('mossbell follows; `rm -rf /` --help');
    expect(await speech.file('mossbell follows; `rm -rf /` --help')).toBe(file);
  });

  test('texts are spoken one after the other, the same one once; a storm is cut off; what is covered is a pause', async () => {
    const log = path.join(folder(), 'log');
    const speech = new Speech(
      folder(),
      engine(`echo begin >> ${log}; cat; ${sound}; sleep 0.02; echo end >> ${log}`),
    );
    const all = ['a ****** b', ...Array.from({ length: 24 }, (_, i) => `text ${i % 19}`)];
    const results = await Promise.allSettled(all.map((words) => speech.file(words)));
    const files = results.flatMap((r) => (r.status === 'fulfilled' ? [r.value] : []));
    expect([results.length, files.length, new Set(files).size]).toEqual([25, 20, 20]);
    expect(readFileSync(files[0]).subarray(0, 5).toString()).toBe('a , b');
    expect(readFileSync(log, 'utf8')).toBe('begin\nend\n'.repeat(20));
    expect(await speech.file('text 3')).toBe(files[4]);
  });

  test.each([
    ['that is not installed', null, /install espeak-ng/],
    ['that fails', 'exit 3', /gave no sound/],
    ['that says nothing', 'cat > /dev/null', /gave no sound/],
  ])('a program %s', async (_, script, words) => {
    await expect(
      new Speech(folder(), script === null ? '/nowhere/speak' : engine(script)).file('hello'),
    ).rejects.toThrow(words);
  });
});
