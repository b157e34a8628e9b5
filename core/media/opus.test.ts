import { expect, test } from 'vitest';
import { opusPreSkip, withoutPreSkip } from './opus';

/** Version 1, stereo, 312 samples before the first real one, 48 kHz, no gain, family 0. */
const HEAD = Uint8Array.from(
  [...'OpusHead'].map((c) => c.charCodeAt(0)).concat([1, 2, 0x38, 1, 0x80, 0xbb, 0, 0, 0, 0, 0]),
);

test('what an encoder put before the first sample is read, and taken out', () => {
  expect(opusPreSkip(HEAD)).toBe(312);
  expect(opusPreSkip(withoutPreSkip(HEAD))).toBe(0);
  expect(withoutPreSkip(HEAD)).toHaveLength(HEAD.length);
  expect([...withoutPreSkip(HEAD).subarray(12)]).toEqual([...HEAD.subarray(12)]);
  // The encoder's own header stays as it is.
  expect(opusPreSkip(HEAD)).toBe(312);
});

test.each([
  ['too short', HEAD.subarray(0, 18)],
  ['of something else', Uint8Array.from(HEAD, (byte, i) => (i === 4 ? 0x54 : byte))],
])('a header that is %s is refused', (_, head) => {
  expect(() => opusPreSkip(head)).toThrow('not the header of an Opus stream');
});
