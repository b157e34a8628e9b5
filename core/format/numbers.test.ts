import { expect, test } from 'vitest';
import { withMinus } from './numbers';

test('a negative number has a minus, others stay', () => {
  expect([withMinus('-12.3'), withMinus('0.0'), withMinus('4-5')]).toEqual(['−12.3', '0.0', '4-5']);
});
