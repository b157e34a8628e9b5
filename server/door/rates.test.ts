import { expect, test } from 'vitest';
import { householdOf, Rates } from './rates';

test.each([
  ['192.0.2.7', '192.0.2.7'],
  ['::ffff:192.0.2.7', '192.0.2.7'],
  ['2001:db8:1:2:3:4:5:6', '2001:db8:1:2'],
  ['2001:0db8:0001:0002::9', '2001:db8:1:2'],
  ['2001:db8::1', '2001:db8:0:0'],
  ['::1', '0:0:0:0'],
  ['fe80::1%eth0', 'fe80:0:0:0'],
  [undefined, ''],
])('%s is of the household %s', (address, household) => {
  expect(householdOf(address)).toBe(household);
});

test('so much at once, so much a second, each household by itself', () => {
  let nowMs = 0;
  const rates = new Rates(3, 2, () => nowMs);
  const taken = (address: string, tries: number) =>
    Array.from({ length: tries }, () => rates.take(address)).filter(Boolean).length;
  expect(taken('192.0.2.1', 10)).toBe(3);
  expect(taken('192.0.2.2', 2)).toBe(2);
  nowMs = 1000;
  expect(taken('192.0.2.1', 10)).toBe(2);
  nowMs = 60_000;
  expect(taken('192.0.2.1', 10)).toBe(3);
  // Many addresses of one network are one household.
  expect(Array.from({ length: 10 }, (_, i) => rates.take(`2001:db8:1:2::${i}`)).filter(Boolean).length).toBe(
    3,
  );
});
