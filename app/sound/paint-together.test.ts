import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { paintTogether } from './paint-together';

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('requestAnimationFrame', (paint: () => void) => setTimeout(paint, 1));
  vi.stubGlobal('cancelAnimationFrame', clearTimeout);
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

test('thirty a second, and half as often for what stands beside other things', () => {
  let [often, aside] = [0, 0];
  const ends = [paintTogether(() => (often += 1)), paintTogether(() => (aside += 1), true)];
  vi.advanceTimersByTime(3400);
  expect(often).toBe(100);
  expect(aside).toBe(50);
  for (const end of ends) end();
  vi.advanceTimersByTime(1000);
  expect(often).toBe(100);
});

test('what stands aside goes on when what was painted oftener is gone, whenever that is', () => {
  for (const ms of [34, 68, 102, 136, 340, 374]) {
    let aside = 0;
    const often = paintTogether(() => {});
    vi.advanceTimersByTime(ms);
    const end = paintTogether(() => (aside += 1), true);
    often();
    vi.advanceTimersByTime(1000);
    expect([ms, aside >= 14]).toEqual([ms, true]);
    end();
  }
});
