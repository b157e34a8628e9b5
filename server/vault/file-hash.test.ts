import { createHash, randomBytes } from 'node:crypto';
import { describe, expect, test } from 'vitest';
import { fileHash } from './file-hash';

describe.each([
  ['beside the server', 64 * 1024 * 1024],
  ['at once', null],
])('the sum of a file, made %s', (_, expected) => {
  test('is that of all its pieces in their order', async () => {
    const pieces = Array.from({ length: 40 }, (_, i) => randomBytes(1 + i * 4097));
    const hash = fileHash(expected);
    for (const piece of pieces) await hash.add(piece);
    const digest = await hash.done();
    hash.close();
    expect(digest).toBe(createHash('sha256').update(Buffer.concat(pieces)).digest('hex'));
  });

  test('what is changed after it was handed over changes nothing', async () => {
    const piece = Buffer.from('signal box');
    const hash = fileHash(expected);
    const added = hash.add(piece);
    piece.fill(0);
    await added;
    expect(await hash.done()).toBe(createHash('sha256').update('signal box').digest('hex'));
    hash.close();
    hash.close();
  });

  test('an empty file has one too', async () => {
    const hash = fileHash(expected);
    expect(await hash.done()).toBe(createHash('sha256').digest('hex'));
    hash.close();
  });
});
