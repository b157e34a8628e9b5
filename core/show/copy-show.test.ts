import { expect, it } from 'vitest';
import { copyShow } from './copy-show';
import { documentOf, recordsOf } from './document';
import { chooseShown, firstShow } from './new-show';
import { sampleScene } from './sample-show';
import { settle } from './settle';

let ids = 0;
const newId = () => `id-${++ids}`;

it('points at its own records alone, and leaves the first one as it was', () => {
  const start = documentOf(firstShow('old', 'First', 'lampwright', newId));
  const shown = chooseShown(start, 'game', newId);
  const made = settle(start, { id: 'e', name: '', ...shown }, []).document;
  const alerts = recordsOf(made, 'layer').find(({ sceneId }) => sceneId === null)!;
  const [one, two] = recordsOf(made, 'scene');
  const pose = {
    ...{ kind: 'pose', id: 'pose-1', showId: 'old', name: 'Wide', position: 0, sceneId: one.id, key: '' },
    layers: { [alerts.id]: {} },
  } as never;
  const before = [
    ...made.values(),
    pose,
    {
      ...sampleScene('linked', { name: one.id, transitionAfter: { [two.id]: one.transition! } }),
      showId: 'old',
      standing: { [alerts.id]: { hidden: true, placements: {} } },
    },
  ];
  const text = JSON.stringify(before);
  const copy = copyShow(before, 'new', 'Second', newId);
  expect(JSON.stringify(before)).toBe(text);
  const words = JSON.stringify(copy.records);
  for (const { id } of before)
    // A scene that is called like an id keeps its name.
    expect(words.replace(`"name":"${id}"`, '').includes(`"${id}"`), id).toBe(false);
  expect(copy.records).toHaveLength(before.length);
  expect(copy.records.find((r) => r.kind === 'show')).toMatchObject({ id: 'new', name: 'Second' });
  expect(copy.ids.get(one.id)).not.toBe(one.id);
  const whole = settle(documentOf([]), { id: 'c', name: '', put: copy.records, removed: [] }, []);
  expect(whole.document.size).toBe(before.length);
});
