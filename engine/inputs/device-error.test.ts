import { expect, test } from 'vitest';
import { explainDeviceError } from './device-error';

test.each([
  ['NotAllowedError', /not allowed: allow it/],
  ['NotFoundError', /missing: plug it in/],
  ['NotReadableError', /in use by another program/],
  ['WeirdError', /cannot be opened/],
])('%s is said in words with a remedy', (name, words) => {
  expect(explainDeviceError(new DOMException('x', name), 'Roof camera')).toMatch(words);
  expect(explainDeviceError(new DOMException('x', name), 'Roof camera')).toMatch(/^Roof camera /);
});
