import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { NO_PROGRAMME, type ProgrammeState } from '../programme/programme-state';
import { documentOf, type ShowDocument } from '../show/document';
import type { AnyRecord } from '../show/records';
import { PLAIN_SEGMENT, type RundownRecord, type SegmentRecord } from '../show/rundown-records';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../show/sample-show';
import { rundownChecks } from './checks';
import {
  clockAfter,
  clockNear,
  madeUp,
  rundownTimes,
  segmentAfter,
  segmentBefore,
  segmentByItself,
  segmentCommands,
} from './rundown';
import { duplicated, fromScenes, inserted, moved, newRundown } from './rundown-edits';
import { lengthText } from './length-text';
import { readLength, readRundown, rundownCsv } from './rundown-csv';

const rundown: RundownRecord = {
  ...{ kind: 'rundown', id: 'r', showId: 'show', name: 'Tonight', position: 0, startsAt: '' },
};
const segment = (id: string, position: number, more: Partial<SegmentRecord> = {}): SegmentRecord => ({
  ...PLAIN_SEGMENT,
  ...{ sound: [], presses: [], kind: 'segment', id, showId: 'show', name: id, rundownId: 'r' },
  position,
  sceneId: 'a',
  plannedSeconds: 60,
  ...more,
});
const withSegments = (...segments: SegmentRecord[]): ShowDocument =>
  documentOf([
    sampleShow,
    sampleScene('a'),
    sampleScene('b', { position: 1 }),
    rundown,
    ...segments,
  ] as AnyRecord[]);
const running = (segmentId: string, sinceMs: number, startedMs = sinceMs): ProgrammeState => ({
  ...NO_PROGRAMME,
  onAir: { sceneId: 'a', poseId: null, sinceMs },
  rundown: { rundownId: 'r', segmentId, sinceMs, startedMs, freely: false },
});
const nameOf = (one: SegmentRecord | null) => one?.id ?? null;

describe('what comes next', () => {
  const document = withSegments(
    segment('s1', 0),
    segment('s2', 1, { skipped: true }),
    segment('s3', 2, { sceneId: 'gone' }),
    segment('s4', 3, { sceneId: null }),
  );
  test('is the first, then the next that can run, and nothing after the last', () => {
    expect(nameOf(segmentAfter(document, 'r', null))).toBe('s1');
    expect(nameOf(segmentAfter(document, 'r', 's1'))).toBe('s4');
    expect(segmentAfter(document, 'r', 's4')).toBeNull();
    expect(segmentAfter(document, 'nobody’s', null)).toBeNull();
    // One that was removed while it was on: the rundown begins again rather than not at all.
    expect(nameOf(segmentAfter(document, 'r', 'removed'))).toBe('s1');
  });
  test('back goes to the one before that can run', () => {
    expect(nameOf(segmentBefore(document, segment('s4', 3)))).toBe('s1');
    expect(segmentBefore(document, segment('s1', 0))).toBeNull();
  });
  test('a group that loops goes round by itself and is left by hand', () => {
    const looped = withSegments(
      segment('in', 0),
      segment('g1', 1, { group: 'Wait' }),
      segment('g2', 2, { group: 'Wait', repeats: true }),
      segment('out', 3),
    );
    const find = (id: string) => looped.get(id) as SegmentRecord;
    expect(nameOf(segmentByItself(looped, find('g1')))).toBe('g2');
    expect(nameOf(segmentByItself(looped, find('g2')))).toBe('g1');
    expect(nameOf(segmentAfter(looped, 'r', 'g2'))).toBe('out');
    const once = withSegments(
      segment('g1', 1, { group: 'W' }),
      segment('g2', 2, { group: 'W' }),
      segment('out', 3),
    );
    expect(nameOf(segmentByItself(once, once.get('g2') as SegmentRecord))).toBe('out');
  });
});

describe('what a segment does', () => {
  test('takes its scene, sets its channels and shows its title, all at once', () => {
    const one = segment('s1', 0, {
      sceneId: 'b',
      sound: [
        { channelId: 'm', gainDb: -20, muted: null, seconds: 3 },
        { channelId: 'gone', gainDb: 0, muted: true, seconds: 0 },
      ],
      titleId: 't',
    });
    const document = documentOf([
      ...withSegments(one).values(),
      { kind: 'channel', id: 'm', showId: 'show', name: 'Music', position: 0 } as AnyRecord,
      { kind: 'title', id: 't', showId: 'show', name: '{{host}}', position: 0, line2: 'here', seconds: 6 },
    ]);
    const state = running('s0', 0);
    expect(segmentCommands(document, state, one)).toMatchObject([
      { type: 'segment', segmentId: 's1' },
      { type: 'take', sceneId: 'b' },
      { type: 'level', channelId: 'm', gainDb: -20, seconds: 3 },
      { type: 'title', words: { line1: 'lampwright', line2: 'here' }, seconds: 6 },
    ]);
    // The scene that is on already is not taken a second time.
    expect(segmentCommands(document, state, segment('s2', 1)).map(({ type }) => type)).toEqual(['segment']);
  });
});

describe('time', () => {
  const start = Date.UTC(2026, 10, 29, 20, 0, 0);
  const document = withSegments(
    segment('s1', 0, { plannedSeconds: 300 }),
    segment('s2', 1, { plannedSeconds: 600 }),
    segment('s3', 2, { plannedSeconds: 60, skipped: true }),
    segment('s4', 3, { plannedSeconds: 120, fixed: true }),
  );
  test('before it begins it would begin now; what is skipped takes none', () => {
    const times = rundownTimes(document, rundown, NO_PROGRAMME, start);
    expect(times.segments.map(({ startMs }) => (startMs - start) / 1000)).toEqual([0, 300, 900, 900]);
    expect(times).toMatchObject({ plannedSeconds: 1020, overSeconds: null, elapsedSeconds: null });
    expect(times.segments.map(({ standing }) => standing)).toEqual(['next', 'coming', 'skipped', 'coming']);
  });
  test('a segment that runs over moves everything after it, and the whole is over by as much', () => {
    const at = start + 400_000;
    const times = rundownTimes(document, rundown, running('s1', start), at);
    expect(times.overSeconds).toBe(100);
    expect(times.elapsedSeconds).toBe(400);
    expect(times.endsMs).toBe(at + 720_000);
    expect(times.segments.map(({ standing }) => standing)).toEqual(['on', 'next', 'skipped', 'coming']);
  });
  test('what was over is made up when the next one is taken early', () => {
    const state = running('s2', start + 200_000, start);
    expect(rundownTimes(document, rundown, state, start + 210_000).overSeconds).toBe(-100);
  });
  test('made up on what is to come and not fixed, in whole five seconds, never below what can be said', () => {
    const times = rundownTimes(document, rundown, running('s1', start), start + 400_000);
    expect(madeUp(times)).toMatchObject({ segments: [{ id: 's2', plannedSeconds: 500 }], leftSeconds: 0 });
    const late = rundownTimes(document, rundown, running('s1', start), start + 3_000_000);
    expect(madeUp(late).segments).toMatchObject([{ id: 's2', plannedSeconds: 15 }]);
    expect(madeUp(late).leftSeconds).toBe(2700 - 585);
  });
  test('time that is left is given to what is to come', () => {
    const times = rundownTimes(document, rundown, running('s2', start + 200_000, start), start + 210_000);
    expect(madeUp(times).segments).toEqual([]);
    const early = rundownTimes(
      withSegments(segment('s1', 0, { plannedSeconds: 300 }), segment('s2', 1), segment('s3', 2)),
      rundown,
      running('s2', start + 200_000, start),
      start + 210_000,
    );
    expect(madeUp(early).segments).toMatchObject([{ id: 's3', plannedSeconds: 160 }]);
  });
  test('a time to begin is that of the evening it is nearest to, over midnight too', () => {
    const local = new Date(2026, 10, 29, 23, 50).getTime();
    expect(clockNear('00:10', local)).toBe(new Date(2026, 10, 30, 0, 10).getTime());
    expect(clockNear('23:40', local)).toBe(new Date(2026, 10, 29, 23, 40).getTime());
    expect(clockAfter('23:40', local)).toBe(new Date(2026, 10, 30, 23, 40).getTime());
    expect(clockAfter('23:50', local)).toBe(local);
    expect(clockAfter('00:10', local)).toBe(new Date(2026, 10, 30, 0, 10).getTime());
  });
});

describe('a clock that is changed', () => {
  const zone = process.env.TZ;
  beforeAll(() => {
    process.env.TZ = 'Europe/Vienna';
  });
  afterAll(() => {
    if (zone === undefined) delete process.env.TZ;
    else process.env.TZ = zone;
  });
  const at = (text: string) => Date.parse(text);
  test('forward in spring: tonight is still tonight, and a time that is left out comes an hour later', () => {
    const saturday = at('2027-03-27T02:50:00+01:00');
    expect(clockAfter('03:00', saturday)).toBe(at('2027-03-27T03:00:00+01:00'));
    expect(clockAfter('03:00', saturday + 11 * 60_000)).toBe(at('2027-03-28T03:00:00+02:00'));
    const gap = at('2027-03-28T01:59:00+01:00');
    expect(clockAfter('02:30', gap)).toBe(at('2027-03-28T03:30:00+02:00'));
  });
  test('back in autumn: an hour that comes twice counts once, and nothing is a day late', () => {
    const night = at('2027-10-31T01:50:00+02:00');
    expect(clockAfter('02:10', night)).toBe(at('2027-10-31T02:10:00+02:00'));
    expect(clockAfter('03:10', night)).toBe(at('2027-10-31T03:10:00+01:00'));
    expect(clockNear('23:50', at('2027-10-31T00:05:00+02:00'))).toBe(at('2027-10-30T23:50:00+02:00'));
  });
});

describe('before this can run', () => {
  const types = (...segments: SegmentRecord[]) =>
    rundownChecks(withSegments(...segments), 'r').map(({ type }) => type);
  test('says what is gone, what never ends, and what has no length', () => {
    expect(types()).toEqual(['empty']);
    expect(types(segment('s', 0))).toEqual([]);
    expect(types(segment('s', 0, { sceneId: 'gone' }))).toEqual(['sceneGone']);
    expect(types(segment('s', 0, { poseId: 'gone', titleId: 'gone', plannedSeconds: 0 }))).toEqual([
      ...['poseGone', 'titleGone', 'noLength'],
    ]);
    expect(
      types(segment('s', 0, { end: { type: 'clip' } }), segment('m', 1, { end: { type: 'music' } })),
    ).toEqual([...['neverEnds', 'neverEnds']]);
    expect(types(segment('s', 0, { sceneId: 'gone', skipped: true }))).toEqual(['empty']);
  });
  test('an intro that takes another time than planned is said with its own', () => {
    const source = { type: 'clips', files: [], order: 'listed', atEnd: 'stop', start: 'on-air' };
    const document = documentOf([
      ...withSegments(segment('s', 0, { end: { type: 'clip' }, plannedSeconds: 300 })).values(),
      { kind: 'input', id: 'i', showId: 'show', name: 'Intro', position: 0, source } as unknown as AnyRecord,
      sampleLayer('l', 'a', 0, { content: { type: 'input', inputId: 'i', fit: 'fit' } }),
    ]);
    expect(rundownChecks(document, 'r', () => 304)).toMatchObject([{ type: 'otherLength', seconds: 304 }]);
    expect(rundownChecks(document, 'r', () => 300.4)).toEqual([]);
    expect(rundownChecks(document, 'r')).toEqual([]);
  });
  test('seats that a scene shows and nobody sits on are named', () => {
    const source = { type: 'seat', sees: 'wide', inputId: null, hearsProgramme: false };
    const seat = (id: string) =>
      ({
        kind: 'input',
        id,
        showId: 'show',
        name: `Seat ${id}`,
        position: 0,
        source,
      }) as unknown as AnyRecord;
    const document = documentOf([
      ...withSegments(segment('s', 0)).values(),
      ...[seat('one'), seat('two'), seat('elsewhere')],
      ...['one', 'two'].map((id, i) =>
        sampleLayer(`l-${id}`, 'a', i, { content: { type: 'input', inputId: id, fit: 'fill' } }),
      ),
    ]);
    const check = (...taken: string[]) => rundownChecks(document, 'r', undefined, (id) => taken.includes(id));
    expect(check()).toMatchObject([{ type: 'seatsEmpty', names: ['Seat one', 'Seat two'] }]);
    expect(check('one')).toMatchObject([{ type: 'seatsEmpty', names: ['Seat two'] }]);
    expect(check('one', 'two')).toEqual([]);
  });
  test('inputs whose files are gone are named, in the scenes of the rundown alone', () => {
    const files = ['here', 'gone'].map((assetId) => ({ assetId, name: assetId }));
    const clips = { type: 'clips', files, order: 'listed', atEnd: 'loop', start: 'on-air' } as const;
    const document = documentOf([
      ...withSegments(segment('s', 0)).values(),
      sampleInput('reel', { name: 'Reel', source: clips as never }),
      sampleInput('logo', { name: 'Logo', source: { type: 'picture', assetId: 'gone', loop: false } }),
      sampleLayer('l', 'a', 0, { content: { type: 'input', inputId: 'reel', fit: 'fill' } }),
    ]);
    const check = (gone: string) => rundownChecks(document, 'r', undefined, undefined, (id) => id === gone);
    expect(check('gone')).toMatchObject([{ type: 'filesGone', names: ['Reel'] }]);
    expect(check('other')).toEqual([]);
  });
  test('fields without words are named once', () => {
    const style = {} as never;
    const document = documentOf([
      ...withSegments(segment('s', 0)).values(),
      sampleLayer('l', 'a', 0, {
        content: { type: 'text', text: '{{host}} and {{guest}}, {{guest}}', style },
      }),
    ]);
    expect(rundownChecks(document, 'r')).toEqual([{ type: 'emptyFields', names: ['guest'] }]);
  });
});

describe('edits', () => {
  let n = 0;
  const newId = () => `n${n++}`;
  test('one segment for each scene that has none, in their order', () => {
    const segments = fromScenes(withSegments(segment('s', 0)), rundown, newId);
    expect(segments.map(({ name, position }) => [name, position])).toEqual([['b', 1]]);
  });
  test('put in where it is asked for, everything after it makes room', () => {
    const document = withSegments(segment('s1', 0), segment('s2', 1));
    const put = inserted(document, 'r', [segment('new', 0)], 's1');
    const order = [...put, segment('s1', 0)].sort((a, b) => a.position - b.position).map(({ id }) => id);
    expect(order).toEqual(['s1', 'new', 's2']);
    expect(duplicated(document, segment('s2', 1), newId)).toMatchObject([{ name: 's2', position: 2 }]);
    expect(moved(document, segment('s2', 1), 0).map(({ id, position }) => [id, position])).toEqual([
      ...[
        ['s2', 0],
        ['s1', 1],
      ],
    ]);
    expect(newRundown(document, 'show', 'Tonight', newId).name).toBe('Tonight 2');
  });
});

describe('as a table', () => {
  test.each([
    ['5:00', 300],
    ['1:02:03', 3723],
    ['90 s', 90],
    ['12 min', 720],
    ['12', 720],
    ['1.5', 90],
    ['30:00:00', 108_000],
  ])('%s is %d s', (text, seconds) => expect(readLength(text)).toBe(seconds));
  test.each(['', 'soon', '5:99', '-3', '31:00:00', '1e9', '5:00:00:00'])('“%s” is no length', (text) =>
    expect(readLength(text)).toBeNull(),
  );
  test('lengths read as they were written', () => {
    for (const seconds of [0, 5, 59, 60, 3599, 3600, 86_399])
      expect(readLength(lengthText(seconds))).toBe(seconds);
    expect(lengthText(-75)).toBe('−1:15');
  });
  const into = { showId: 'show', rundownId: 'r', position: 0 };
  let id = 0;
  const read = (text: string) => readRundown(text, withSegments(), into, () => `x${id++}`);
  test('out and in again it is the same, commas, quotes and lines in it too', () => {
    const segments = [
      segment('One, "two"', 0, { notes: 'a\nb', end: { type: 'clock', at: '20:30' }, fixed: true }),
      segment('Three', 1, { sceneId: null, group: 'G', skipped: true, end: { type: 'length' } }),
    ];
    const back = read(rundownCsv(withSegments(...segments), segments));
    expect(back.problems).toEqual([]);
    expect(back.segments).toMatchObject(segments.map(({ id: _, ...rest }) => rest));
  });
  test('from a spreadsheet without a head, by tabs', () => {
    expect(read('Welcome\tA\t4:00\nGame\tb\t20').segments).toMatchObject([
      { name: 'Welcome', sceneId: 'a', plannedSeconds: 240 },
      { name: 'Game', sceneId: 'b', plannedSeconds: 1200 },
    ]);
  });
  test('what is not understood is said with its row, and the row comes all the same', () => {
    const { segments, problems } = read(
      'name,scene,pose,length,ends\nX,nowhere,,soon,never\nY,a,proud,1:00,hand',
    );
    expect(segments).toHaveLength(2);
    expect(problems).toEqual([
      { row: 1, type: 'scene', value: 'nowhere' },
      { row: 1, type: 'length', value: 'soon' },
      { row: 1, type: 'end', value: 'never' },
      { row: 2, type: 'pose', value: 'proud' },
    ]);
    expect(read('').segments).toEqual([]);
    const many = read('a;b\n'.repeat(800));
    expect(many.segments).toHaveLength(500);
    expect(many.problems[0]).toEqual({ row: 500, type: 'tooMany', value: '800' });
  });
});
