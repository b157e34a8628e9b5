import { describe, expect, test } from 'vitest';
import { inputPart, InputPartReader, type InputPart } from './input-stream';

const parts: InputPart[] = [
  { kind: 'status', status: { state: 'waiting', message: 'nobody publishes', blocked: ['10.0.0.1:80'] } },
  { kind: 'picture', timestampMs: 77, body: Uint8Array.of(1, 2, 3) },
  { kind: 'video', timestampMs: 4_000_000_000, body: Uint8Array.of(0x17, 1, 0, 0, 0) },
  { kind: 'audio', timestampMs: 0, body: new Uint8Array(0) },
];
const bytes = Buffer.concat(parts.map(inputPart));

describe('parts of an input', () => {
  test('come whole, byte by byte, and in pieces of any size', () => {
    for (const size of [bytes.length, 1, 2, 3, 7, 11]) {
      const reader = new InputPartReader();
      const got: InputPart[] = [];
      for (let at = 0; at < bytes.length; at += size) got.push(...reader.push(bytes.subarray(at, at + size)));
      expect(got.map((p) => ('body' in p ? { ...p, body: new Uint8Array(p.body) } : p))).toEqual(parts);
    }
  });
  test('cut off give what was whole', () => {
    const reader = new InputPartReader();
    expect(reader.push(bytes.subarray(0, bytes.length - 1))).toHaveLength(3);
  });
  test.each([
    ['too large', Uint8Array.of(0xff, 0xff, 0xff, 0xff, 1)],
    ['of no kind', Uint8Array.of(0, 0, 0, 1, 9, 0)],
    ['no JSON', Uint8Array.of(0, 0, 0, 1, 0, 0x7b)],
    ['a status of another shape', inputPart({ kind: 'status', status: { state: 'gone' } as never })],
    ['a stamp that is cut', Uint8Array.of(0, 0, 0, 2, 2, 0, 0)],
  ])('%s is refused', (_, wrong) =>
    expect(() => new InputPartReader().push(wrong)).toThrow(
      expect.objectContaining({ code: 'input.stream' }),
    ),
  );
});
