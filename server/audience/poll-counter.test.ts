import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { AudienceEvent } from '../../core/audience/events';
import { PLAIN_MESSAGE } from '../../core/audience/events';
import type { PollResult } from '../../core/audience/own-poll';
import { NO_PROGRAMME, type ProgrammeState } from '../../core/programme/programme-state';
import { documentOf } from '../../core/show/document';
import type { PollRecord } from '../../core/show/rundown-records';
import { PollCounter } from './poll-counter';

const poll: PollRecord = {
  ...{ kind: 'poll', id: 'p', showId: 'show', name: 'Which way?', position: 0, seconds: 0 },
  answers: [
    { label: 'Left', words: '' },
    { label: 'Right', words: '' },
  ],
};
const said = (viewer: string, text: string): AudienceEvent => ({
  ...PLAIN_MESSAGE,
  ...{ platform: 'larch', id: `${viewer}${text}`, atMs: 0, viewer, text },
});
const running = (sinceMs: number): ProgrammeState => ({
  ...NO_PROGRAMME,
  poll: { pollId: 'p', sinceMs, untilMs: null, endedMs: null },
});
const over: ProgrammeState = {
  ...NO_PROGRAMME,
  poll: { pollId: 'p', sinceMs: 1000, untilMs: null, endedMs: 2000 },
};

let told: (PollResult | null)[] = [];
let ended: PollResult[] = [];
let askedSince: number[] = [];
const make = (before: AudienceEvent[] = []) => {
  told = [];
  ended = [];
  askedSince = [];
  return new PollCounter({
    document: () => documentOf([poll]),
    chatSince: (sinceMs) => {
      askedSince.push(sinceMs);
      return before;
    },
    tell: (result) => told.push(result),
    ended: (result) => ended.push(result),
  });
};
const votes = () => told.at(-1)?.options.map((option) => option.votes);
beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

test('counts while it runs, is told now and then, and ends as what it came to', () => {
  const counter = make();
  counter.said([said('a', 'left')]);
  expect(counter.result).toBeNull();
  counter.follow(running(1000));
  expect(votes()).toEqual([0, 0]);
  for (let i = 0; i < 50; i++) counter.said([said(`viewer ${i}`, 'right'), said('a', 'left')]);
  expect(told).toHaveLength(1);
  vi.advanceTimersByTime(500);
  expect(told).toHaveLength(2);
  expect(votes()).toEqual([1, 50]);
  counter.follow(running(1000));
  counter.follow(over);
  expect(told.at(-1)).toBeNull();
  expect(ended).toMatchObject([{ title: 'Which way?', open: false, options: [{ votes: 1 }, { votes: 50 }] }]);
  counter.said([said('b', 'left')]);
  expect(ended).toHaveLength(1);
});

test('a server that is started anew counts what was written since', () => {
  const counter = make([said('a', 'left'), said('b', 'right'), said('a', 'right')]);
  counter.follow(running(1000));
  expect(counter.result?.options.map((option) => option.votes)).toEqual([0, 2]);
  expect(askedSince).toEqual([-1000]);
});

test('words from before the question are no votes', () => {
  const counter = make();
  counter.follow(NO_PROGRAMME);
  counter.follow(running(1000));
  expect(askedSince).toEqual([1000]);
});

test('asked again it begins anew, and the one before is over; one that is gone is none', () => {
  const counter = make();
  counter.follow(running(1000));
  counter.said([said('a', 'left')]);
  counter.follow(running(5000));
  expect(ended).toHaveLength(1);
  expect(counter.result?.options.map((option) => option.votes)).toEqual([0, 0]);
  counter.follow({ ...NO_PROGRAMME, poll: { pollId: 'gone', sinceMs: 9000, untilMs: null, endedMs: null } });
  expect(counter.result).toBeNull();
});
