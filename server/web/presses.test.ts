import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { BusFromServer } from '../../protocol/bus';
import { Presses } from './presses';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const started = (desk = true) => {
  const said: BusFromServer[] = [];
  const presses = new Presses((message) => {
    if (desk) said.push(message);
    return desk;
  });
  return { presses, said, answer: presses.press({ command: 'take', params: {} }, 'pad') };
};
const types = (said: readonly BusFromServer[]) => said.map(({ type }) => type);

test('a press is done when the desk has it, and answered with what came of it', async () => {
  const { presses, said, answer } = started();
  presses.taken(1);
  expect(types(said)).toEqual(['press', 'go']);
  // What has begun may take its time.
  await vi.advanceTimersByTimeAsync(20_000);
  presses.answered(1, 'Nothing is next.');
  expect(await answer).toBe('Nothing is next.');
});

test('a desk that was stalled is not told to do what was given up meanwhile', async () => {
  const { presses, said, answer } = started();
  await vi.advanceTimersByTimeAsync(2000);
  expect(await answer).toContain('nothing was pressed');
  presses.taken(1);
  expect(types(said)).toEqual(['press']);
});

test('without a desk it is refused at once, and one that never ends is told of', async () => {
  expect(await started(false).answer).toContain('No studio page');
  const { presses, answer } = started();
  presses.taken(1);
  await vi.advanceTimersByTimeAsync(60_000);
  expect(await answer).toContain('not done after a minute');
});
