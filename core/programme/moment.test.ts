import { expect, test } from 'vitest';
import type { AudienceEvent } from '../audience/events';
import { CUT } from '../show/motion-records';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../show/sample-show';
import type { AnyRecord } from '../show/records';
import type { ProgrammeCommand, ProgrammeEntry } from './commands';
import { documentAt, goneInputs, LEAD_MS, replayOf, type ToldBroadcast } from './moment';
import { NO_PROGRAMME } from './programme-state';

const STARTED = 1_000_000;
const clips = (id: string, start: 'on-air' | 'always'): AnyRecord =>
  sampleInput(id, {
    name: id,
    source: { type: 'clips', files: [], order: 'listed', atEnd: 'loop', start },
  });
const camera = sampleInput('camera', {
  name: 'Desk camera',
  keepReady: true,
  source: {
    type: 'camera',
    deviceId: 'd',
    deviceLabel: '',
    width: 0,
    height: 0,
    fps: 0,
    controls: {},
    deinterlace: false,
  },
});
const entry = (seq: number, afterMs: number, ...commands: ProgrammeCommand[]): ProgrammeEntry => ({
  ...{ seq, atMs: STARTED + afterMs, revision: 1, by: 'page', commands },
});
const take = (sceneId: string): ProgrammeCommand => ({
  ...{ type: 'take', sceneId, poseId: null, transition: CUT },
});
const told = (more: Partial<ToldBroadcast> = {}): ToldBroadcast => ({
  startedMs: STARTED,
  endedMs: STARTED + 600_000,
  records: [
    sampleShow,
    ...[sampleScene('talk'), sampleScene('play'), camera, clips('reel', 'on-air'), clips('loop', 'always')],
    sampleLayer('a', 'talk', 0, { content: { type: 'input', inputId: 'camera', fit: 'fill' } }),
    sampleLayer('b', 'play', 0, { content: { type: 'input', inputId: 'reel', fit: 'fill' } }),
    sampleLayer('c', 'play', 1, { content: { type: 'input', inputId: 'loop', fit: 'fill' } }),
  ],
  programme: { ...NO_PROGRAMME, onAir: { sceneId: 'talk', poseId: null, sinceMs: STARTED - 5000 } },
  edits: [],
  entries: [],
  ...more,
});
const chat = (afterMs: number): AudienceEvent => ({
  ...{
    type: 'chat',
    id: String(afterMs),
    platform: 'larch',
    viewer: 'fern',
    atMs: STARTED + afterMs,
    seq: 1,
  },
  ...{ channel: 'c', colour: null, badges: [], emotes: [], text: 'hello' },
});

test('what was on stands at once, and what was done shortly before is played', () => {
  const of = told({
    entries: [
      entry(1, 30_000, take('play')),
      entry(2, 100_000, take('talk')),
      entry(3, 130_000, take('play')),
    ],
    edits: [
      { revision: 2, atMs: STARTED + 95_000, put: [sampleScene('talk', { name: 'Late' })], removed: [] },
    ],
  });
  const replay = replayOf(of, [chat(60_000), chat(99_000)], STARTED + 105_000)!;
  expect(replay.first).toMatchObject([{ type: 'take', sceneId: 'play' }]);
  expect(replay.sinceMs).toBe(STARTED + 30_000);
  expect(replay.steps.map(({ atMs, type }) => [atMs - STARTED, type])).toEqual([
    [85_000, 'events'],
    [95_000, 'edit'],
    [99_000, 'events'],
    [100_000, 'commands'],
  ]);
  expect(replay.steps.flatMap((step) => (step.type === 'events' ? [step.past] : []))).toEqual([true, false]);
  expect(documentAt(of, STARTED + 94_000).get('talk')?.name).not.toBe('Late');
});

test('clips are where they were: from when their scene came on, or from the beginning', () => {
  const of = told({ entries: [entry(1, 30_000, take('play'))] });
  const { clips } = replayOf(of, [], STARTED + 47_500)!;
  expect(clips).toEqual([
    { inputId: 'reel', seconds: 17.5 },
    { inputId: 'loop', seconds: 47.5 },
  ]);
});

test('what was held is drawn as it was seen, and what was edited meanwhile stays unseen', () => {
  const of = told({
    entries: [entry(1, 30_000, { type: 'hold', on: true })],
    edits: [
      { revision: 2, atMs: STARTED + 20_000, put: [sampleScene('talk', { name: 'Seen' })], removed: [] },
      { revision: 3, atMs: STARTED + 40_000, put: [sampleScene('talk', { name: 'Unseen' })], removed: [] },
    ],
  });
  const replay = replayOf(of, [], STARTED + 100_000)!;
  expect(replay.records.find(({ id }) => id === 'talk')?.name).toBe('Seen');
  expect(replay.first.map(({ type }) => type)).toEqual(['take', 'hold']);
  expect(replay.steps).toMatchObject([{ type: 'edit', put: [{ id: 'talk', name: 'Unseen' }] }]);
});

test('a camera is neither opened again nor shown: it is named', () => {
  const of = told();
  const replay = replayOf(of, [], STARTED + LEAD_MS * 2)!;
  const opened = replay.records.flatMap((r) => (r.kind === 'input' && r.keepReady ? [r.source.type] : []));
  expect(opened).not.toContain('camera');
  expect(goneInputs(documentAt(of, STARTED), 'talk')).toEqual(['Desk camera']);
  expect(goneInputs(documentAt(of, STARTED), 'play')).toEqual([]);
});

test('a title that was on stays on for what was left of it', () => {
  const words = { line1: 'Juno', line2: '' };
  const title = (seconds: number | null): ProgrammeCommand => ({
    type: 'title',
    titleId: null,
    words,
    seconds,
  });
  const left = (seconds: number | null) =>
    replayOf(told({ entries: [entry(1, 50_000, title(seconds))] }), [], STARTED + 80_000)!.first[1];
  expect(left(null)).toMatchObject({ type: 'title', seconds: null });
  expect(left(15)).toMatchObject({ type: 'title', seconds: 5 });
  expect(left(8)).toBeUndefined();
});

test('before anything was on there is nothing to draw', () => {
  expect(replayOf(told({ programme: NO_PROGRAMME }), [], STARTED + 1000)).toBeNull();
});
