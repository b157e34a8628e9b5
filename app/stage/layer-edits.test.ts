import { expect, test } from 'vitest';
import { applyEdit, documentOf, recordsOf } from '~/core/show/document';
import type { AnyRecord } from '~/core/show/records';
import {
  duplicateScene,
  moveLayer,
  newInputWithLayer,
  newLayer,
  ownLayers,
  shapedPlacement,
} from './layer-edits';

const show: AnyRecord = {
  kind: 'show',
  id: 's',
  showId: 's',
  name: 's',
  position: 0,
  fields: {},
  frames: {
    wide: { width: 1920, height: 1080, used: true },
    tall: { width: 1080, height: 1920, used: false },
  },
};
const scene: AnyRecord = {
  kind: 'scene',
  id: 'a',
  showId: 's',
  name: 'A',
  position: 0,
  folder: '',
  transition: { type: 'cut', seconds: 0 },
  background: '#000000',
};
const base = documentOf([show, scene]);
let n = 0;
const newId = () => `n${++n}`;

test('a video file comes with its layer and a channel that is heard with its picture', () => {
  const { records, input } = newInputWithLayer(
    base,
    'a',
    newId,
    'Clip',
    { type: 'video', assetId: 'x', loop: true },
    {},
  );
  const { document } = applyEdit(base, { id: 'e', name: '', put: records, removed: [] });
  expect(recordsOf(document, 'channel')[0]).toMatchObject({
    heard: 'with-picture',
    pictureInputId: input.id,
  });
  expect(ownLayers(document, 'a')).toHaveLength(1);
});

test('new layers come on top; moving in the list, top first, sets the order', () => {
  let document = base as ReturnType<typeof documentOf>;
  for (const name of ['low', 'middle', 'top'])
    document = applyEdit(document, {
      id: name,
      name: '',
      put: [newLayer(document, 'a', name, name, { type: 'fill', colour: '#000000' }, {})],
      removed: [],
    }).document;
  const topFirst = [...ownLayers(document, 'a')].reverse();
  expect(topFirst.map((l) => l.id)).toEqual(['top', 'middle', 'low']);
  const put = moveLayer(topFirst, 'low', 0);
  document = applyEdit(document, { id: 'm', name: '', put, removed: [] }).document;
  expect([...ownLayers(document, 'a')].reverse().map((l) => l.id)).toEqual(['low', 'top', 'middle']);
});

test('a duplicated scene has layers of its own', () => {
  const withLayer = applyEdit(base, {
    id: 'l',
    name: '',
    put: [newLayer(base, 'a', 'l1', 'L', { type: 'fill', colour: '#000000' }, {})],
    removed: [],
  }).document;
  const copies = duplicateScene(withLayer, recordsOf(withLayer, 'scene')[0], newId);
  const { document } = applyEdit(withLayer, { id: 'd', name: '', put: copies, removed: [] });
  expect(recordsOf(document, 'scene').map((s) => s.name)).toEqual(['A', 'A copy']);
  expect(recordsOf(document, 'layer')).toHaveLength(2);
});

test('pictures keep their shape', () => {
  expect(shapedPlacement({ width: 1920, height: 1080 }, 400, 400, 0.5)).toMatchObject({
    width: 540,
    height: 540,
  });
});
