import { afterAll, beforeEach, expect } from 'vitest';
import { tellSecondTry, tellWaits } from './waits';

beforeEach(({ task }) => {
  if (task.result?.retryCount) tellSecondTry(task.name, String(task.result.errors?.[0]?.message ?? ''));
});
afterAll(() => tellWaits(expect.getState().testPath ?? ''));
