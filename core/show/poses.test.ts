import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyEdit, findRecord, type ShowDocument } from './document';
import { placed } from './placing';
import {
  addPose,
  duplicatePose,
  intoPose,
  movedPose,
  posed,
  poseIn,
  posesOf,
  updatedPose,
  withKey,
  withoutPose,
} from './poses';
import type { AnyRecord, LayerRecord, PoseRecord } from './records';
import { sampleDocument, sampleLayer, sampleScene } from './sample-show';
import { duplicateScene } from './stage-edits';

let ids = 0;
const newId = () => `id-${++ids}`;
const put = (document: ShowDocument, records: AnyRecord[], removed: string[] = []) =>
  applyEdit(document, { id: 'e', name: '', put: records, removed }).document;
const one = sampleLayer('one', 'a', 0, { wide: { cx: 100 }, tall: { cx: 50 } });
const two = sampleLayer('two', 'a', 1, { wide: { cx: 200 } });
const badge = sampleLayer('badge', null, 0, { wide: { cx: 1800 } });
const bare = sampleDocument(sampleScene('a'), sampleScene('b'), one, two, badge);
const withPoses = () => put(bare, addPose(bare, bare, 'a', newId));
const cx = (document: ShowDocument, poseId: string | null, layer = 'one') =>
  findRecord(posed(document, 'a', poseId), 'layer', layer)!.placements.wide!.cx;
/** Moves a layer as a command of the stage does, in a pose. */
const move = (document: ShowDocument, poseId: string | null, layer: string, to: number) => {
  const view = posed(document, 'a', poseId);
  const placement = { ...findRecord(view, 'layer', layer)!.placements.wide!, cx: to };
  return put(
    document,
    intoPose(document, 'a', poseId, placed(view, 'a', 'wide', new Map([[layer, placement]]))),
  );
};

describe('poses of a scene', () => {
  test('the first one added makes two: what was there, and another like it, with keys of their own', () => {
    const document = withPoses();
    const poses = posesOf(document, 'a');
    expect(poses.map((p) => [p.name, p.key, p.position])).toEqual([
      ['Pose 1', '1', 0],
      ['Pose 2', '2', 1],
    ]);
    expect(cx(document, poses[1].id)).toBe(100);
    expect(posesOf(document, 'b')).toEqual([]);
  });

  test('moving a layer in one leaves the other and the layer itself alone; both frames are kept', () => {
    const document = withPoses();
    const [first, second] = posesOf(document, 'a').map((p) => p.id);
    const moved = move(document, second, 'one', 900);
    expect([cx(moved, first), cx(moved, second)]).toEqual([100, 900]);
    expect(findRecord(moved, 'layer', 'one')).toBe(findRecord(document, 'layer', 'one'));
    expect(findRecord(posed(moved, 'a', second), 'layer', 'one')!.placements.tall!.cx).toBe(50);
  });

  test('what is not about standing goes into the layer: its name, in every pose', () => {
    const document = withPoses();
    const [first, second] = posesOf(document, 'a').map((p) => p.id);
    const view = posed(move(document, second, 'one', 900), 'a', second);
    const layer = findRecord(view, 'layer', 'one')!;
    const base = move(document, second, 'one', 900);
    const renamed = put(base, intoPose(base, 'a', second, [{ ...layer, name: 'Host', locked: true }]));
    expect(findRecord(renamed, 'layer', 'one')).toMatchObject({ name: 'Host', locked: true });
    expect([cx(renamed, first), cx(renamed, second)]).toEqual([100, 900]);
    expect(findRecord(renamed, 'layer', 'one')!.placements.wide!.cx).toBe(100);
  });

  test('a colour and a hidden layer belong to the pose; a scene edit does not carry its standing changes out of it', () => {
    const document = withPoses();
    const [first, second] = posesOf(document, 'a').map((p) => p.id);
    const view = posed(document, 'a', second);
    const layer = findRecord(view, 'layer', 'two')!;
    const scene = findRecord(view, 'scene', 'a')!;
    const changed = put(
      document,
      intoPose(document, 'a', second, [
        { ...layer, visible: false, content: { type: 'shape', shape: 'rectangle', colour: '#ff0000' } },
        { ...scene, name: 'Renamed', standing: { badge: { hidden: true, placements: {} } } },
      ]),
    );
    const seen = (id: string) => {
      const l = findRecord(posed(changed, 'a', id), 'layer', 'two')!;
      return [l.visible, l.content.type === 'shape' && l.content.colour];
    };
    expect([seen(first), seen(second)]).toEqual([
      [true, '#26324f'],
      [false, '#ff0000'],
    ]);
    expect(findRecord(changed, 'scene', 'a')).toMatchObject({ name: 'Renamed', standing: {} });
    expect(findRecord(posed(changed, 'a', second), 'scene', 'a')!.standing).toHaveProperty('badge');
    expect(findRecord(posed(changed, 'a', first), 'scene', 'a')!.standing).toEqual({});
  });

  test('a grade belongs to the pose; one of an earlier version has that of the layer itself', () => {
    const document = withPoses();
    const [first, second] = posesOf(document, 'a').map((p) => p.id);
    const layer = findRecord(posed(document, 'a', second), 'layer', 'two')!;
    const changed = put(document, intoPose(document, 'a', second, [{ ...layer, gradeId: 'night' }]));
    const grade = (of: ShowDocument, id: string) => findRecord(posed(of, 'a', id), 'layer', 'two')!.gradeId;
    expect([grade(changed, first), grade(changed, second)]).toEqual([null, 'night']);
    expect(findRecord(changed, 'layer', 'two')!.gradeId).toBeNull();
    const old = findRecord(changed, 'pose', first)!;
    const { gradeId: _, ...look } = old.layers.two;
    const own = { ...findRecord(changed, 'layer', 'two')!, gradeId: 'day' };
    const earlier = put(changed, [{ ...old, layers: { ...old.layers, two: look } }, own]);
    expect([grade(earlier, first), grade(earlier, second)]).toEqual(['day', 'night']);
  });

  test('what is put through a pose is what is then seen in it, and undone by the edit that is kept', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            pose: fc.nat(2),
            layer: fc.constantFrom('one', 'two'),
            cx: fc.integer({ min: -500, max: 2500 }),
            visible: fc.boolean(),
            name: fc.constantFrom('x', 'y'),
          }),
          { minLength: 1, maxLength: 12 },
        ),
        (steps) => {
          let document = withPoses();
          document = put(document, addPose(document, posed(document, 'a', null), 'a', newId));
          const poses = posesOf(document, 'a').map((p) => p.id);
          const want = poses.map(() => ({
            one: { cx: 100, visible: true },
            two: { cx: 200, visible: true },
          }));
          for (const step of steps) {
            const view = posed(document, 'a', poses[step.pose]);
            const layer = findRecord(view, 'layer', step.layer)!;
            const edit = {
              id: 'e',
              name: '',
              removed: [],
              put: intoPose(document, 'a', poses[step.pose], [
                {
                  ...layer,
                  name: step.name,
                  visible: step.visible,
                  placements: { ...layer.placements, wide: { ...layer.placements.wide!, cx: step.cx } },
                } satisfies LayerRecord,
              ]),
            };
            const { document: next, inverse } = applyEdit(document, edit);
            expect(applyEdit(next, inverse).document).toEqual(document);
            document = next;
            want[step.pose][step.layer as 'one'] = { cx: step.cx, visible: step.visible };
          }
          poses.forEach((pose, i) => {
            for (const id of ['one', 'two'] as const) {
              const layer = findRecord(posed(document, 'a', pose), 'layer', id)!;
              expect({ cx: layer.placements.wide!.cx, visible: layer.visible }).toEqual(want[i][id]);
            }
          });
        },
      ),
      { numRuns: 60 },
    );
  });

  test('a key stays with its pose when another is removed or moved; a new pose takes the free one', () => {
    let document = withPoses();
    document = put(document, addPose(document, document, 'a', newId));
    const [first, second, third] = posesOf(document, 'a');
    document = put(document, withoutPose(document, second), [second.id]);
    expect(posesOf(document, 'a').map((p) => [p.id, p.key])).toEqual([
      [first.id, '1'],
      [third.id, '3'],
    ]);
    document = put(document, movedPose(posesOf(document, 'a'), third.id, 0));
    expect(posesOf(document, 'a').map((p) => p.key)).toEqual(['3', '1']);
    document = put(document, addPose(document, document, 'a', newId));
    expect(posesOf(document, 'a').map((p) => p.key)).toEqual(['3', '1', '2']);
    document = put(document, withKey(document, posesOf(document, 'a')[0], '1'));
    expect(posesOf(document, 'a').map((p) => p.key)).toEqual(['1', '', '2']);
  });

  test('the last one that goes leaves the scene as it stood', () => {
    let document = withPoses();
    const [first, second] = posesOf(document, 'a');
    document = move(document, second.id, 'one', 900);
    document = put(document, withoutPose(document, first), [first.id]);
    document = put(document, withoutPose(document, poseIn(document, 'a', second.id)!), [second.id]);
    expect(posesOf(document, 'a')).toEqual([]);
    expect(findRecord(document, 'layer', 'one')!.placements.wide!.cx).toBe(900);
  });

  test('a pose is brought up to date from the frames, duplicated beside itself, and goes with its scene', () => {
    let document = withPoses();
    const [first, second] = posesOf(document, 'a');
    document = move(document, second.id, 'one', 900);
    document = put(document, [updatedPose(first, posed(document, 'a', second.id))]);
    expect(cx(document, first.id)).toBe(900);
    const copies = duplicatePose(document, posesOf(document, 'a')[0], newId);
    document = put(document, copies);
    expect(posesOf(document, 'a').map((p) => p.name)).toEqual(['Pose 1', 'Pose 1 copy', 'Pose 2']);
    const copied = duplicateScene(document, findRecord(document, 'scene', 'a')!, newId);
    document = put(document, copied);
    const copy = copied[0].id;
    const pose = copied.find((r): r is PoseRecord => r.kind === 'pose' && r.name === 'Pose 2')!;
    expect(pose.sceneId).toBe(copy);
    const layer = copied.find((r): r is LayerRecord => r.kind === 'layer' && r.name === 'one')!;
    expect(pose.layers[layer.id].placements.wide!.cx).toBe(900);
    document = put(document, [], ['a']);
    expect(posesOf(document, 'a')).toEqual([]);
    expect(posesOf(document, copy)).toHaveLength(3);
  });

  test('a new layer stands in every pose; a pose of another scene counts as none', () => {
    let document = withPoses();
    const [first, second] = posesOf(document, 'a');
    document = put(
      document,
      intoPose(document, 'a', second.id, [sampleLayer('new', 'a', 5, { wide: { cx: 7 } })]),
    );
    expect([cx(document, first.id, 'new'), cx(document, second.id, 'new')]).toEqual([7, 7]);
    expect(poseIn(document, 'b', first.id)).toBeNull();
    expect(poseIn(document, 'a', 'gone')!.id).toBe(first.id);
  });
});
