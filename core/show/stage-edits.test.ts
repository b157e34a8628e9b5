import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { TEMPLATES } from '../scene/templates';
import { applyEdit, recordsOf, type ShowDocument } from './document';
import { layersOfScene, ownLayers } from './layers';
import { fullPlacement, type AnyRecord, type LayerRecord } from './records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene, TALL, WIDE } from './sample-show';
import {
  boxPlacements,
  duplicateLayers,
  duplicateScene,
  freeName,
  groupLayers,
  listedRows,
  moveLayer,
  moveScene,
  newInputWithLayer,
  newLayer,
  resizedFrame,
  sceneFromTemplate,
  shapedPlacement,
  ungroup,
  withMembers,
} from './stage-edits';

let n = 0;
const newId = () => `n${++n}`;
const done = (document: ShowDocument, put: AnyRecord[], removed: string[] = []) =>
  applyEdit(document, { id: newId(), name: '', put, removed }).document;
const listed = (document: ShowDocument, closed: string[] = []) =>
  listedRows(document, 'a', new Set(closed)).map(({ layer, depth }) => `${'>'.repeat(depth)}${layer.id}`);
const layerOf = (document: ShowDocument, id: string) => document.get(id) as LayerRecord;

/** Bottom to top: low, then group g with m1 and m2, then top. */
const stack = () =>
  sampleDocument(
    sampleScene('a'),
    sampleScene('b', { position: 1, folder: 'Later' }),
    sampleLayer('low', 'a', 0),
    sampleLayer('g', 'a', 1, { content: { type: 'group' } }),
    sampleLayer('m1', 'a', 0, { groupId: 'g', wide: { width: 100, height: 100 } }),
    sampleLayer('m2', 'a', 1, { groupId: 'g', wide: { width: 200, height: 100 }, tall: {} }),
    sampleLayer('top', 'a', 2),
  );

test('a video comes with its layer and a channel that is heard with its picture', () => {
  const { records, input } = newInputWithLayer(
    stack(),
    'a',
    newId,
    'Clip',
    { type: 'clips', files: [{ assetId: 'x', name: 'x' }], order: 'listed', atEnd: 'loop', start: 'always' },
    { wide: fullPlacement(WIDE) },
  );
  const document = done(stack(), records);
  expect(recordsOf(document, 'channel')[0]).toMatchObject({
    heard: 'with-picture',
    pictureInputId: input.id,
  });
  expect(ownLayers(document, 'a')).toHaveLength(6);
});

describe('the list of layers', () => {
  test('is top first, members under their group, closed groups without them', () => {
    expect(listed(stack())).toEqual(['top', 'g', '>m2', '>m1', 'low']);
    expect(listed(stack(), ['g'])).toEqual(['top', 'g', 'low']);
  });

  test.each([
    ['down past a group', 'top', 'low', true, ['g', '>m2', '>m1', 'low', 'top']],
    ['up to the top', 'low', 'top', false, ['low', 'top', 'g', '>m2', '>m1']],
    ['into a group', 'top', 'm2', true, ['g', '>m2', '>top', '>m1', 'low']],
    ['onto a group from above: its uppermost member', 'top', 'g', true, ['g', '>top', '>m2', '>m1', 'low']],
    ['out of a group', 'm2', 'low', true, ['top', 'g', '>m1', 'low', 'm2']],
    ['a group as a whole', 'g', 'top', false, ['g', '>m2', '>m1', 'top', 'low']],
  ])('moves %s', (_what, id, over, below, expected) => {
    const document = stack();
    expect(listed(done(document, moveLayer(document, 'a', id, over, below)))).toEqual(expected);
  });

  test('a group does not move into itself', () => {
    const document = stack();
    expect(moveLayer(document, 'a', 'g', 'm1', true)).toEqual([]);
  });

  test('any run of moves loses nothing and makes nothing twice', () => {
    const ids = ['low', 'g', 'm1', 'm2', 'top'];
    const move = fc.record({
      id: fc.constantFrom(...ids),
      over: fc.constantFrom(...ids),
      below: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(move, { maxLength: 15 }), (moves) => {
        let document: ShowDocument = stack();
        for (const { id, over, below } of moves)
          document = done(document, moveLayer(document, 'a', id, over, below));
        expect(
          listed(document)
            .map((row) => row.replace(/>/g, ''))
            .sort(),
        ).toEqual([...ids].sort());
      }),
      { seed: 11, numRuns: 150 },
    );
  });
});

describe('groups', () => {
  test('take the place of their uppermost member and come apart again', () => {
    const before = stack();
    const put = groupLayers(before, [layerOf(before, 'low'), layerOf(before, 'top')], 'new', 'Group');
    const grouped = done(before, put);
    expect(listed(grouped)).toEqual(['new', '>top', '>low', 'g', '>m2', '>m1']);
    const apart = done(grouped, ungroup(grouped, layerOf(grouped, 'new')), ['new']);
    expect(listed(apart)).toEqual(['top', 'low', 'g', '>m2', '>m1']);
    expect(apart.size).toBe(before.size);
  });

  test('a group of groups keeps them', () => {
    const before = stack();
    const chosen = withMembers(before, [layerOf(before, 'g'), layerOf(before, 'top')]);
    const grouped = done(before, groupLayers(before, chosen, 'outer', 'Group'));
    expect(listed(grouped)).toEqual(['outer', '>top', '>g', '>>m2', '>>m1', 'low']);
  });

  test('lock and hide what they hold', () => {
    const before = stack();
    const held = done(before, [{ ...layerOf(before, 'g'), locked: true, visible: false }]);
    expect(layersOfScene(held, 'a').map((l) => [l.id, l.visible, l.locked])).toEqual([
      ['low', true, false],
      ['m1', false, true],
      ['m2', false, true],
      ['top', true, false],
    ]);
  });
});

describe('copies', () => {
  test('a duplicated scene has layers and groups of its own', () => {
    const before = stack();
    const copies = duplicateScene(before, recordsOf(before, 'scene')[0], newId);
    const document = done(before, copies);
    const copy = recordsOf(document, 'scene').find((s) => s.name === 'a copy')!;
    expect(ownLayers(document, copy.id)).toHaveLength(5);
    const group = ownLayers(document, copy.id).find((l) => l.content.type === 'group')!;
    expect(ownLayers(document, copy.id).filter((l) => l.groupId === group.id)).toHaveLength(2);
    expect(group.id).not.toBe('g');
  });

  test('a duplicated group stands beside the first one, a member within it', () => {
    const before = stack();
    const group = done(before, duplicateLayers(before, [layerOf(before, 'g')], newId));
    expect(listed(group)).toHaveLength(8);
    const member = duplicateLayers(before, [layerOf(before, 'm1')], newId);
    expect(member[0]).toMatchObject({ groupId: 'g', name: 'm1 copy' });
    expect(member[0].placements.wide!.cx).toBe(1000);
  });

  test('names are made free', () => {
    expect(freeName(['A', 'A 2'], 'A')).toBe('A 3');
    expect(freeName([], 'A')).toBe('A');
  });
});

test('scenes move within and between folders', () => {
  const document = sampleDocument(
    sampleScene('a', { position: 0 }),
    sampleScene('b', { position: 1 }),
    sampleScene('c', { position: 2, folder: 'Later' }),
  );
  const order = (d: ShowDocument) => recordsOf(d, 'scene').map((s) => `${s.folder}/${s.id}`);
  expect(order(done(document, moveScene(document, 'a', 'b', true)))).toEqual(['/b', '/a', 'Later/c']);
  expect(order(done(document, moveScene(document, 'a', 'c', false)))).toEqual(['/b', 'Later/a', 'Later/c']);
  expect(moveScene(document, 'a', 'a', true)).toEqual([]);
});

test('pictures keep their shape, and boxes fit both frames', () => {
  expect(shapedPlacement(WIDE, { width: 400, height: 400 }, 0.5)).toMatchObject({ width: 540, height: 540 });
  const box = boxPlacements(stack(), { width: 1600, height: 200 });
  expect(box.wide).toMatchObject({ width: 1600, height: 200 });
  expect(box.tall!.width).toBeLessThanOrEqual(TALL.width * 0.9);
  expect(box.tall!.width / box.tall!.height).toBeCloseTo(8, 1);
});

test('a frame of another size keeps every place as a part of it', () => {
  const before = done(stack(), [
    sampleScene('a', {
      standing: { top: { hidden: false, placements: { wide: { ...fullPlacement(WIDE), cx: 480 } } } },
    }),
  ]);
  const after = done(before, resizedFrame(before, 'wide', { width: 960, height: 540 }));
  expect(layerOf(after, 'm1').placements.wide).toMatchObject({ cx: 480, cy: 270, width: 50, height: 50 });
  expect(layerOf(after, 'm2').placements.tall).toEqual(layerOf(before, 'm2').placements.tall);
  expect(recordsOf(after, 'scene')[0].standing.top.placements.wide?.cx).toBe(240);
  const back = done(after, resizedFrame(after, 'wide', WIDE));
  expect(layerOf(back, 'm1').placements.wide).toEqual(layerOf(before, 'm1').placements.wide);
});

describe('templates', () => {
  const document = done(stack(), [sampleInput('cam'), sampleInput('cam2', { position: 1 })]);
  test.each(TEMPLATES.map((t) => [t.name, t] as const))(
    '%s makes a scene in both frames',
    (_name, template) => {
      const choice = Object.fromEntries(template.parts.map((p) => [p.id, { taken: true, inputId: 'cam' }]));
      const after = done(
        document,
        sceneFromTemplate(document, template, choice, template.name, 'Main', newId),
      );
      const scene = recordsOf(after, 'scene').at(-1)!;
      const layers = ownLayers(after, scene.id);
      expect(layers).toHaveLength(template.parts.length);
      for (const layer of layers)
        for (const [frame, size] of [
          ['wide', WIDE],
          ['tall', TALL],
        ] as const) {
          const p = layer.placements[frame]!;
          expect(p.cx - p.width / 2).toBeGreaterThanOrEqual(-1);
          expect(p.cx + p.width / 2).toBeLessThanOrEqual(size.width + 1);
          expect(p.cy - p.height / 2).toBeGreaterThanOrEqual(-1);
          expect(p.cy + p.height / 2).toBeLessThanOrEqual(size.height + 1);
        }
    },
  );

  test('parts that are not taken, or have no input, are left out', () => {
    const game = TEMPLATES.find((t) => t.id === 'game')!;
    const records = sceneFromTemplate(
      document,
      game,
      {
        screen: { taken: true, inputId: 'cam' },
        host: { taken: true, inputId: null },
        chat: { taken: false, inputId: null },
      },
      'Game',
      '',
      newId,
    );
    expect(records.map((r) => r.name)).toEqual(['Game', 'cam']);
  });
});

test('a new layer comes on top', () => {
  const document = stack();
  const layer = newLayer(document, 'a', 'x', 'X', { type: 'shape', shape: 'star', colour: '#ffffff' }, {});
  expect(listed(done(document, [layer]))[0]).toBe('x');
});
