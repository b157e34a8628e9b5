import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  applyEdit,
  documentOf,
  History,
  layersOfScene,
  recordsOf,
  reorder,
  type Edit,
  type ShowDocument,
} from './document';
import {
  fullPlacement,
  type AnyRecord,
  type InputRecord,
  type LayerRecord,
  type SceneRecord,
} from './records';

const FRAME = { width: 1920, height: 1080 };

const scene = (id: string, position = 0): SceneRecord => ({
  kind: 'scene',
  id,
  showId: 's',
  name: id,
  position,
  folder: '',
  transition: { type: 'cut', seconds: 0 },
  background: '#000000',
});
const input = (id: string): InputRecord => ({
  kind: 'input',
  id,
  showId: 's',
  name: id,
  position: 0,
  source: { type: 'simulated', picture: 'desk-camera' },
});
const layer = (id: string, sceneId: string | null, inputId: string, position = 0): LayerRecord => ({
  kind: 'layer',
  id,
  showId: 's',
  name: id,
  position,
  sceneId,
  visible: true,
  locked: false,
  content: { type: 'input', inputId, fit: 'fill' },
  placements: { wide: fullPlacement(FRAME) },
});
const edit = (put: AnyRecord[], removed: string[] = []): Edit => ({ id: 'e', name: 'test', put, removed });

const base = () =>
  documentOf([
    scene('a'),
    scene('b', 1),
    input('cam'),
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

test('layers of a scene come lowest first with the standing ones on top', () => {
  expect(layersOfScene(base(), 'a').map((l) => l.id)).toEqual(['l0', 'l1', 'top']);
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
  const apply = (next: Edit): Edit => {
    const result = applyEdit(document, next);
    document = result.document as Map<string, AnyRecord>;
    return result.inverse;
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
