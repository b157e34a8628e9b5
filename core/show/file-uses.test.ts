import { expect, test } from 'vitest';
import type { AnyRecord } from './records';
import { sampleInput, sampleLayer } from './sample-show';
import { fileUses, filesIn, withOtherFile } from './file-uses';

const [A, B, C] = ['a', 'b', 'c'].map((letter) => letter.repeat(40));
const all = (id: string) => [A, B, C].includes(id);
const logo = sampleInput('logo', { source: { type: 'picture', assetId: A, loop: true } });
const list = sampleInput('list', {
  source: {
    ...{ type: 'clips', order: 'listed', atEnd: 'loop', start: 'always' },
    files: [
      { assetId: B, name: 'opening.mp4' },
      { assetId: A, name: 'logo.png' },
      { assetId: A, name: 'my own words' },
    ],
  } as never,
});
const plain = sampleLayer('plain', 'a', 0);

test('files are found wherever they stand, and only those that are there', () => {
  expect([...filesIn(list, all)]).toEqual([B, A]);
  expect([...filesIn(list, (id) => id === B)]).toEqual([B]);
  expect([...filesIn(plain, all)]).toEqual([]);
  // Whatever else is forty letters long is none.
  const odd = { ...plain, name: 'x'.repeat(40), groupId: `${A}0` } as AnyRecord;
  expect([...filesIn(odd, () => true)]).toEqual([]);
});

test('each file has its records, once each and in order', () => {
  const uses = fileUses([list, plain, logo], all);
  expect([...uses].map(([id, records]) => [id, records.map((r) => r.id)])).toEqual([
    [B, ['list']],
    [A, ['list', 'logo']],
  ]);
  expect(uses.has(C)).toBe(false);
});

test('another file takes its place everywhere, with its name where the file’s own stood', () => {
  const changed = withOtherFile([list, plain, logo], { id: A, name: 'logo.png' }, { id: C, name: 'new.png' });
  expect(changed.map(({ id }) => id)).toEqual(['list', 'logo']);
  expect((changed[0] as typeof list).source).toMatchObject({
    files: [
      { assetId: B, name: 'opening.mp4' },
      { assetId: C, name: 'new.png' },
      { assetId: C, name: 'my own words' },
    ],
  });
  expect(changed[1]).toEqual({ ...logo, source: { type: 'picture', assetId: C, loop: true } });
  // What was there is not touched.
  expect(logo.source).toMatchObject({ assetId: A });
  // A record that is called as the file is keeps its name.
  const named = { ...logo, name: 'logo.png' };
  expect(withOtherFile([named], { id: A, name: 'logo.png' }, { id: C, name: 'new.png' })[0].name).toBe(
    'logo.png',
  );
});
