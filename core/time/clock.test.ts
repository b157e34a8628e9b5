import { describe, expect, test, vi } from 'vitest';
import { clockOn, sleep } from './clock';
import { DrivenClock } from './driven-clock';

describe('a driven clock', () => {
  test('calls what is due in order, each at its own time, and nothing before', () => {
    const clock = new DrivenClock(1000);
    const seen: string[] = [];
    const say = (name: string) => () => seen.push(`${name} ${clock.nowMs()}`);
    clock.after(30, say('later'));
    clock.every(20, say('again'));
    clock.after(20, say('once'));
    clock.advance(19);
    expect(seen).toEqual([]);
    clock.advance(41);
    // Of two at the same moment the one that was asked for first.
    expect(seen).toEqual(['again 1020', 'once 1020', 'later 1030', 'again 1040', 'again 1060']);
    expect(clock.nowMs()).toBe(1060);
    expect(clock.waiting).toBe(1);
  });

  test('what is cancelled does not come, also not when that is done by what came just before', () => {
    const clock = new DrivenClock();
    const never = vi.fn();
    const cancel = clock.after(10, never);
    clock.after(10, never)();
    clock.after(5, cancel);
    const period = clock.every(3, () => period());
    clock.advance(100);
    cancel();
    expect(never).not.toHaveBeenCalled();
    expect(clock.waiting).toBe(0);
  });

  test('what is asked for on the way counts from the moment it is asked at', () => {
    const clock = new DrivenClock();
    const seen: number[] = [];
    clock.after(10, () => clock.after(10, () => seen.push(clock.nowMs())));
    clock.advance(30);
    expect(seen).toEqual([20]);
    clock.advanceTo(5);
    expect(clock.nowMs()).toBe(30);
  });

  test('the calendar can be set, and time goes on as before', () => {
    const clock = new DrivenClock(5000);
    clock.setDate(1_000_000);
    clock.advance(10);
    expect([clock.nowMs(), clock.dateMs()]).toEqual([5010, 1_000_010]);
  });

  test('a period of nothing does not hold time up', () => {
    const clock = new DrivenClock();
    let calls = 0;
    clock.every(0, () => (calls += 1));
    clock.advance(10);
    expect(calls).toBe(10);
  });
});

test('the real clock is that of its host', async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'performance'] });
  try {
    const clock = clockOn(globalThis);
    const before = clock.nowMs();
    const calls: string[] = [];
    clock.after(20, () => calls.push('once'));
    const end = clock.every(15, () => calls.push('again'));
    clock.after(10, () => calls.push('never'))();
    const slept = sleep(clock, 40).then(() => calls.push('slept'));
    await vi.advanceTimersByTimeAsync(40);
    await slept;
    end();
    await vi.advanceTimersByTimeAsync(40);
    expect(calls).toEqual(['again', 'once', 'again', 'slept']);
    expect(clock.nowMs() - before).toBe(80);
  } finally {
    vi.useRealTimers();
  }
});
