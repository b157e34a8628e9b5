import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { lightBytes, MidiReader, modeOf, PickUp, relativeSteps, type ControlMove } from './midi';

const cc = (number: number, value: number, channel = 0): ControlMove => ({
  of: 'cc',
  channel,
  number,
  value,
});
const note = (number: number, value: number, channel = 0): ControlMove => ({
  of: 'note',
  channel,
  number,
  value,
});

describe('bytes', () => {
  test.each<[string, number[], ControlMove[]]>([
    ['a note, struck and let go', [0x93, 60, 100, 0x83, 60, 64], [note(60, 100, 3), note(60, 0, 3)]],
    ['a note let go by striking it with nothing', [0x90, 60, 0], [note(60, 0)]],
    ['running status', [0xb1, 7, 1, 7, 2, 8, 3], [cc(7, 1, 1), cc(7, 2, 1), cc(8, 3, 1)]],
    ['a clock in the middle', [0xb0, 0xf8, 7, 0xfe, 99], [cc(7, 99)]],
    ['a system exclusive goes by', [0xf0, 1, 2, 3, 0xf7, 0xb0, 7, 5], [cc(7, 5)]],
    ['data without a status', [1, 2, 3, 0xf3, 4, 5], []],
    ['messages of one byte', [0xc0, 5, 0xd0, 6, 0xb0, 7, 8], [cc(7, 8)]],
    ['a message that was cut off by another', [0xb0, 7, 0x90, 60, 1], [note(60, 1)]],
  ])('%s', (_, bytes, moves) => expect(new MidiReader().read(bytes)).toEqual(moves));

  test('whatever comes, in whatever pieces, is the same moves', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 255 })), fc.nat(), (bytes, cut) => {
        const at = cut % (bytes.length + 1);
        const reader = new MidiReader();
        const parts = [...reader.read(bytes.slice(0, at)), ...reader.read(bytes.slice(at))];
        expect(parts).toEqual(new MidiReader().read(bytes));
        for (const { number, value } of parts) expect(Math.max(number, value)).toBeLessThan(128);
      }),
    );
  });
  test('lights go back as they came', () => {
    expect(new MidiReader().read(lightBytes(note(12, 0, 9), 127))).toEqual([note(12, 127, 9)]);
    expect(new MidiReader().read(lightBytes(cc(12, 0, 2), 1))).toEqual([cc(12, 1, 2)]);
  });
});

test.each<[string, ControlMove[], string]>([
  ['a note', [note(3, 90)], 'button'],
  ['a button that speaks as a controller', [cc(3, 127), cc(3, 0)], 'button'],
  ['an encoder', [cc(3, 1), cc(3, 1), cc(3, 127), cc(3, 2)], 'relative'],
  ['a fader', [cc(3, 40), cc(3, 44), cc(3, 52)], 'fader'],
  ['a fader near its lower end', [cc(3, 1), cc(3, 3), cc(3, 6)], 'fader'],
])('%s is known by how it moves', (_, moves, mode) => expect(modeOf(moves)).toBe(mode));

test('an encoder counts to both sides', () => {
  expect([1, 3, 127, 120].map(relativeSteps)).toEqual([1, 3, -1, -8]);
});

test('a fader takes hold once it has passed what is set, and again after somebody else moved that', () => {
  const fader = new PickUp();
  expect(fader.moved(0.1, 0.5)).toBe(false);
  expect(fader.moved(0.3, 0.5)).toBe(false);
  expect(fader.moved(0.55, 0.5)).toBe(true);
  expect(fader.moved(0.7, 0.55)).toBe(true);
  // On a pad it was set to silence.
  expect(fader.moved(0.72, 0)).toBe(false);
  expect(fader.moved(0.4, 0)).toBe(false);
  expect(fader.moved(0.01, 0)).toBe(true);
});
