import { describe, expect, test } from 'vitest';
import { copyLayers, pasteLayers } from './clipboard';
import { applyEdit, documentOf, recordsOf, type ShowDocument } from './document';
import { ownLayers } from './layers';
import { PLAIN_CHANNEL, type AnyRecord, type LayerRecord } from './records';
import { sampleDocument, sampleInput, sampleLayer, sampleScene, sampleShow } from './sample-show';

let n = 0;
const newId = () => `n${++n}`;
const done = (document: ShowDocument, put: AnyRecord[]) =>
  applyEdit(document, { id: newId(), name: '', put, removed: [] }).document;
const cameraLayer = sampleLayer('l', 'a', 0, {
  content: { type: 'input', inputId: 'cam', fit: 'fill' },
  wide: { cx: 300, cy: 200, width: 400, height: 200 },
});
const clip = sampleInput('clip', {
  position: 1,
  source: {
    type: 'clips',
    files: [{ assetId: 'x', name: 'x' }],
    order: 'listed',
    atEnd: 'loop',
    start: 'always',
  },
});
const channel: AnyRecord = {
  kind: 'channel',
  id: 'ch',
  showId: 'show',
  name: 'clip',
  position: 0,
  source: { type: 'input', inputId: 'clip' },
  ...PLAIN_CHANNEL,
  gainDb: -6,
  heard: 'with-picture',
  pictureInputId: 'clip',
};
const source = sampleDocument(
  sampleScene('a'),
  sampleScene('b', { position: 1 }),
  sampleInput('cam'),
  clip,
  channel,
  cameraLayer,
  sampleLayer('g', 'a', 1, { content: { type: 'group' } }),
  sampleLayer('m', 'a', 0, { groupId: 'g', content: { type: 'input', inputId: 'clip', fit: 'fit' } }),
  sampleLayer('i', 'a', 2, { content: { type: 'inset', sceneId: 'b', fit: 'fit' } }),
);
const layer = (id: string) => source.get(id) as LayerRecord;

describe('copy and paste', () => {
  test('into another scene of the show: same input, same place', () => {
    const { records, layerIds, left } = pasteLayers(
      source,
      'b',
      copyLayers(source, [layer('l')]),
      'in place',
      newId,
    );
    const after = done(source, records);
    expect(ownLayers(after, 'b')).toMatchObject([
      { id: layerIds[0], content: { inputId: 'cam' }, placements: cameraLayer.placements },
    ]);
    expect([recordsOf(after, 'input').length, left]).toEqual([2, []]);
  });

  test('in the middle: together, without their place', () => {
    const both = [
      layer('l'),
      sampleLayer('l2', 'a', 1, { wide: { cx: 700, cy: 200, width: 100, height: 200 } }),
    ];
    const copied = copyLayers(done(source, [both[1]]), both);
    const { records } = pasteLayers(source, 'b', copied, 'in the middle', newId);
    const xs = records.map((r) => (r as LayerRecord).placements.wide!.cx).sort((a, b) => a - b);
    // Bounds 100…750, so the middle 425 comes to 960.
    expect(xs).toEqual([835, 1235]);
  });

  test('a group comes with its members, into another show with its inputs and their sound', () => {
    const other = documentOf([
      { ...sampleShow, id: 'other', showId: 'other' },
      { ...sampleScene('z'), showId: 'other' },
    ]);
    const { records } = pasteLayers(other, 'z', copyLayers(source, [layer('g')]), 'in place', newId);
    const after = done(other, records);
    const [group, member] = [...ownLayers(after, 'z')].sort((a) => (a.content.type === 'group' ? -1 : 1));
    expect(member.groupId).toBe(group.id);
    expect(records.every((r) => r.showId === 'other')).toBe(true);
    expect(recordsOf(after, 'channel')[0].source).toEqual({
      type: 'input',
      inputId: recordsOf(after, 'input')[0].id,
    });
  });

  test('an input whose id means something else there gets a new one', () => {
    const other = sampleDocument(sampleScene('z'), sampleScene('cam', { position: 4 }));
    const { records } = pasteLayers(other, 'z', copyLayers(source, [layer('l')]), 'in place', newId);
    const after = done(other, records);
    expect(recordsOf(after, 'input')).toHaveLength(1);
    expect(recordsOf(after, 'input')[0].id).not.toBe('cam');
  });

  test('what cannot stand there is left out and named; nothing at all is refused', () => {
    const other = sampleDocument(sampleScene('z'));
    const two = copyLayers(source, [layer('l'), layer('i')]);
    expect(pasteLayers(other, 'z', two, 'in place', newId).left).toEqual(['i']);
    expect(() => pasteLayers(other, 'z', copyLayers(source, [layer('i')]), 'in place', newId)).toThrow(
      /cannot stand here/,
    );
    const gone = { ...copyLayers(source, [layer('l')]), inputs: [] };
    expect(() => pasteLayers(other, 'z', gone, 'in place', newId)).toThrow(/"l" cannot stand here/);
  });
});
