import fc from 'fast-check';
import { expect, test } from 'vitest';
import { fillerUnit, nalTypes } from '../media/avc';
import { Padder } from './padder';

test('pictures below their share are filled to the rate; above it nothing is added until it evens out', () => {
  const padder = new Padder(1200, 30);
  let sent = 0;
  for (let i = 0; i < 300; i++) {
    const bytes = i % 60 === 0 ? 20_000 : 2500;
    sent += bytes + padder.fillerFor(bytes);
  }
  expect((sent * 8) / 1000 / 10).toBeGreaterThan(1200 * 0.98);
  expect((sent * 8) / 1000 / 10).toBeLessThan(1200 * 1.05);
});

test('a pause is not made up by a burst, and filler is never too short to be a unit', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 60_000 }), { maxLength: 200 }), (sizes) => {
      const padder = new Padder(2000, 30);
      for (const bytes of sizes) {
        const filler = padder.fillerFor(bytes);
        expect(filler === 0 || filler >= 6).toBe(true);
        expect(filler).toBeLessThanOrEqual((2000 * 125 * 2) / 30);
      }
    }),
  );
});

test('a filler unit is one unit of type 12, of exactly the length asked for, with its trailing bits', () => {
  for (const bytes of [6, 7, 1000, 70_000]) {
    const unit = fillerUnit(bytes);
    expect(unit).toHaveLength(bytes);
    expect(nalTypes(unit)).toEqual([12]);
    expect(unit[bytes - 1]).toBe(0x80);
  }
});
