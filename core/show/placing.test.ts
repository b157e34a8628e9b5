import { describe, expect, test } from 'vitest';
import { applyEdit, findRecord, type ShowDocument } from './document';
import { standingIn } from './layers';
import { hasOwnPlace, hiddenIn, ownPlace, placed, roundedPlacement } from './placing';
import { fullPlacement, type AnyRecord, type LayerRecord, type SceneRecord } from './records';
import { sampleDocument, sampleLayer, sampleScene, WIDE } from './sample-show';

const base = sampleDocument(
  sampleScene('a'),
  sampleLayer('l', 'a', 0),
  sampleLayer('s', null, 0),
  sampleLayer('t', null, 1),
);
const scene = (document: ShowDocument) => findRecord(document, 'scene', 'a') as SceneRecord;
const layer = (document: ShowDocument, id: string) => document.get(id) as LayerRecord;
const done = (document: ShowDocument, put: AnyRecord[]) =>
  applyEdit(document, { id: 'e', name: '', put, removed: [] }).document;
const at = (cx: number) => ({ ...fullPlacement(WIDE), cx });

describe('placements go where they belong', () => {
  test('a layer has its own; null takes it out of the frame', () => {
    const moved = done(base, placed(base, 'a', 'tall', new Map([['l', at(5)]])));
    expect(layer(moved, 'l').placements.tall?.cx).toBe(5);
    const out = done(moved, placed(moved, 'a', 'wide', new Map([['l', null]])));
    expect(Object.keys(layer(out, 'l').placements)).toEqual(['tall']);
  });

  test('a standing layer moves everywhere until the scene has a place of its own for it', () => {
    const everywhere = done(base, placed(base, 'a', 'wide', new Map([['s', at(100)]])));
    expect(layer(everywhere, 's').placements.wide?.cx).toBe(100);
    const own = done(everywhere, [ownPlace(layer(everywhere, 's'), scene(everywhere), true)]);
    expect(hasOwnPlace(own, layer(own, 's'), 'a', 'wide')).toBe(true);
    const here = done(own, placed(own, 'a', 'wide', new Map([['s', at(700)]])));
    expect(layer(here, 's').placements.wide?.cx).toBe(100);
    expect(standingIn(here, layer(here, 's'), 'a').placements.wide?.cx).toBe(700);
    const common = done(here, [ownPlace(layer(here, 's'), scene(here), false)]);
    expect(scene(common).standing).toEqual({});
  });

  test('two standing layers moved together make one change of the scene', () => {
    const own = done(base, [ownPlace(layer(base, 't'), ownPlace(layer(base, 's'), scene(base), true), true)]);
    const records = placed(
      own,
      'a',
      'wide',
      new Map([
        ['s', at(1)],
        ['t', at(2)],
        ['l', at(3)],
      ]),
    );
    expect(records.map((r) => r.id).sort()).toEqual(['a', 'l']);
    const after = done(own, records);
    expect(['s', 't'].map((id) => standingIn(after, layer(after, id), 'a').placements.wide?.cx)).toEqual([
      1, 2,
    ]);
  });

  test('a scene hides a standing layer and shows it again', () => {
    const hidden = done(base, [hiddenIn(scene(base), 's', true)]);
    expect(standingIn(hidden, layer(hidden, 's'), 'a').visible).toBe(false);
    expect(scene(done(hidden, [hiddenIn(scene(hidden), 's', false)])).standing).toEqual({});
  });
});

test('numbers are kept to a tenth of a pixel and never vanish', () => {
  expect(roundedPlacement({ ...at(10.2345), width: 0.01, rotationDeg: 33.333 })).toMatchObject({
    cx: 10.2,
    width: 1,
    rotationDeg: 33.3,
  });
});
