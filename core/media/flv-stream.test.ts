import fc from 'fast-check';
import { expect, test } from 'vitest';
import { FlvReader, flvHeader, flvTag, isKeyPicture, isSequenceHeader, type FlvTag } from './flv-stream';

const tag = fc.record<FlvTag>({
  kind: fc.constantFrom('audio', 'video', 'data'),
  timestampMs: fc.integer({ min: 0, max: 2 ** 31 - 1 }),
  body: fc.uint8Array({ minLength: 2, maxLength: 300 }),
});

test('what is written is read again, however the stream is cut', () => {
  fc.assert(
    fc.property(fc.array(tag, { maxLength: 12 }), fc.array(fc.integer({ min: 1, max: 90 })), (tags, cuts) => {
      const whole = Buffer.concat([flvHeader(), ...tags.map(flvTag)]);
      const reader = new FlvReader();
      const read: FlvTag[] = [];
      let at = 0;
      for (let n = 0; at < whole.length; n++) {
        const size = cuts[n % Math.max(1, cuts.length)] ?? 50;
        read.push(...reader.push(whole.subarray(at, at + size)));
        at += size;
      }
      expect(read.map((t) => ({ ...t, body: [...t.body] }))).toEqual(
        tags.map((t) => ({ ...t, body: [...t.body] })),
      );
    }),
  );
});

test('layout as in the specification, §E.4.1', () => {
  expect([...flvTag({ kind: 'video', timestampMs: 0x12345678, body: Uint8Array.of(0x17, 1) })]).toEqual([
    9, 0, 0, 2, 0x34, 0x56, 0x78, 0x12, 0, 0, 0, 0x17, 1, 0, 0, 0, 13,
  ]);
});

test('what is not FLV, an unknown tag and an absurd size are refused', () => {
  expect(() => new FlvReader().push(Buffer.from('RIFF....WAVEfmt '))).toThrow('not an FLV');
  const unknown = flvTag({ kind: 'audio', timestampMs: 0, body: Uint8Array.of(1, 2) });
  unknown[0] = 3;
  expect(() => new FlvReader().push(Buffer.concat([flvHeader(), unknown]))).toThrow('type 3');
  const huge = Uint8Array.of(9, 0xff, 0xff, 0xff, 0, 0, 0, 0, 0, 0, 0);
  expect(() => new FlvReader().push(Buffer.concat([flvHeader(), huge]))).toThrow('larger');
});

test('keyframes and headers are told from what their bodies say', () => {
  expect(isKeyPicture(Uint8Array.of(0x17, 1, 0, 0, 0))).toBe(true);
  expect(isKeyPicture(Uint8Array.of(0x17, 0, 0, 0, 0))).toBe(false);
  expect(isKeyPicture(Uint8Array.of(0x27, 1, 0, 0, 0))).toBe(false);
  expect(isSequenceHeader({ kind: 'audio', timestampMs: 0, body: Uint8Array.of(0xaf, 0) })).toBe(true);
  expect(isSequenceHeader({ kind: 'video', timestampMs: 0, body: Uint8Array.of(0x27, 1) })).toBe(false);
});
