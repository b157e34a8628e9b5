import { expect, test } from 'vitest';
import { recordsOfPicture, withHeld } from './held';
import { sampleDocument, sampleLayer, sampleScene } from './sample-show';

const show = sampleDocument(
  sampleScene('a'),
  sampleScene('b', { position: 1 }),
  sampleLayer('one', 'a', 0),
  sampleLayer('gone', 'a', 1),
  sampleLayer('other', 'b', 0),
);
const held = new Map([['a', recordsOfPicture(show, 'a')]]);

test('a held scene is as it was, with what was added, changed and removed since left out; others are as they are', () => {
  const later = new Map(show);
  later.delete('gone');
  later.set('one', { ...show.get('one')!, name: 'changed' });
  later.set('new', sampleLayer('new', 'a', 2));
  later.set('other', { ...show.get('other')!, name: 'changed too' });
  const seen = withHeld(later, held);
  expect(seen.get('one')).toBe(show.get('one'));
  expect(seen.get('gone')).toBe(show.get('gone'));
  expect(seen.has('new')).toBe(false);
  expect(seen.get('other')!.name).toBe('changed too');
});

test('nothing held, or nothing edited, is the show itself', () => {
  expect(withHeld(show, new Map())).toBe(show);
  expect([...withHeld(show, held)].sort()).toEqual([...show].sort());
});
