import { expect, test } from 'vitest';
import { adviseHealth, type HealthSample } from './health';

const good: HealthSample = {
  atMs: 0,
  fps: 30,
  pace: 30,
  scale: 1,
  planFps: 30,
  due: 30,
  skipped: 0,
  encoderBusy: 0,
  leftOut: 0,
  lineDropped: 0,
  unackedMs: 20,
  kbps: 2000,
  share: 1,
  destinations: [
    { id: 'l', name: 'Larch', kbps: 2000, dropped: 0, lagMs: 10, state: 'live' },
    { id: 'c', name: 'Cairn', kbps: 2000, dropped: 0, lagMs: 10, state: 'live' },
  ],
};
const seconds = (more: Partial<HealthSample>, count = 10) =>
  Array.from({ length: count }, (_, i) => ({ ...good, atMs: i * 1000, ...more }));
const causes = (more: Partial<HealthSample>) => adviseHealth(seconds(more)).map((a) => a.cause);

test('nothing to say when all is well, or before anything is known', () => {
  expect(adviseHealth(seconds({}))).toEqual([]);
  expect(adviseHealth([])).toEqual([]);
});

test('each cause is told apart', () => {
  expect(causes({ skipped: 2 })).toEqual(['composition']);
  expect(causes({ encoderBusy: 3 })).toEqual(['encoder']);
  expect(causes({ leftOut: 3 })).toEqual(['encoder']);
  expect(causes({ share: 0.4 })).toEqual(['line']);
  expect(causes({ unackedMs: 2500 })).toEqual(['line']);
});

test('one slow destination is its own trouble, all of them are the line', () => {
  const [larch, cairn] = good.destinations;
  const one = adviseHealth(seconds({ destinations: [{ ...larch, state: 'stalled' }, cairn] }));
  expect(one).toMatchObject([{ cause: 'destination', destination: 'Larch' }]);
  const both = adviseHealth(
    seconds({
      destinations: [
        { ...larch, state: 'unreachable' },
        { ...cairn, state: 'stalled' },
      ],
    }),
  );
  expect(both.map((a) => a.cause)).toEqual(['line', 'line']);
});

test('what helps comes with it, as changes of the plan', () => {
  const steps = (more: Partial<HealthSample>) => adviseHealth(seconds(more)).map((a) => a.steps);
  expect(steps({ skipped: 2 })).toEqual([['fewerFrames', 'smaller']]);
  expect(steps({ encoderBusy: 3 })).toEqual([['fewerFrames', 'quick', 'smaller']]);
  expect(steps({ leftOut: 3 })).toEqual([['higherRate', 'smaller']]);
  expect(steps({ share: 0.4 })).toEqual([['lowerRate', 'smaller']]);
  // One destination is no reason to change what all others get.
  const [larch, cairn] = good.destinations;
  expect(steps({ destinations: [{ ...larch, state: 'stalled' }, cairn] })).toEqual([[]]);
});

test('a machine that makes evenly fewer pictures says so once, and not that some were missed', () => {
  const [advice, ...more] = adviseHealth(seconds({ pace: 15, skipped: 3 }));
  expect(more).toEqual([]);
  expect(advice).toMatchObject({ cause: 'composition', steps: ['fewerFrames', 'smaller'] });
  expect(advice.text).toContain('15 fps, evenly spaced, instead of 30');
  const [softer] = adviseHealth(seconds({ pace: 15, scale: 0.75 }));
  expect(softer.text).toContain(
    '15 fps, evenly spaced, instead of 30, softer video, drawn at 75% of its size',
  );
  const [soft] = adviseHealth(seconds({ scale: 0.5 }));
  expect(soft).toMatchObject({ cause: 'composition' });
  expect(soft.text).toContain('overloaded: softer video, drawn at 50% of its size.');
  expect(adviseHealth(seconds({ pace: 29.97, planFps: 29.97 }))).toEqual([]);
});

test('what was long ago is not spoken of', () => {
  expect(adviseHealth([...seconds({ skipped: 20 }, 60), ...seconds({}, 10)])).toEqual([]);
});
