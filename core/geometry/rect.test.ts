import { expect, test } from 'vitest';
import { within } from './rect';

test('a size is brought within a longer side, in even pixels, and never enlarged', () => {
  expect(within({ width: 1920, height: 1080 }, 1280)).toEqual({ width: 1280, height: 720 });
  expect(within({ width: 1080, height: 1920 }, 320)).toEqual({ width: 180, height: 320 });
  expect(within({ width: 641, height: 361 }, 1280)).toEqual({ width: 640, height: 360 });
  expect(within({ width: 4000, height: 1 }, 100)).toEqual({ width: 100, height: 2 });
});
