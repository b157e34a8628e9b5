import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { sampleEvent } from '~/core/audience/sample-audience';
import { keepAlerts, keptAlerts } from './kept-alerts';

let stored: Map<string, string>;
let full: boolean;

beforeEach(() => {
  stored = new Map();
  full = false;
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => {
      if (full) throw new DOMException('quota', 'QuotaExceededError');
      stored.set(key, value);
    },
  });
});
afterEach(() => vi.unstubAllGlobals());

const KEPT = {
  savedMs: 1000,
  lastSeq: 7,
  paused: true,
  muted: false,
  waiting: [{ ruleId: 'r', event: sampleEvent('follow'), viewers: ['a'], people: 1, events: 1, total: null }],
};

test('what was kept comes back, for its own show', () => {
  keepAlerts('night', KEPT);
  expect(keptAlerts('night')).toEqual(KEPT);
  expect(keptAlerts('other')).toBeNull();
});

test.each(['{', 'null', '[]', '{"savedMs":"x"}', '{"savedMs":1,"lastSeq":2,"waiting":{}}', '7'])(
  'what something else has written, %s, is nothing',
  (text) => {
    keepAlerts('night', KEPT);
    stored.set([...stored.keys()][0], text);
    expect(keptAlerts('night')).toBeNull();
  },
);

test('a full storage costs what was to be kept, and nothing else', () => {
  full = true;
  expect(() => keepAlerts('night', KEPT)).not.toThrow();
  expect(keptAlerts('night')).toBeNull();
});
