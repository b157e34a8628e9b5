import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  annexBWithColour,
  colourByBrightness,
  colourOf,
  configWithColour,
  setWithColour,
  USUAL_COLOUR,
  type StreamColour,
} from './avc-colour';

const bytes = (hex: string) => Uint8Array.from(hex.match(/../g)!.map((byte) => parseInt(byte, 16)));
/** Bits of a set, without header, as text; the stop bit and padding are added. */
const fromBits = (profile: number, bits: string) => {
  const all = `${bits.replace(/ /g, '')}1`;
  const padded = all.padEnd(Math.ceil(all.length / 8) * 8, '0');
  return Uint8Array.from([0x67, profile, 0, 30, ...padded.match(/.{8}/g)!.map((byte) => parseInt(byte, 2))]);
};
const FULL_601: StreamColour = { fullRange: true, matrix: 'bt601' };
/** A configuration record with one set and one picture parameter set. */
const recordOf = (...sets: Uint8Array[]) =>
  Uint8Array.from([
    ...[1, sets[0][1], 0, sets[0][3], 0xff, 0xe0 | sets.length],
    ...sets.flatMap((set) => [set.length >> 8, set.length & 255, ...set]),
    ...[1, 0, 4, 0x68, 0xce, 0x3c, 0x80],
  ]);

/** Of encoders: a browser's with full range in it, others with 4:2:0 and 4:2:2, cropped, with timing and emulation bytes. */
const SETS = {
  browser: bytes('67640c1fac191a805005ba6e021a020f08846a'),
  baseline: bytes('6742c00dd901519e226c05a8081012000003000200000300781e285490'),
  main: bytes('674d400deca0a8cf113602d40408090000030001000003003c0f142996'),
  high: bytes('6764000dacd941519e226c05a8081012000003000200000300781e28532c'),
  high422: bytes('677a000dbcd941519e222f016a02040480000003008000001e078a14cb'),
  // Nothing said: order of pictures by type 2, by 1 with two offsets, and fields in place of frames.
  silent: fromBits(66, '1 1 011 010 0 000010100 0001011 1 1 0 0'),
  offsets: fromBits(66, '1 1 010 1 00100 1 011 00101 00110 010 0 000010100 0001011 1 1 0 0'),
  fields: fromBits(77, '1 1 011 010 0 000010100 0001011 0 1 1 1 010 1 011 00100 0'),
  // Scaling lists: one of its own in sixteen, one that ends early, one of 64 left out.
  lists: fromBits(
    100,
    `1 010 1 1 0 1 1 ${'1'.repeat(16)} 1 000010001 000000 1 011 010 0 000010100 0001011 1 1 0 0`,
  ),
  // Shape of points given by numbers, overscan said.
  shaped: fromBits(
    66,
    `1 1 011 010 0 000010100 0001011 1 1 0 1 1 11111111 ${'0'.repeat(15)}1${'0'.repeat(15)}1 1 1 0 0 0 0 0 0 0`,
  ),
};

describe.each(Object.entries(SETS))('a set as of %s', (_, set) => {
  test.each([USUAL_COLOUR, FULL_601])('says %o and is else as it was', (colour) => {
    const said = setWithColour(set, colour);
    expect(colourOf(recordOf(said))).toEqual(colour);
    expect(said.subarray(0, 4)).toEqual(set.subarray(0, 4));
    // Said once more, or otherwise and back, it is the same.
    expect(setWithColour(said, colour)).toEqual(said);
    expect(setWithColour(setWithColour(said, FULL_601), colour)).toEqual(said);
    // No start code can be read inside it.
    for (let i = 0; i + 2 < said.length; i++)
      expect(said[i] === 0 && said[i + 1] === 0 && said[i + 2] < 3 && `at ${i}`).toBe(false);
  });
});

test('to the bit: a set that said nothing, and one that said full range', () => {
  const shared = '1 1 011 010 0 000010100 0001011 1 1 0 1';
  const signal = '1 101 0 1 00000001 00000001 00000001';
  expect(setWithColour(SETS.silent, USUAL_COLOUR)).toEqual(fromBits(66, `${shared} 00 ${signal} 000000`));
  const before = fromBits(66, `${shared} 1 00000010 0 1 010 1 1 00000001 00001101 00000101 0 0 0 0 0 1 1 1`);
  expect(setWithColour(before, { fullRange: false, matrix: 'bt601' })).toEqual(
    fromBits(66, `${shared} 1 00000010 0 1 101 0 1 00000001 00000001 00000110 0 0 0 0 0 1 1 1`),
  );
  // A signal that was said without its colours.
  const short = fromBits(66, `${shared} 0 0 1 010 1 0 0 0 0 0 0 0`);
  expect(setWithColour(short, USUAL_COLOUR)).toEqual(fromBits(66, `${shared} 0 0 ${signal} 0 0 0 0 0 0`));
});

test('what is said is read, and nothing where nothing, or no screen’s colours, are said', () => {
  expect(colourOf(recordOf(SETS.browser))).toEqual({ fullRange: true, matrix: 'bt709' });
  for (const set of [SETS.silent, SETS.baseline, SETS.shaped]) expect(colourOf(recordOf(set))).toBeNull();
  const coded = (primaries: string, matrix: string) =>
    colourOf(
      recordOf(
        fromBits(
          66,
          `1 1 011 010 0 000010100 0001011 1 1 0 1 00 1 101 1 1 ${primaries} 00000001 ${matrix} 000000`,
        ),
      ),
    );
  expect(coded('00000001', '00000001')).toEqual({ fullRange: true, matrix: 'bt709' });
  expect(coded('00000001', '00000101')).toEqual(FULL_601);
  expect(coded('00000001', '00000110')).toEqual(FULL_601);
  expect(coded('00000001', '00001001')).toBeNull();
  expect(coded('00001001', '00000001')).toBeNull();
});

test('every set of a configuration record says it; the rest of the record stays', () => {
  const record = recordOf(SETS.browser, SETS.silent);
  const said = configWithColour(record, USUAL_COLOUR);
  const sets = [SETS.browser, SETS.silent].map((set) => setWithColour(set, USUAL_COLOUR));
  expect(said).toEqual(recordOf(...sets));
  expect(() => configWithColour(Uint8Array.of(1, 2, 3), USUAL_COLOUR)).toThrow('configuration record');
});

test('in a stream with start codes too; units without a set are given back', () => {
  const start = [0, 0, 0, 1];
  const picture = [0x65, 0x88, 0x84, 0, 0x21];
  const unit = (set: Uint8Array) =>
    Uint8Array.from([...start, ...set, ...start, 0x68, 0xce, ...start, ...picture]);
  expect(annexBWithColour(unit(SETS.browser), USUAL_COLOUR)).toEqual(
    unit(setWithColour(SETS.browser, USUAL_COLOUR)),
  );
  const alone = Uint8Array.from([0, 0, 1, ...SETS.high]);
  expect(annexBWithColour(alone, FULL_601)).toEqual(
    Uint8Array.from([0, 0, 1, ...setWithColour(SETS.high, FULL_601)]),
  );
  const without = Uint8Array.from([...start, ...picture]);
  expect(annexBWithColour(without, USUAL_COLOUR)).toBe(without);
});

test('a damaged set is refused in words, never read for ever', () => {
  for (const set of Object.values(SETS))
    for (let length = 0; length < set.length - 1; length++)
      try {
        setWithColour(set.subarray(0, length), USUAL_COLOUR);
      } catch (error) {
        expect(String(error)).toContain('H.264 sequence parameter set');
      }
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 60 }), (noise) => {
      try {
        setWithColour(noise, USUAL_COLOUR);
      } catch (error) {
        expect(String(error)).toContain('H.264 sequence parameter set');
      }
    }),
  );
});

test.each([
  [235, 62, { fullRange: false, matrix: 'bt709' }],
  [235, 82, { fullRange: false, matrix: 'bt601' }],
  [255, 54, { fullRange: true, matrix: 'bt709' }],
  [254, 76, { fullRange: true, matrix: 'bt601' }],
] as const)('white of %d and red of %d', (white, red, colour) => {
  expect(colourByBrightness(white, red)).toEqual(colour);
});
