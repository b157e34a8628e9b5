/** What the report of an evening says, to the figure and the word. */
import { describe, expect, test } from 'vitest';
import {
  chaptersOf,
  chaptersVtt,
  eveningCsv,
  eveningJsonLines,
  momentWords,
  pastSegments,
  summarise,
} from './evening';
import type { EveningMoment, TimedMoment } from './evening';

type Of<K extends EveningMoment['kind']> = Extract<EveningMoment, { kind: K }>;
const START = Date.UTC(2026, 10, 30, 20);
const at = (seconds: number, moment: unknown): TimedMoment => ({
  atMs: START + seconds * 1000,
  moment: moment as EveningMoment,
});
const sample = (seconds: number, more: Partial<Of<'sample'>> = {}) =>
  at(seconds, {
    ...{
      kind: 'sample',
      fps: 30,
      kbps: 2000,
      lufs: -16.2,
      integratedLufs: -16,
      due: 30 * seconds,
      skipped: 0,
      leftOut: 0,
    },
    ...{ lineDropped: 0, away: 0, chat: 3, events: 1, account: {}, destinations: [] },
    ...more,
  });
const to = (name: string, kbps: number, dropped = 0) => ({ name, kbps, dropped, lagMs: 12, state: 'live' });

describe('moments in words', () => {
  const cases: [unknown, string][] = [
    [{ kind: 'begin', title: '' }, 'Broadcast began'],
    [{ kind: 'begin', title: 'Snow on the pass' }, 'Broadcast began: Snow on the pass'],
    [{ kind: 'end' }, 'Broadcast ended'],
    [{ kind: 'scene', name: 'Talk' }, 'Scene Talk'],
    [{ kind: 'segment', name: 'Opening' }, 'Segment Opening'],
    [{ kind: 'marker', words: '' }, 'Marker'],
    [{ kind: 'marker', words: 'goal' }, 'Marker: goal'],
    [{ kind: 'destination', name: 'Larch', state: 'live', message: 'x' }, 'Larch is live'],
    [{ kind: 'destination', name: 'Larch', state: 'refused', message: '' }, 'Larch refused'],
    [{ kind: 'destination', name: 'Larch', state: 'refused', message: 'wrong key' }, 'Larch wrong key'],
    [{ kind: 'session', state: 'live', message: '' }, 'The desk is back'],
    [{ kind: 'session', state: 'covered', message: '' }, 'covered'],
    [{ kind: 'session', state: 'live', message: 'Cover off' }, 'Cover off'],
    [{ kind: 'line', cause: 'none', share: 1 }, 'The connection carries everything again'],
    [{ kind: 'line', cause: 'line', share: 0.426 }, 'The connection is slow: 43% of the planned rate'],
    [{ kind: 'line', cause: 'destination', share: 0.5 }, 'One destination is slow: 50% of the planned rate'],
    [{ kind: 'pace', fps: 15, planned: 30 }, 'Computer overloaded: 15 of 30 fps'],
    [
      { kind: 'pace', fps: 29.97, planned: 29.97, scale: 0.5 },
      'Computer overloaded: 30 of 30 fps, drawn at 50% of its size',
    ],
    [{ kind: 'pace', fps: 30, planned: 30, scale: 1 }, 'Back at 30 fps'],
    [{ kind: 'clip', file: 'goal.mp4' }, 'Kept goal.mp4'],
    [{ kind: 'recording', message: 'disk full' }, 'disk full'],
    [{ kind: 'announced', message: 'told' }, 'told'],
    [{ kind: 'plan', message: 'smaller' }, 'smaller'],
    [{ kind: 'sample', fps: 30, kbps: 2000 }, '30 fps, 2000 kbps'],
  ];
  test.each(cases)('%o', (moment, words) => {
    expect(momentWords(moment as EveningMoment)).toBe(words);
  });
});

const EVENING: TimedMoment[] = [
  at(0, { kind: 'begin', title: 'Snow on the pass' }),
  at(1, { kind: 'scene', name: 'Talk' }),
  sample(5, { destinations: [to('Larch', 0), to('Cairn, the second', 1900)] }),
  at(6, { kind: 'marker', words: 'goal' }),
  at(7, { kind: 'destination', name: 'Larch', state: 'unreachable', message: '' }),
  at(8, { kind: 'session', state: 'covered', message: '' }),
  sample(10, {
    skipped: 4,
    leftOut: 3,
    lineDropped: 2,
    away: 1,
    lufs: null,
    destinations: [to('Larch', 2000, 7)],
  }),
  at(11, { kind: 'clip', file: 'goal.mp4' }),
  at(12, { kind: 'destination', name: 'Larch', state: 'live', message: '' }),
  at(13, { kind: 'session', state: 'live', message: '' }),
  sample(15, {
    due: 440,
    chat: 9,
    destinations: [to('Larch', 2101, 9), { ...to('Cairn, the second', 0), kbps: 0 }],
  }),
  at(20, { kind: 'end' }),
];

test('figures of an evening, and of none', () => {
  expect(summarise(EVENING)).toEqual({
    ...{ seconds: 20, due: 440, integratedLufs: -16, chat: 9, events: 1, markers: 1, clips: 1, covers: 1 },
    lost: { machine: 0, encoder: 0, line: 0, away: 0 },
    destinations: [
      { name: 'Larch', meanKbps: 2051, dropped: 9, breaks: 1 },
      { name: 'Cairn, the second', meanKbps: 1900, dropped: 0, breaks: 0 },
    ],
  });
  expect(summarise(EVENING.slice(0, 7)).lost).toEqual({ machine: 4, encoder: 3, line: 2, away: 1 });
  expect(summarise([])).toEqual({
    ...{ seconds: 0, due: 0, integratedLufs: null, chat: 0, events: 0, markers: 0, clips: 0, covers: 0 },
    lost: { machine: 0, encoder: 0, line: 0, away: 0 },
    destinations: [],
  });
  expect(summarise([sample(1, { destinations: [to('Larch', 0)] })]).destinations).toEqual([
    { name: 'Larch', meanKbps: 0, dropped: 0, breaks: 0 },
  ]);
});

test('the table', () => {
  expect(eveningCsv(EVENING).split('\r\n')).toEqual([
    'seconds,fps,due,skipped,left out,line dropped,desk gone,kbps,LUFS momentary,chat,events,Larch kbps,Larch dropped,Larch lag ms,"Cairn, the second kbps","Cairn, the second dropped","Cairn, the second lag ms"',
    '5.0,30,150,0,0,0,0,2000,-16.2,3,1,0,0,12,1900,0,12',
    '10.0,30,300,4,3,2,1,2000,,3,1,2000,7,12,,,',
    '15.0,30,440,0,0,0,0,2000,-16.2,9,1,2101,9,12,0,0,12',
    '',
  ]);
  expect(eveningCsv([]).split('\r\n')).toHaveLength(2);
  const quoted = eveningCsv([sample(1, { away: undefined, destinations: [to('The "best"', 1)] })]);
  expect(quoted).toContain('"The ""best"" kbps"');
  expect(quoted).toContain('0.0,30,30,0,0,0,,2000');
});

test('line by line, without what is added up', () => {
  const [first, , third] = eveningJsonLines(EVENING).split('\n');
  expect(JSON.parse(first)).toEqual({
    at: '2026-11-30T20:00:00.000Z',
    seconds: 0,
    kind: 'begin',
    title: 'Snow on the pass',
  });
  expect(JSON.parse(third)).toMatchObject({ seconds: 5, kind: 'sample', fps: 30 });
  expect(JSON.parse(third)).not.toHaveProperty('account');
  expect(eveningJsonLines([])).toBe('');
});

test('segments against their plan', () => {
  const segment = (seconds: number, name: string, plannedSeconds: number) =>
    at(seconds, { kind: 'segment', name, plannedSeconds });
  expect(
    pastSegments([
      at(0, { kind: 'begin', title: '' }),
      segment(10, 'Opening', 60),
      segment(80, 'Game', 600),
      at(500, { kind: 'end' }),
    ]),
  ).toEqual([
    { name: 'Opening', fromSeconds: 10, plannedSeconds: 60, seconds: 70 },
    { name: 'Game', fromSeconds: 80, plannedSeconds: 600, seconds: 420 },
  ]);
  expect(pastSegments([])).toEqual([]);
});

describe('chapters', () => {
  const scene = (seconds: number, name: string) => at(seconds, { kind: 'scene', name });
  const words = (...moments: TimedMoment[]) =>
    chaptersOf([at(0, { kind: 'begin', title: '' }), ...moments, at(100, { kind: 'end' })]).map(
      ({ fromSeconds, toSeconds, title }) => `${fromSeconds}–${toSeconds} ${title}`,
    );
  test('scenes and markers, whole and without gaps', () => {
    expect(words(scene(2, 'Talk'), scene(30, 'Game'), at(60, { kind: 'marker', words: '' }))).toEqual([
      ...['0–30 Talk', '30–60 Game', '60–100 Marker'],
    ]);
    expect(words()).toEqual([]);
    expect(chaptersOf([])).toEqual([]);
  });
  test('one that was on for a moment joins the one before; at the beginning it gives its place to the next', () => {
    expect(words(scene(0, 'Start'), scene(4, 'Talk'), scene(50, 'Game'))).toEqual([
      '0–50 Talk',
      '50–100 Game',
    ]);
    expect(words(scene(0, 'Talk'), scene(40, 'Break'), scene(49.9, 'Game'))).toEqual([
      '0–40 Talk',
      '40–100 Break',
    ]);
    expect(words(scene(0, 'Talk'), scene(40, 'Break'), scene(50, 'Game'))).toEqual([
      '0–40 Talk',
      '40–50 Break',
      '50–100 Game',
    ]);
    // A marker is worth one however soon it comes.
    expect(words(scene(0, 'Talk'), scene(40, 'Game'), at(42, { kind: 'marker', words: 'goal' }))).toEqual([
      ...['0–40 Talk', '40–42 Game', '42–100 goal'],
    ]);
  });
  test('the same scene again is one chapter', () => {
    expect(words(scene(0, 'Talk'), scene(40, 'Talk'))).toEqual(['0–100 Talk']);
  });
  test('where a rundown ran its segments count, and scenes do not', () => {
    const segment = at(20, { kind: 'segment', name: 'Opening', plannedSeconds: 60 });
    expect(words(scene(5, 'Talk'), segment, scene(60, 'Game'))).toEqual(['0–100 Opening']);
  });
  test('as WebVTT, with nothing in a title that could be read as a cue', () => {
    expect(
      chaptersVtt([
        { fromSeconds: 0, toSeconds: 61.5, title: ' a <b> & c\n--> d ' },
        { fromSeconds: 3661.0004, toSeconds: 36_000, title: 'End' },
      ]),
    ).toBe(
      'WEBVTT\n\n1\n00:00:00.000 --> 00:01:01.500\na &lt;b> &amp; c → d\n\n2\n01:01:01.000 --> 10:00:00.000\nEnd\n',
    );
  });
});
