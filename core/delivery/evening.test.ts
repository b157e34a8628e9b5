import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  chaptersOf,
  chaptersVtt,
  eveningCsv,
  eveningJsonLines,
  momentWords,
  pastSegments,
  summarise,
  type EveningMoment,
  type EveningSample,
  type TimedMoment,
} from './evening';

const START = Date.UTC(2026, 10, 23, 20, 0, 0);
const at = (seconds: number, moment: EveningMoment): TimedMoment => ({
  atMs: START + seconds * 1000,
  moment,
});
const sample = (more: Partial<EveningSample> = {}): EveningSample => ({
  kind: 'sample',
  fps: 30,
  due: 100,
  skipped: 0,
  leftOut: 0,
  lineDropped: 0,
  away: 0,
  kbps: 2000,
  lufs: -16,
  integratedLufs: -16.1,
  chat: 4,
  events: 2,
  destinations: [{ name: 'Larch', kbps: 2100, dropped: 0, lagMs: 12, state: 'live' }],
  ...more,
});

const EVENING = [
  at(0, { kind: 'begin', title: 'A roof for Hut Nine' }),
  at(0, { kind: 'scene', name: 'Countdown' }),
  at(5, sample()),
  at(60, { kind: 'scene', name: 'Game' }),
  at(62, { kind: 'scene', name: 'Levers' }),
  at(65, { kind: 'scene', name: 'Game' }),
  at(100, { kind: 'destination', name: 'Larch', state: 'unreachable', message: 'the connection was lost' }),
  at(110, { kind: 'marker', words: 'Avalanche, "big"' }),
  at(200, { kind: 'session', state: 'covered', message: 'The desk is gone: viewers see the cover.' }),
  at(240, { kind: 'clip', file: 'Clip.mkv', seconds: 30 }),
  at(
    300,
    sample({
      due: 9000,
      skipped: 12,
      leftOut: 3,
      lineDropped: 60,
      away: 270,
      chat: 400,
      destinations: [
        { name: 'Larch', kbps: 1900, dropped: 60, lagMs: 900, state: 'live' },
        { name: 'Cairn, the second', kbps: 1800, dropped: 0, lagMs: 1, state: 'live' },
      ],
    }),
  ),
  at(310, { kind: 'end' }),
];

test('the figures of an evening', () => {
  expect(summarise(EVENING)).toEqual({
    seconds: 310,
    due: 9000,
    lost: { machine: 12, encoder: 3, line: 60, away: 270 },
    integratedLufs: -16.1,
    chat: 400,
    events: 2,
    destinations: [
      { name: 'Larch', meanKbps: 2000, dropped: 60, breaks: 1 },
      { name: 'Cairn, the second', meanKbps: 1800, dropped: 0, breaks: 0 },
    ],
    markers: 1,
    clips: 1,
    covers: 1,
  });
  expect(summarise([])).toMatchObject({ seconds: 0, due: 0, destinations: [] });
});

test('as a table: one line a sample, a column for every destination, quoted as RFC 4180 has it', () => {
  const lines = eveningCsv(EVENING).trimEnd().split('\r\n');
  expect(lines).toHaveLength(3);
  expect(lines[0]).toContain('"Cairn, the second kbps"');
  expect(lines[1]).toBe('5.0,30,100,0,0,0,0,2000,-16,4,2,2100,0,12,,,');
  expect(lines[2].endsWith(',1900,60,900,1800,0,1')).toBe(true);
});

test('as JSON lines: everything comes back', () => {
  const back = eveningJsonLines(EVENING)
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as { kind: string; seconds: number; at: string });
  expect(back).toHaveLength(EVENING.length);
  expect(back[3]).toMatchObject({ kind: 'scene', seconds: 60, at: '2026-11-23T20:01:00.000Z' });
});

describe('chapters', () => {
  test('are scenes and markers, without those that were on for a moment', () => {
    expect(chaptersOf(EVENING)).toEqual([
      { fromSeconds: 0, toSeconds: 60, title: 'Countdown' },
      { fromSeconds: 60, toSeconds: 110, title: 'Game' },
      { fromSeconds: 110, toSeconds: 310, title: 'Avalanche, "big"' },
    ]);
  });

  test('are valid WebVTT whatever they are called', () => {
    const vtt = chaptersVtt([{ fromSeconds: 3661.5, toSeconds: 3700, title: 'a --> b\n\n<script>&' }]);
    expect(vtt).toBe('WEBVTT\n\n1\n01:01:01.500 --> 01:01:40.000\na → b &lt;script>&amp;\n');
  });

  test('follow each other without gaps or overlaps', () => {
    const some = fc.array(
      fc.record({
        seconds: fc.integer({ min: 0, max: 4000 }),
        name: fc.constantFrom('A', 'B', 'C'),
        marker: fc.boolean(),
      }),
      { maxLength: 30 },
    );
    fc.assert(
      fc.property(some, (list) => {
        const moments = [
          at(0, { kind: 'begin', title: '' }),
          ...list
            .sort((a, b) => a.seconds - b.seconds)
            .map(({ seconds, name, marker }) =>
              at(seconds, marker ? { kind: 'marker', words: name } : { kind: 'scene', name }),
            ),
          at(4001, { kind: 'end' }),
        ];
        const chapters = chaptersOf(moments);
        expect(chapters.length > 0).toBe(list.length > 0);
        if (list.length === 0) return;
        expect(chapters[0].fromSeconds).toBe(0);
        expect(chapters.at(-1)!.toSeconds).toBe(4001);
        for (let i = 1; i < chapters.length; i++)
          expect(chapters[i].fromSeconds).toBe(chapters[i - 1].toSeconds);
      }),
    );
  });
});

test('every moment has words', () => {
  for (const { moment } of EVENING) expect(momentWords(moment).length).toBeGreaterThan(3);
  expect(momentWords({ kind: 'line', cause: 'line', share: 0.4 })).toBe(
    'The connection is slow: 40% of the planned rate',
  );
});

describe('a rundown in an evening', () => {
  const evening = [
    at(0, { kind: 'begin', title: '' }),
    at(0, { kind: 'scene', name: 'Talk' }),
    at(5, { kind: 'segment', name: 'Welcome', plannedSeconds: 60 }),
    at(95, { kind: 'segment', name: 'First climb', plannedSeconds: 120 }),
    at(95, { kind: 'scene', name: 'Game' }),
    at(150, { kind: 'scene', name: 'Talk' }),
    at(200, { kind: 'segment', name: 'Welcome', plannedSeconds: 30 }),
    at(220, { kind: 'end' }),
  ];
  test('is told planned against actual, each time a segment was on', () => {
    expect(pastSegments(evening)).toEqual([
      { name: 'Welcome', fromSeconds: 5, plannedSeconds: 60, seconds: 90 },
      { name: 'First climb', fromSeconds: 95, plannedSeconds: 120, seconds: 105 },
      { name: 'Welcome', fromSeconds: 200, plannedSeconds: 30, seconds: 20 },
    ]);
    expect(pastSegments(EVENING)).toEqual([]);
    expect(pastSegments([])).toEqual([]);
  });
  test('gives the chapters, in place of scenes', () => {
    expect(chaptersOf(evening).map(({ title, fromSeconds }) => [title, fromSeconds])).toEqual([
      ['Welcome', 0],
      ['First climb', 95],
      ['Welcome', 200],
    ]);
  });
});
