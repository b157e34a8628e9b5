import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { busiestPage, holdBack, type BrowserProcess, type ProcessLook } from './hold-back';

afterEach(() => vi.useRealTimers());

describe('a process that is held back', () => {
  test('runs a tenth of the time, and freely again when it is let go', () => {
    vi.useFakeTimers();
    const said: [number, string][] = [];
    const begun = Date.now();
    const release = holdBack(1, (name) => {
      said.push([Date.now() - begun, name]);
      return true;
    });
    vi.advanceTimersByTime(400);
    release();
    vi.advanceTimersByTime(2000);
    expect(said).toEqual([
      [0, 'SIGSTOP'],
      [180, 'SIGCONT'],
      [200, 'SIGSTOP'],
      [380, 'SIGCONT'],
      [400, 'SIGSTOP'],
      [400, 'SIGCONT'],
    ]);
  });

  test('that has ended is left alone', () => {
    vi.useFakeTimers();
    const signal = vi.fn(() => false);
    holdBack(1, signal);
    vi.advanceTimersByTime(5000);
    expect(signal).toHaveBeenCalledTimes(1);
  });

  test.skipIf(process.platform !== 'linux')('really stands still, and goes on', async () => {
    const child = spawn(process.execPath, ['-e', 'for (;;);']);
    // Field 3 of the process's state (proc(5)).
    const state = () => readFileSync(`/proc/${child.pid}/stat`, 'utf8').split(') ')[1][0];
    try {
      const release = holdBack(child.pid!);
      await vi.waitFor(() => expect(state()).toBe('T'), 5000);
      release();
      await vi.waitFor(() => expect(state()).toBe('R'), 5000);
    } finally {
      child.kill('SIGKILL');
    }
    await new Promise((resolve) => child.once('exit', resolve));
    // No such process any more: no error, no further tries.
    holdBack(child.pid!)();
  });
});

test('the busiest page is the one whose time went on most, not the one that had most', () => {
  const at = (atMs: number, ...list: [string, number, number][]): ProcessLook => ({
    atMs,
    processes: list.map(([type, id, cpuTime]) => ({ type, id, cpuTime })),
  });
  const before = at(5000, ['browser', 1, 50], ['renderer', 2, 40], ['renderer', 3, 1], ['renderer', 4, 0]);
  const later: [string, number, number][] = [
    ['browser', 1, 60],
    ['renderer', 2, 40.1],
    ['renderer', 3, 1.3],
    ['renderer', 4, 0.2],
  ];
  const after = at(5400, ...later);
  expect(busiestPage(before, after, new Set(), 0)).toBe(3);
  expect(busiestPage(before, after, new Set([3]), 0)).toBe(4);
  // One that has come meanwhile counts from its beginning.
  expect(busiestPage(before, at(5400, ...later, ['renderer', 5, 0.4]), new Set(), 0)).toBe(5);
  expect(busiestPage(before, at(5400, ...before.processes.map(asRow)), new Set(), 0)).toBeNull();
  // A page that works a little is none that computes without end: 0.3 of 0.4 seconds, and 0.2.
  expect(busiestPage(before, after, new Set(), 0.7)).toBe(3);
  expect(busiestPage(before, after, new Set([3]), 0.7)).toBeNull();
});

const asRow = ({ type, id, cpuTime }: BrowserProcess): [string, number, number] => [type, id, cpuTime];
