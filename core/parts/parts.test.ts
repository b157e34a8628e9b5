import { describe, expect, test } from 'vitest';
import { applyEdit, documentOf, recordsOf, type ShowDocument } from '../show/document';
import { copyShow } from '../show/copy-show';
import type { GoalRecord } from '../show/audience-records';
import { firstShow } from '../show/new-show';
import {
  PLAIN_CHANNEL,
  type AnyRecord,
  type ChannelRecord,
  type LayerRecord,
  type PoseRecord,
} from '../show/records';
import { sampleInput, sampleLayer, sampleScene, sampleShow, TALL, WIDE } from '../show/sample-show';
import { DEFAULT_TEXT_STYLE } from '../show/records';
import { paletteOf, readKitHead, recoloured, sumOf, takenKit, withoutKit, type Kit } from './kit';
import { fieldsUsed, listParts, partsOf } from './parts';
import { takenOver } from './take-over';

let ids = 0;
const newId = () => `new-${++ids}`;

const goal: GoalRecord = {
  ...{ kind: 'goal', id: 'roof', showId: 'show', name: 'A roof', position: 0, key: 'roof' },
  ...{ of: 'money', target: 10_000, start: 0, sinceMs: 0, deadlineMs: null },
};
const channel: ChannelRecord = {
  ...PLAIN_CHANNEL,
  ...{ kind: 'channel', id: 'ch-game', showId: 'show', name: 'Game', position: 0, gainDb: -6 },
  source: { type: 'input', inputId: 'in-game' },
  heard: 'scenes',
  sceneIds: ['sc-game', 'sc-talk'],
  ducking: null,
};
const pose: PoseRecord = {
  ...{ kind: 'pose', id: 'po-near', showId: 'show', name: 'Near', position: 0, sceneId: 'sc-game' },
  ...{ key: '1', glide: null, standing: {} },
  layers: { 'la-game': { visible: true, placements: {}, colour: null } },
};
const text = (id: string, words: string): LayerRecord =>
  sampleLayer(id, 'sc-game', 2, { content: { type: 'text', text: words, style: DEFAULT_TEXT_STYLE } });

/** A show in which a scene needs an input, a scene in it, a goal and two words. */
const from = documentOf([
  { ...sampleShow, fields: { host: 'lampwright', guest: 'Ida', other: 'unused' } },
  sampleInput('in-game', { standInId: 'in-card' }),
  sampleInput('in-card'),
  sampleInput('in-else'),
  sampleScene('sc-game', { transitionAfter: { 'sc-talk': sampleShow.transition } }),
  sampleScene('sc-talk'),
  sampleScene('sc-inside'),
  sampleLayer('la-game', 'sc-game', 0, { content: { type: 'input', inputId: 'in-game', fit: 'fill' } }),
  sampleLayer('la-inset', 'sc-game', 1, { content: { type: 'inset', sceneId: 'sc-inside', fit: 'fill' } }),
  text('la-words', '{{host}} and {{ guest }}: {{goal.roof.percent}} of {{latest.donor}}'),
  sampleLayer('la-goal', 'sc-inside', 0, {
    content: {
      type: 'widget',
      widget: { of: 'goal', goalId: 'roof' },
      style: DEFAULT_TEXT_STYLE,
      accent: '#63BDBB',
    },
  }),
  sampleLayer('la-standing', null, 0),
  pose,
  goal,
  channel,
] as AnyRecord[]);

/** A show of somebody else, with the same names in it. */
function target(): ShowDocument {
  const records = firstShow('t', 'Night school', 'ida', newId);
  return documentOf([...records, { ...goal, id: 'own-roof', showId: 't' }]);
}
const put = (document: ShowDocument, records: readonly AnyRecord[], removed: string[] = []) =>
  applyEdit(document, { id: newId(), name: 'x', put: [...records], removed }).document;

describe('parts', () => {
  test('a scene brings what it needs and nothing else; what it says of others stays behind', () => {
    const { records, fields, frames } = partsOf(from, ['sc-game']);
    expect(records.map(({ id }) => id).sort()).toEqual(
      [
        ...['in-card', 'in-game', 'la-game', 'la-goal', 'la-inset', 'la-words', 'po-near', 'roof'],
        ...['sc-game', 'sc-inside'],
      ].sort(),
    );
    expect(fields).toEqual({ host: 'lampwright', guest: 'Ida' });
    expect(frames).toEqual({ wide: WIDE, tall: TALL });
    expect(records.find(({ id }) => id === 'sc-game')).toMatchObject({ transitionAfter: {} });
    expect(partsOf(from, ['nobody']).records).toEqual([]);
  });

  test('a channel brings its input, not its scenes: without them it is heard always', () => {
    const { records } = partsOf(from, ['ch-game']);
    expect(records.map(({ id }) => id).sort()).toEqual(['ch-game', 'in-card', 'in-game']);
    expect(records.find(({ id }) => id === 'ch-game')).toMatchObject({ heard: 'always', sceneIds: [] });
    const both = partsOf(from, ['ch-game', 'sc-game']).records.find(({ id }) => id === 'ch-game');
    expect(both).toMatchObject({ heard: 'scenes', sceneIds: ['sc-game'] });
  });

  test('the list says what comes along', () => {
    const list = listParts(from);
    expect(list.map(({ kind, id }) => `${kind} ${id}`)).toEqual([
      ...['scene sc-game', 'scene sc-inside', 'scene sc-talk', 'channel ch-game', 'goal roof'],
    ]);
    expect(list[0].inputs.sort()).toEqual(['in-card', 'in-game']);
  });

  test('words that events keep up are named, and only those of the show come as fields', () => {
    expect([...fieldsUsed(partsOf(from, ['sc-game']).records)].sort()).toEqual([
      ...['goal.roof.percent', 'guest', 'host', 'latest.donor'],
    ]);
  });
});

describe('taken over', () => {
  test('everything has an id of its own, points among itself, and names that are free', () => {
    const into = put(target(), [sampleScene('x', { showId: 't', name: 'sc-game' })]);
    const { put: records, came } = takenOver(partsOf(from, ['sc-game']), ['sc-game'], into, {}, newId);
    const after = put(into, records);
    for (const id of from.keys()) if (id !== 'show') expect(after.has(id)).toBe(false);
    expect(came.size).toBe(10);
    const scene = recordsOf(after, 'scene').find(({ id }) => id === came.get('sc-game'))!;
    expect([scene.showId, scene.name]).toEqual(['t', 'sc-game 2']);
    expect(scene.position).toBeGreaterThan(Math.max(...recordsOf(into, 'scene').map((r) => r.position)));
    const layer = recordsOf(after, 'layer').find(({ id }) => id === came.get('la-game'))!;
    expect(layer).toMatchObject({ sceneId: scene.id, content: { inputId: came.get('in-game') } });
    const near = recordsOf(after, 'pose').find(({ id }) => id === came.get('po-near'))!;
    expect(Object.keys(near.layers)).toEqual([layer.id]);
  });

  test('a goal whose key is taken gets another, in the texts too', () => {
    const into = target();
    const { put: records, came } = takenOver(partsOf(from, ['sc-game']), ['sc-game'], into, {}, newId);
    expect(records.find(({ id }) => id === came.get('roof'))).toMatchObject({
      key: 'roof2',
      name: 'A roof 2',
    });
    expect(JSON.stringify(records)).toContain('{{goal.roof2.percent}}');
    expect(JSON.stringify(records)).not.toContain('{{goal.roof.');
  });

  test('what is laid out for other frames is laid out for these', () => {
    const into = target();
    const [show] = recordsOf(into, 'show');
    const scale = show.frames.wide.width / WIDE.width;
    const { put: records, came } = takenOver(partsOf(from, ['sc-game']), ['sc-game'], into, {}, newId);
    const layer = records.find(({ id }) => id === came.get('la-game')) as LayerRecord;
    const before = recordsOf(from, 'layer').find(({ id }) => id === 'la-game')!;
    expect(layer.placements.wide!.width).toBeCloseTo(before.placements.wide!.width * scale, 6);
    expect(layer.placements.wide!.cx).toBeCloseTo(before.placements.wide!.cx * scale, 6);
  });

  test('an input that is there already is used, but for pages and feeds, whose address stands elsewhere', () => {
    const camera = sampleInput('cam', { source: { type: 'simulated', picture: 'lever-camera' } });
    const feed = sampleInput('feed', { source: { type: 'feed', way: 'fetched' } });
    const layers = [camera, feed].map(({ id }, i) =>
      sampleLayer(`la-${id}`, 'sc', i, { content: { type: 'input', inputId: id, fit: 'fill' } }),
    );
    const parts = partsOf(documentOf([sampleShow, camera, feed, sampleScene('sc'), ...layers]), ['sc']);
    const into = put(target(), [
      { ...camera, id: 'own-cam', showId: 't', name: 'Levers', position: 40 },
      { ...feed, id: 'own-feed', showId: 't', position: 41 },
    ]);
    const { put: records, came } = takenOver(parts, ['sc'], into, {}, newId);
    expect(came.has('cam')).toBe(false);
    expect(came.has('feed')).toBe(true);
    expect(records.find(({ id }) => id === came.get('la-cam'))).toMatchObject({
      content: { inputId: 'own-cam' },
    });
    // With a crop of its own it is another one.
    const cropped = put(into, [{ ...camera, id: 'own-cam', showId: 't', mirrored: true }]);
    expect(takenOver(parts, ['sc'], cropped, {}, newId).came.has('cam')).toBe(true);
  });

  test('words the show does not have come with it, as they were or as they are given; its own stay', () => {
    const into = target();
    const [show] = recordsOf(into, 'show');
    const own = { ...show, fields: { host: 'ida' } };
    const { put: records } = takenOver(
      partsOf(from, ['sc-game']),
      ['sc-game'],
      put(into, [own]),
      { guest: 'Bo' },
      newId,
    );
    expect(records.find(({ kind }) => kind === 'show')).toMatchObject({
      fields: { host: 'ida', guest: 'Bo' },
    });
    const none = takenOver(partsOf(from, ['sc-talk']), ['sc-talk'], into, {}, newId);
    expect(none.put.some(({ kind }) => kind === 'show')).toBe(false);
  });

  test('a whole made-up show can be taken over part by part, and each edit is a whole show', () => {
    const whole = documentOf(copyShow([...from.values()], 'far', 'Far', newId).records);
    let into = target();
    for (const { id } of listParts(whole))
      into = put(into, takenOver(partsOf(whole, [id]), [id], into, {}, newId).put);
    expect(recordsOf(into, 'scene').length).toBeGreaterThan(5);
  });
});

describe('a kit', () => {
  const bring = (into: ShowDocument): { document: ShowDocument; came: ReadonlyMap<string, string> } => {
    const { put: records, came } = takenOver(partsOf(from, ['sc-game']), ['sc-game'], into, {}, newId);
    const after = put(into, records);
    const [show] = recordsOf(after, 'show');
    return { document: put(after, [{ ...show, kits: [takenKit('kit-1', 'Fells', records)] }]), came };
  };

  test('is taken out as a whole when nothing of it was changed', () => {
    const into = target();
    const { document } = bring(into);
    const { put: shows, removed, stays } = withoutKit(document, 'kit-1');
    const after = put(document, shows, removed);
    expect(stays).toEqual([]);
    expect([...after.keys()].sort()).toEqual([...into.keys()].sort());
    expect(recordsOf(after, 'show')[0].kits).toEqual([]);
    expect(() => withoutKit(after, 'kit-1')).toThrow(/taken out already/);
  });

  test('a scene that was changed stays, with what it needs; the rest goes', () => {
    const { document, came } = bring(target());
    const layer = recordsOf(document, 'layer').find(({ id }) => id === came.get('la-words'))!;
    const changed = put(document, [{ ...layer, visible: false }]);
    const { removed, stays } = withoutKit(changed, 'kit-1');
    // The scene shows the other scene, that one the goal, and both inputs hang on it.
    expect(removed).toEqual([]);
    expect(stays).toContain('sc-game');
    const goalOf = recordsOf(document, 'goal').find(({ id }) => id === came.get('roof'))!;
    const other = put(document, [{ ...goalOf, target: 5 }]);
    const without = withoutKit(other, 'kit-1');
    expect(without.stays).toEqual([goalOf.name]);
    expect(without.removed).toContain(came.get('sc-game'));
    put(other, without.put, without.removed);
  });

  test('what was used elsewhere stays', () => {
    const { document, came } = bring(target());
    const [scene] = recordsOf(document, 'scene');
    const mine = sampleLayer('mine', scene.id, 99, {
      showId: 't',
      content: { type: 'input', inputId: came.get('in-game')!, fit: 'fill' },
    });
    const used = put(document, [mine]);
    const { removed, stays } = withoutKit(used, 'kit-1');
    expect(stays.sort()).toEqual(['in-card', 'in-game']);
    expect(removed).toContain(came.get('sc-game'));
    put(used, [], removed);
  });

  test('a layer of one’s own in a scene of the kit keeps that scene', () => {
    const { document, came } = bring(target());
    const used = put(document, [sampleLayer('mine', came.get('sc-inside')!, 99, { showId: 't' })]);
    expect(withoutKit(used, 'kit-1').stays).toContain('sc-inside');
  });

  test('sums tell a change and not an order of keys', () => {
    const scene = sampleScene('a');
    const turned = Object.fromEntries(Object.entries(scene).reverse()) as unknown as AnyRecord;
    expect(sumOf(turned)).toBe(sumOf(scene));
    expect(sumOf({ ...scene, name: 'b' })).not.toBe(sumOf(scene));
  });

  test('its colours have roles, and are exchanged with their transparency', () => {
    const shape = (id: string, colour: string) =>
      sampleLayer(id, 's', 0, { content: { type: 'shape', shape: 'rectangle', colour } });
    const records = [
      shape('a', '#101820'),
      shape('b', '#101820'),
      shape('c', '#F4EFE6'),
      shape('d', '#e39a8880'),
    ];
    const palette = paletteOf(records.map((r) => ({ ...r, placements: {}, finish: undefined }) as never));
    expect(palette).toEqual([
      { role: 'Ground', colour: '#101820' },
      { role: 'Words', colour: '#F4EFE6' },
      { role: 'Accent', colour: '#E39A88' },
    ]);
    const [, , , last] = recoloured(records, new Map([['#E39A88', '#63BDBB']]));
    expect(last).toMatchObject({ content: { colour: '#63BDBB80' } });
  });

  const kit: Kit = {
    ...{ format: 'dolomite-kit', version: 1, name: 'Fells', about: '', madeAt: 'x' },
    ...partsOf(from, ['sc-game']),
    ...{ palette: [{ role: 'Ground', colour: '#101820' }], files: [] },
  };
  test('is read as it was written', () => {
    expect(readKitHead(JSON.parse(JSON.stringify(kit)))).toEqual(kit);
  });
  test.each([
    ['no kit', null, /no kit of Dolomite/],
    ['a show', { ...kit, format: 'dolomite-show' }, /no kit of Dolomite/],
    ['a version to come', { ...kit, version: 2 }, /newer Dolomite/],
    ['no version', { ...kit, version: undefined }, /which version/],
    ['no name', { ...kit, name: ' ' }, /its name/],
    ['a destination in it', { ...kit, records: [{ kind: 'destination' }] }, /no kit may hold/],
    ['a show in it', { ...kit, records: [sampleShow] }, /no kit may hold/],
    ['records that are none', { ...kit, records: [null] }, /no kit may hold/],
    ['no frames', { ...kit, frames: {} }, /size of its frames/],
    ['odd frames', { ...kit, frames: { wide: { width: 1e9, height: 1 }, tall: TALL } }, /size of its frames/],
    ['fields that are none', { ...kit, fields: { 'a b': 'x' } }, /its fields/],
    ['a palette that is none', { ...kit, palette: [{ role: 'x', colour: 'red' }] }, /its palette/],
    ['no files', { ...kit, files: null }, /list of files/],
  ])('with %s it is refused', (_, head, words) => {
    expect(() => readKitHead(head)).toThrow(words);
  });
});
