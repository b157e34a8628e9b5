import { expect, test } from 'vitest';
import { matchDevice } from './device-match';

const here = [
  { deviceId: 'a', label: 'Webcam (046d:0825)' },
  { deviceId: 'b', label: 'Desk camera' },
];

test('a device is known by its id, and on another computer by its name', () => {
  expect(matchDevice('b', 'Webcam', here)).toBe('b');
  expect(matchDevice('elsewhere', 'Webcam', here)).toBe('a');
  expect(matchDevice('elsewhere', 'Webcam (1234:5678)', here)).toBe('a');
});

test('the default one stays the default, and one that is not here is asked for as it was', () => {
  expect(matchDevice('', 'Desk camera', here)).toBe('');
  expect(matchDevice('elsewhere', 'Lever camera', here)).toBe('elsewhere');
  expect(matchDevice('elsewhere', '', here)).toBe('elsewhere');
  expect(matchDevice('elsewhere', 'Desk camera', [{ deviceId: 'x', label: '' }])).toBe('elsewhere');
});
