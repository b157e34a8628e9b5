/** Small parts of a show's rules: what may stand inside what, titles, tracks, archives' heads, steps. */
import { describe, expect, test } from 'vitest';
import { faultWords as fault } from '../fault-words';
import { ARCHIVE_VERSION, filesNamed, readArchiveHead } from './archive';
import { checkGroup, checkInsets, MAX_GROUP_DEPTH, showsScene } from './containment';
import { History, type Step } from './history';
import {
  PLAIN_CHANNEL,
  type AnyRecord,
  type ChannelRecord,
  type LayerRecord,
  type ShowRecord,
} from './records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene, sampleShow, TALL, WIDE } from './sample-show';
import { newTitleLayer } from './title-layer';
import { tracksInUse } from './tracks';

const group = (id: string, groupId: string | null = null, sceneId: string | null = 'a'): LayerRecord =>
  sampleLayer(id, sceneId, 0, { content: { type: 'group' }, groupId });
const inset = (id: string, sceneId: string | null, shows: string): LayerRecord =>
  sampleLayer(id, sceneId, 0, { content: { type: 'inset', sceneId: shows, fit: 'fill' } });

describe('groups', () => {
  const check = (layer: LayerRecord, ...others: AnyRecord[]) =>
    fault(() => checkGroup(sampleDocument(layer, ...others), layer));

  test('a layer may stand in a group of its scene, and that in another', () => {
    expect(check(sampleLayer('l', 'a', 0))).toBe('fine');
    expect(check(sampleLayer('l', 'a', 0, { groupId: 'g' }), group('g'))).toBe('fine');
    expect(check(sampleLayer('l', 'a', 0, { groupId: 'g' }), group('g', 'h'), group('h'))).toBe('fine');
    expect(check(sampleLayer('l', null, 0, { groupId: 'g' }), group('g', null, null))).toBe('fine');
  });
  test('not in one that is gone, is none, or is another scene’s', () => {
    const words = 'edit.group: layer "l" belongs to g, which is no group of its scene';
    const layer = sampleLayer('l', 'a', 0, { groupId: 'g' });
    expect(check(layer)).toBe(words);
    expect(check(layer, sampleLayer('g', 'a', 0))).toBe(words);
    expect(check(layer, sampleInput('g'))).toBe(words);
    expect(check(layer, group('g', null, 'b'))).toBe(words);
  });
  test('nor in itself, whatever lies between', () => {
    expect(check(group('g', 'g'))).toBe('edit.cycle: group "g" would stand inside itself: move it elsewhere');
    expect(check(group('g', 'h'), group('h', 'g'))).toMatch(
      /^edit.cycle: group "g" would stand inside itself/,
    );
  });
  test('six deep and no deeper', () => {
    const nested = (depth: number) =>
      Array.from({ length: depth }, (_, i) => group(`g${i}`, i + 1 < depth ? `g${i + 1}` : null));
    const layer = sampleLayer('l', 'a', 0, { groupId: 'g0' });
    expect(check(layer, ...nested(MAX_GROUP_DEPTH))).toBe('fine');
    expect(check(layer, ...nested(MAX_GROUP_DEPTH + 1))).toBe(
      'edit.cycle: groups go at most 6 deep: take "l" out of one',
    );
  });
});

describe('scenes in scenes', () => {
  const records = sampleDocument(
    ...[
      inset('1', 'a', 'b'),
      inset('2', 'a', 'c'),
      inset('3', 'c', 'd'),
      inset('4', 'd', 'c'),
      inset('5', null, 'a'),
    ],
    ...[sampleLayer('6', 'b', 0), sampleScene('a')],
  );
  test('one is reached through insets of insets, also in a circle', () => {
    expect(['a', 'b', 'c', 'd', 'e'].map((outer) => showsScene(records, 'a', outer))).toEqual([
      true,
      true,
      true,
      true,
      false,
    ]);
    expect(showsScene(records, 'b', 'a')).toBe(false);
    expect(showsScene(records, 'd', 'd')).toBe(true);
  });
  test('an inset must not show the scene it stands in', () => {
    expect(fault(() => checkInsets(records, inset('x', 'b', 'a')))).toBe(
      'edit.cycle: "x" would show its own scene inside itself: choose another scene for it',
    );
    expect(fault(() => checkInsets(records, inset('x', 'e', 'a')))).toBe('fine');
    // One above every scene is drawn in none of them.
    expect(fault(() => checkInsets(records, inset('x', null, 'a')))).toBe('fine');
    expect(fault(() => checkInsets(records, sampleLayer('x', 'b', 0)))).toBe('fine');
  });
});

test('a title stands in the lower third, inside what every screen shows, above the other standing layers', () => {
  const document = sampleDocument(
    sampleLayer('a', null, 4),
    sampleLayer('b', null, 7),
    sampleLayer('c', 'a', 20),
  );
  const title = newTitleLayer(document, 'show', 'new');
  expect(title).toMatchObject({
    ...{ kind: 'layer', id: 'new', showId: 'show', name: 'Title', position: 8, sceneId: null },
    content: {
      type: 'widget',
      widget: { of: 'title' },
      style: { sizePx: 64, weight: 500 },
      accent: '#63BDBB',
    },
  });
  const { wide, tall } = title.placements;
  expect(wide).toMatchObject({ width: 960, cx: 134.4 + 480, cy: 864 });
  expect(wide!.height).toBeCloseTo(194.4);
  expect(tall!.width).toBeCloseTo(928.8);
  expect(tall!.height).toBeCloseTo(194.4);
  expect(tall!.cx).toBeCloseTo(75.6 + 464.4);
  expect(tall!.cy).toBeCloseTo(1305.6);
  for (const [place, frame] of [
    [wide!, WIDE],
    [tall!, TALL],
  ] as const) {
    expect(place.cx - place.width / 2).toBeGreaterThanOrEqual(frame.width * 0.05);
    expect(place.cx + place.width / 2).toBeLessThanOrEqual(frame.width * 0.95);
    expect(place.cy + place.height / 2).toBeLessThanOrEqual(frame.height * 0.95);
  }
  expect(newTitleLayer(sampleDocument(), 'show', 'first').position).toBe(0);
});

test('tracks that any channel is on, by their names', () => {
  const channel = (id: string, tracks: number[]): ChannelRecord => ({
    ...{ kind: 'channel', id, showId: 'show', name: id, position: 0, source: { type: 'effects' } as never },
    ...PLAIN_CHANNEL,
    gainDb: 0,
    tracks,
  });
  const show = { ...sampleShow, sound: { ...sampleShow.sound, trackNames: ['Programme', 'Voices', 'Game'] } };
  const used = (records: AnyRecord[]) => tracksInUse(new Map(records.map((r) => [r.id, r])) as never);
  expect(used([show, channel('v', [1, 2]), channel('g', [6, 2])])).toEqual([
    { track: 2, name: 'Voices' },
    { track: 6, name: 'Track 6' },
  ]);
  expect(used([show, channel('v', [1])])).toEqual([]);
  expect(used([channel('v', [3])])).toEqual([{ track: 3, name: 'Track 3' }]);
});

describe('the head of an archive', () => {
  const file = { id: 'a'.repeat(40), name: 'logo.png', mime: 'image/png', bytes: 7 };
  const good = {
    format: 'dolomite-show',
    version: 1,
    madeAt: '2026-11-30T20:00:00Z',
    records: [],
    files: [file],
  };
  const read = (part: unknown) => fault(() => readArchiveHead(part));
  const damaged = 'archive.damaged: This archive is damaged: its list of contents cannot be read.';

  test('is taken as it is', () => {
    expect(readArchiveHead(good)).toBe(good);
    expect(read({ ...good, files: [] })).toBe('fine');
    expect(read({ ...good, files: [{ ...file, bytes: 0, name: 'x'.repeat(255) }] })).toBe('fine');
  });
  test('of something else, of a newer version and of a damaged one is refused with what to do', () => {
    for (const other of [null, 7, 'x', {}, { ...good, format: 'other' }])
      expect(read(other)).toBe(
        'archive.kind: This file is no show of Dolomite: choose one that was made with Archive.',
      );
    for (const version of [undefined, 0, 1.5, '1'])
      expect(read({ ...good, version })).toBe(
        'archive.version: This archive does not say which version it is: it is damaged.',
      );
    expect(read({ ...good, version: ARCHIVE_VERSION + 1 })).toBe(
      'archive.newer: This archive was made by a newer Dolomite: bring it in there, or update this one.',
    );
    expect(read({ ...good, records: {} })).toBe(damaged);
    expect(read({ ...good, files: null })).toBe(damaged);
    const wrong = [
      null,
      7,
      { ...file, id: 'A'.repeat(40) },
      { ...file, id: `${file.id}0` },
      { ...file, id: `x${file.id}` },
    ];
    const more = [
      { ...file, name: 7 },
      { ...file, name: 'x'.repeat(256) },
      { ...file, mime: null },
      { ...file, bytes: -1 },
      { ...file, bytes: 1.5 },
    ];
    for (const one of [...wrong, ...more]) expect(read({ ...good, files: [file, one] })).toBe(damaged);
  });
  test('names files wherever they stand', () => {
    const logo = sampleInput('in', { source: { type: 'picture', assetId: file.id, loop: true } });
    expect([...filesNamed([sampleShow as ShowRecord, logo, logo], (id) => id === file.id)]).toEqual([
      file.id,
    ]);
    expect(filesNamed([logo], () => false).size).toBe(0);
  });
});

describe('steps', () => {
  const step = (name: string): Step => ({ id: name, name, put: [], removed: [], seen: [] });
  const back = (of: Step): Step => ({ ...of, id: `${of.id}'` });
  const filled = (limit?: number) => {
    const history = new History(limit);
    for (const name of ['one', 'two', 'three']) history.record(step(name));
    return history;
  };
  test('go back and forth in order, and say what comes next', () => {
    const history = filled();
    expect([history.undoName, history.redoName, history.steps()]).toEqual([
      'three',
      null,
      { names: ['one', 'two', 'three'], done: 3 },
    ]);
    const undone: string[] = [];
    expect(history.undo((of) => (undone.push(of.id), back(of)))).toBe(true);
    expect(history.undo(back)).toBe(true);
    expect([undone, history.undoName, history.redoName]).toEqual([['three'], 'one', 'two']);
    expect(history.steps()).toEqual({ names: ['one', 'two', 'three'], done: 1 });
    expect(history.redo(back)).toBe(true);
    expect([history.undoName, history.redoName]).toEqual(['two', 'three']);
    // Something new ends what could come back.
    history.record(step('four'));
    expect([history.redoName, history.redo(back)]).toEqual([null, false]);
    const none = new History();
    expect([none.undo(back), none.undoName, none.steps()]).toEqual([false, null, { names: [], done: 0 }]);
  });
  test('are jumped to, within what there is', () => {
    const history = filled();
    const done = (to: number) => {
      history.jump(to, back);
      return history.steps().done;
    };
    expect([done(1), done(2.4), done(0), done(99), done(-5)]).toEqual([1, 2, 0, 3, 0]);
  });
  test('the oldest are forgotten beyond a limit, and one that came to nothing', () => {
    expect(filled(2).steps().names).toEqual(['two', 'three']);
    expect(filled(3).steps().names).toHaveLength(3);
    const history = filled();
    history.undo((of) => of);
    history.forget('three');
    history.forget('one');
    history.forget('nobody');
    expect(history.steps()).toEqual({ names: ['two'], done: 1 });
  });
});
