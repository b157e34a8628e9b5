import { afterAll, beforeAll, beforeEach } from 'vitest';

/**
 * Starts what a file's tests share, and starts it anew before a test is tried a second time: what the first try left
 * behind (a muted channel, a broadcast) must not decide the second.
 */
export function freshStart(start: () => Promise<void>, stop: () => Promise<void>): void {
  beforeAll(() => start());
  beforeEach(async ({ task }) => {
    if (!task.result?.retryCount) return;
    await stop();
    await start();
  });
  afterAll(() => stop());
}
