import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  applyEdit,
  rebased,
  changesApplied,
  changesBetween,
  documentOf,
  recordsOf,
  reorder,
  type Edit,
  type ShowDocument,
} from './document';
import { History, type Step } from './history';
import type { AnyRecord, LayerRecord } from './records';
import { sampleInput, sampleLayer, sampleScene } from './sample-show';

const scene = (id: string, position = 0) => sampleScene(id, { position });
const layer = (id: string, sceneId: string | null, inputId: string, position = 0): LayerRecord =>
  sampleLayer(id, sceneId, position, { content: { type: 'input', inputId, fit: 'fill' } });
const edit = (put: AnyRecord[], removed: string[] = []): Edit => ({ id: 'e', name: 'test', put, removed });

const base = () =>
  documentOf([
    scene('a'),
    scene('b', 1),
    sampleInput('cam'),
    layer('l1', 'a', 'cam', 1),
    layer('l0', 'a', 'cam', 0),
    layer('top', null, 'cam'),
  ]);
const sorted = (document: ShowDocument) => [...document.values()].sort((x, y) => (x.id < y.id ? -1 : 1));

describe('applyEdit', () => {
  test('removing a scene removes its layers, and the inverse brings all back', () => {
    const before = base();
    const { document, inverse } = applyEdit(before, edit([], ['a']));
    expect([...document.keys()].sort()).toEqual(['b', 'cam', 'top']);
    expect(sorted(applyEdit(document, inverse).document)).toEqual(sorted(before));
  });

  test('a record may not point at nothing, and nothing changes when it does', () => {
    const before = base();
    expect(() => applyEdit(before, edit([layer('new', 'a', 'gone')]))).toThrow(/points at gone/);
    expect(before.size).toBe(6);
  });

  test('a record does not change its kind', () => {
    expect(() => applyEdit(base(), edit([{ ...scene('cam') }]))).toThrow(/cannot become/);
  });

  test('any run of edits is undone by its inverses', () => {
    const step = fc.oneof(
      fc.constantFrom('a', 'b', 'cam', 'l0', 'l1', 'top').map((id) => edit([], [id])),
      fc.tuple(fc.constantFrom('x', 'y'), fc.nat(5)).map(([id, p]) => edit([scene(id, p)])),
      fc.nat(9).map((p) => edit([{ ...scene('b'), position: p, name: `b${p}` }])),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
        let document = base();
        const inverses: Edit[] = [];
        for (const next of steps) {
          const result = applyEdit(document, next);
          document = result.document as Map<string, AnyRecord>;
          inverses.unshift(result.inverse);
        }
        let back: ShowDocument = document;
        for (const inverse of inverses) back = applyEdit(back, inverse).document;
        expect(sorted(back)).toEqual(sorted(base()));
      }),
      { seed: 42, numRuns: 200 },
    );
  });
});

describe('groups and insets', () => {
  const group = (id: string, more: Partial<LayerRecord> = {}) =>
    sampleLayer(id, 'a', 5, { content: { type: 'group' }, ...more });
  const inset = (id: string, sceneId: string, shows: string) =>
    sampleLayer(id, sceneId, 6, { content: { type: 'inset', sceneId: shows, fit: 'fill' } });

  test('removing a group removes its members, and the inverse brings them back', () => {
    const before = applyEdit(
      base(),
      edit([group('g'), { ...layer('l1', 'a', 'cam', 1), groupId: 'g' }]),
    ).document;
    const { document, inverse } = applyEdit(before, edit([], ['g']));
    expect(document.has('l1')).toBe(false);
    expect(sorted(applyEdit(document, inverse).document)).toEqual(sorted(before));
  });

  test('a group stands neither in itself nor in one of another scene', () => {
    const before = applyEdit(base(), edit([group('g'), group('h', { groupId: 'g' })])).document;
    expect(() => applyEdit(before, edit([group('g', { groupId: 'h' })]))).toThrow(/inside itself/);
    expect(() => applyEdit(before, edit([group('g', { groupId: 'g' })]))).toThrow(/inside itself/);
    expect(() => applyEdit(before, edit([{ ...layer('x', 'b', 'cam'), groupId: 'g' }]))).toThrow(
      /no group of its scene/,
    );
    expect(() => applyEdit(before, edit([{ ...layer('x', 'a', 'cam'), groupId: 'l0' }]))).toThrow(/no group/);
  });

  test('a scene is never shown inside itself, not even over others', () => {
    expect(() => applyEdit(base(), edit([inset('i', 'a', 'a')]))).toThrow(/inside itself/);
    const before = applyEdit(base(), edit([inset('i', 'a', 'b')])).document;
    expect(() => applyEdit(before, edit([inset('j', 'b', 'a')]))).toThrow(/inside itself/);
    expect(applyEdit(before, edit([scene('c'), inset('k', 'b', 'c')])).document.has('k')).toBe(true);
  });

  test('removing a scene removes the insets that show it', () => {
    const before = applyEdit(base(), edit([inset('i', 'a', 'b')])).document;
    const { document, inverse } = applyEdit(before, edit([], ['b']));
    expect(document.has('i')).toBe(false);
    expect(applyEdit(document, inverse).document.has('i')).toBe(true);
  });

  test('a standing layer may show a scene', () => {
    const standing = sampleLayer('s', null, 0, { content: { type: 'inset', sceneId: 'a', fit: 'fit' } });
    expect(applyEdit(base(), edit([standing])).document.has('s')).toBe(true);
  });
});

test('what changed between two documents makes one into the other', () => {
  const before = base();
  const after = applyEdit(before, edit([scene('c'), { ...scene('b'), name: 'B' }], ['a'])).document;
  const { put, removed } = changesBetween(before, after);
  expect(put.map((r) => r.id).sort()).toEqual(['b', 'c']);
  expect(removed.sort()).toEqual(['a', 'l0', 'l1']);
  expect(sorted(changesApplied(before, put, removed))).toEqual(sorted(after));
});

test('reorder gives only what moved', () => {
  const scenes = recordsOf(documentOf([scene('a', 0), scene('b', 1), scene('c', 2), scene('d', 3)]), 'scene');
  expect(reorder(scenes, 'c', 1).map((s) => [s.id, s.position])).toEqual([
    ['c', 1],
    ['b', 2],
  ]);
  expect(reorder(scenes, 'a', 0)).toEqual([]);
});

test('history undoes, redoes and forgets the redo after a new edit', () => {
  const history = new History();
  let document = base();
  const apply = (next: Edit): Step => {
    const result = applyEdit(document, next);
    document = result.document as Map<string, AnyRecord>;
    return { ...result.inverse, seen: [] };
  };
  history.record(apply(edit([], ['b'])));
  expect(history.undoName).toBe('test');
  expect(history.undo(apply)).toBe(true);
  expect(document.has('b')).toBe(true);
  expect(history.redo(apply)).toBe(true);
  expect(document.has('b')).toBe(false);
  history.undo(apply);
  history.record(apply(edit([scene('z')])));
  expect(history.redo(apply)).toBe(false);
});

test('a change made from an older view keeps what was changed since', () => {
  const seen = base();
  const now = applyEdit(seen, edit([{ ...scene('b', 1), name: 'Renamed' }])).document;
  const old = seen.get('b')!;
  const [merged] = rebased([{ ...old, position: 7 } as AnyRecord], seen, now);
  expect(merged).toMatchObject({ name: 'Renamed', position: 7 });
  expect(rebased([{ ...old, name: 'Mine' }], seen, now)[0].name).toBe('Mine');
  const fresh = scene('new');
  expect(rebased([fresh], seen, now)[0]).toBe(fresh);
});

test('of two changes inside one field neither is lost, what was taken away stays away, and kinds are not mixed', () => {
  const wide = { ...sampleLayer('l', 'a', 0).placements.wide! };
  const seen = layer('l', 'a', 'cam');
  const of = (changes: Partial<LayerRecord>) => documentOf([{ ...seen, ...changes }]);
  const merge = (made: Partial<LayerRecord>, now: Partial<LayerRecord>) =>
    rebased([{ ...seen, ...made }], documentOf([seen]), of(now))[0] as LayerRecord;
  const flipped = { placements: { ...seen.placements, wide: { ...wide, flipX: true } } };
  const over = { placements: { ...seen.placements, wide: { ...wide, flipY: true } } };
  expect(merge(over, flipped).placements.wide).toEqual({ ...wide, flipX: true, flipY: true });
  // Taken out of the frame meanwhile by the other: a change in another frame does not bring it back.
  const tall = { placements: { ...seen.placements, tall: { ...wide, cx: 7 } } };
  const onlyTall = { placements: { tall: seen.placements.tall ?? wide } };
  expect(merge(tall, onlyTall).placements).toEqual({ tall: { ...wide, cx: 7 } });
  expect(merge(onlyTall, over).placements).toEqual({ tall: onlyTall.placements.tall });
  const asColour: Partial<LayerRecord> = {
    content: { type: 'shape', shape: 'rectangle', colour: '#102030' },
  };
  const fitted: Partial<LayerRecord> = { content: { type: 'input', inputId: 'cam', fit: 'fit' } };
  expect(merge(asColour, fitted).content).toEqual(asColour.content);
  expect(merge(fitted, asColour).content).toEqual(fitted.content);
});

test('history lists its steps and jumps among them', () => {
  const history = new History();
  let document: ShowDocument = base();
  const apply = (next: Edit): Step => {
    const result = applyEdit(document, next);
    document = result.document;
    return { ...result.inverse, seen: [] };
  };
  for (const name of ['one', 'two', 'three'])
    history.record(apply({ ...edit([{ ...scene('b'), name }]), name: `Rename ${name}` }));
  expect(history.steps()).toEqual({ names: ['Rename one', 'Rename two', 'Rename three'], done: 3 });
  history.jump(1, apply);
  expect(document.get('b')?.name).toBe('one');
  expect(history.steps()).toEqual({ names: ['Rename one', 'Rename two', 'Rename three'], done: 1 });
  history.jump(0, apply);
  expect(document.get('b')?.name).toBe('b');
  history.jump(99, apply);
  expect(document.get('b')?.name).toBe('three');
});

test('a history keeps as many steps as it was told to', () => {
  const history = new History(3);
  for (let i = 0; i < 5; i++) history.record({ ...edit([]), name: String(i), seen: [] });
  expect(history.steps().names).toEqual(['2', '3', '4']);
});
