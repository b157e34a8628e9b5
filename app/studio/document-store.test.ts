import { expect, test } from 'vitest';
import type { AnyRecord } from '~/core/show/records';
import { sampleLayer, sampleScene } from '~/core/show/sample-show';
import { DocumentStore, type DocumentPorts } from './document-store';

const scene = (id: string, name = id) => sampleScene(id, { name });

function setUp(save?: DocumentPorts['save']) {
  const saved: { id: string; base: number }[] = [];
  let revision = 3;
  let ids = 0;
  const ports: DocumentPorts = {
    save:
      save ??
      (async (edit, base) => {
        saved.push({ id: edit.id, base });
        return { revision: ++revision };
      }),
    reload: async () => ({ revision: 9, records: [scene('fresh')] }),
    newId: () => `e${++ids}`,
    wait: async () => undefined,
  };
  return { store: new DocumentStore([scene('a')] as AnyRecord[], 3, ports), saved };
}

const settle = () => new Promise((resolve) => setTimeout(resolve, 5));

test('edits are applied at once and saved in order, each on the revision before', async () => {
  const { store, saved } = setUp();
  store.edit('Rename', [scene('a', 'A')]);
  store.edit('Add', [scene('b')]);
  expect(store.document().get('a')?.name).toBe('A');
  expect(store.saveState).toBe('saving');
  await settle();
  expect(saved).toEqual([
    { id: 'e1', base: 3 },
    { id: 'e2', base: 4 },
  ]);
  expect(store.saveState).toBe('saved');
});

test('a drag is one step: previews are neither saved nor undone one by one', async () => {
  const { store, saved } = setUp();
  for (const name of ['A1', 'A2', 'A3']) store.preview([scene('a', name)]);
  store.edit('Move', [scene('a', 'A3')]);
  await settle();
  expect(saved).toHaveLength(1);
  store.undo();
  expect(store.document().get('a')?.name).toBe('a');
  store.preview([scene('a', 'x')]);
  store.cancel();
  expect(store.document().get('a')?.name).toBe('a');
});

test('what changes nothing is no step: neither the same once more nor a drag back to where it began', async () => {
  const { store, saved } = setUp();
  store.edit('Rename', [scene('a', 'A')]);
  store.edit('Rename', [scene('a', 'A')]);
  store.preview([scene('a', 'B')]);
  store.edit('Move', [scene('a', 'A')]);
  expect(store.document().get('a')?.name).toBe('A');
  store.undo();
  expect(store.document().get('a')?.name).toBe('a');
  expect(store.undoName).toBeNull();
  await settle();
  expect(saved).toHaveLength(2);
});

test('undo and redo are saved as edits of their own', async () => {
  const { store, saved } = setUp();
  store.edit('Remove', [], ['a']);
  store.undo();
  store.redo();
  expect(store.document().has('a')).toBe(false);
  await settle();
  expect(new Set(saved.map((s) => s.id)).size).toBe(3);
});

test('a save that was lost is sent again with the same id', async () => {
  const seen: string[] = [];
  const { store } = setUp(async (edit) => {
    seen.push(edit.id);
    if (seen.length < 3) throw new TypeError('failed to fetch');
    return { revision: 4 };
  });
  store.edit('Rename', [scene('a', 'A')]);
  await settle();
  expect(seen).toEqual(['e1', 'e1', 'e1']);
  expect(store.saveState).toBe('saved');
});

test('a conflict loads the show again and says so', async () => {
  const { store } = setUp(async () => ({ conflict: true }));
  store.edit('Rename', [scene('a', 'A')]);
  await settle();
  expect([...store.document().keys()]).toEqual(['fresh']);
  expect(store.notice).toMatch(/loaded again/);
  expect(store.undoName).toBeNull();
});

test('an edit that does not fit changes nothing, and takes back what was only shown', async () => {
  const { store, saved } = setUp();
  store.preview([scene('a', 'shown')]);
  expect(() => store.edit('Dangling', [sampleLayer('l', 'gone', 0)])).toThrow(/points at gone/);
  expect(store.document().get('a')?.name).toBe('a');
  expect(store.undoName).toBeNull();
  await settle();
  expect(saved).toEqual([]);
});

test('the list of steps can be jumped in, and each step is saved', async () => {
  const { store, saved } = setUp();
  for (const name of ['A', 'B', 'C']) store.edit(`Rename ${name}`, [scene('a', name)]);
  store.jump(1);
  expect(store.document().get('a')?.name).toBe('A');
  expect(store.steps()).toEqual({ names: ['Rename A', 'Rename B', 'Rename C'], done: 1 });
  await settle();
  expect(saved).toHaveLength(5);
});

test('an edit of nothing is no step', () => {
  const { store } = setUp();
  store.edit('Nothing', []);
  expect(store.undoName).toBeNull();
});
