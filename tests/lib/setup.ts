import { afterAll, afterEach, beforeEach, expect } from 'vitest';
import { whatIsSeen } from './open-pages';
import { tellSecondTry, tellWaits } from './waits';

beforeEach(({ task }) => {
  if (task.result?.retryCount) tellSecondTry(task.name, String(task.result.errors?.[0]?.message ?? ''));
});
afterEach(async ({ task }) => {
  if (task.result?.state !== 'fail') return;
  const seen = await whatIsSeen();
  if (seen !== '') console.log(`seen when “${task.name}” failed:\n${seen}`);
});
afterAll(() => tellWaits(expect.getState().testPath ?? ''));
