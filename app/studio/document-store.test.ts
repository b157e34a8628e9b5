import { expect, test } from 'vitest';
import type { Edit } from '~/core/show/document';
import type { AnyRecord } from '~/core/show/records';
import { sampleLayer, sampleScene } from '~/core/show/sample-show';
import { DocumentStore, type DocumentPorts } from './document-store';

const scene = (id: string, name = id) => sampleScene(id, { name });

function setUp(save?: DocumentPorts['save'], loaded = 9) {
  const saved: Edit[] = [];
  let revision = 3;
  let ids = 0;
  const ports: DocumentPorts = {
    save:
      save ??
      (async (edit) => {
        saved.push(edit);
        return { revision: ++revision, gone: [] };
      }),
    reload: async () => ({ revision: loaded, records: [scene('a'), scene('fresh')] }),
    newId: () => `e${++ids}`,
    now: () => 1000,
    wait: async () => undefined,
  };
  return { store: new DocumentStore([scene('a')] as AnyRecord[], 3, ports), saved };
}

const settled = () => new Promise((resolve) => setTimeout(resolve, 5));

test('edits are applied at once and saved in order', async () => {
  const { store, saved } = setUp();
  store.edit('Rename', [scene('a', 'A')]);
  store.edit('Add', [scene('b')]);
  expect(store.document().get('a')?.name).toBe('A');
  expect(store.saveState).toBe('saving');
  await settled();
  expect(saved.map((edit) => edit.id)).toEqual(['e1', 'e2']);
  expect(store.saveState).toBe('saved');
});

test('a drag is one step: previews are neither saved nor undone one by one', async () => {
  const { store, saved } = setUp();
  for (const name of ['A1', 'A2', 'A3']) store.preview([scene('a', name)]);
  store.edit('Move', [scene('a', 'A3')]);
  await settled();
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
  await settled();
  expect(saved).toHaveLength(2);
});

test('undo and redo are saved as edits of their own', async () => {
  const { store, saved } = setUp();
  store.edit('Remove', [], ['a']);
  store.undo();
  store.redo();
  expect(store.document().has('a')).toBe(false);
  await settled();
  expect(new Set(saved.map((s) => s.id)).size).toBe(3);
});

test('a save that was lost is sent again with the same id', async () => {
  const seen: string[] = [];
  const { store } = setUp(async (edit) => {
    seen.push(edit.id);
    if (seen.length < 3) throw new TypeError('failed to fetch');
    return { revision: 4, gone: [] };
  });
  store.edit('Rename', [scene('a', 'A')]);
  await settled();
  expect(seen).toEqual(['e1', 'e1', 'e1']);
  expect(store.saveState).toBe('saved');
});

/** What the server tells of an edit. */
const told = (revision: number, put: AnyRecord[], removed: string[] = [], id = 'theirs') => ({
  ...{ revision, id, name: 'Theirs', put, removed },
});

test('what another window does is taken in; what is not told back yet stays on top, and so does undo', async () => {
  let revision = 4;
  const { store } = setUp(async () => ({ revision: ++revision, gone: [] }));
  store.edit('Mark', [{ ...scene('a'), mark: 'moss' }]);
  store.told(told(4, [scene('a', 'Theirs'), scene('b')]));
  expect(store.document().get('a')).toMatchObject({ name: 'Theirs', mark: 'moss' });
  expect(store.document().has('b')).toBe(true);
  await settled();
  store.told(told(5, [{ ...scene('a', 'Theirs'), mark: 'moss' }], [], 'e1'));
  expect(store.undoName).toBe('Mark');
  store.undo();
  expect(store.document().get('a')).toMatchObject({ name: 'Theirs', mark: 'none' });
  store.redo();
  expect(store.document().get('a')).toMatchObject({ name: 'Theirs', mark: 'moss' });
  expect(store.notice).toBeNull();
});

test('a value that both changed is the later one’s, and whoever lost it is told', () => {
  const { store } = setUp();
  store.edit('Rename', [scene('a', 'Mine')]);
  store.told(told(4, [scene('a', 'Mine')], [], 'e1'));
  store.told(told(5, [scene('a', 'Theirs')]));
  expect(store.document().get('a')?.name).toBe('Theirs');
  expect(store.notice).toMatch(/“Theirs” was changed in another window too/);
  store.dismissNotice();
  store.told(told(6, [], ['a']));
  expect(store.notice).toMatch(/“Theirs” was removed in another window/);
});

test('what was told back changes nothing that is shown: the same document, the same records', async () => {
  const { store } = setUp();
  store.edit('Rename', [scene('a', 'Mine')]);
  await settled();
  const before = store.document();
  store.told(told(4, [structuredClone(scene('a', 'Mine'))], [], 'e1'));
  expect(store.document()).toBe(before);
});

test('a drag goes on over what another window does meanwhile', () => {
  const { store } = setUp();
  store.preview([{ ...scene('a'), mark: 'rose' }]);
  store.told(told(4, [scene('a', 'Theirs'), scene('b')]));
  expect(store.document().get('a')).toMatchObject({ name: 'Theirs', mark: 'rose' });
  expect(store.base().get('a')).toMatchObject({ name: 'Theirs', mark: 'none' });
  store.cancel();
  expect(store.document().get('a')).toMatchObject({ name: 'Theirs', mark: 'none' });
});

test('a window that was cut off loads what it missed, and keeps what it did', async () => {
  const calls: string[] = [];
  const { store } = setUp(async (edit) => {
    calls.push(edit.id);
    if (calls.length < 3) throw new TypeError('failed to fetch');
    return { revision: 10, gone: [] };
  });
  store.edit('Rename', [scene('a', 'Offline')]);
  store.heardOf(9);
  await settled();
  expect(store.document().get('a')?.name).toBe('Offline');
  expect(store.document().has('fresh')).toBe(true);
  expect(store.undoName).toBe('Rename');
  store.undo();
  expect(store.document().get('a')?.name).toBe('a');
});

test('what is told out of order waits for what comes first', async () => {
  const { store } = setUp(undefined, 11);
  store.told(told(5, [scene('c')], [], 'second'));
  expect(store.document().has('c')).toBe(false);
  store.told(told(4, [scene('b')], [], 'first'));
  expect([...store.document().keys()]).toEqual(['a', 'b', 'c']);
  // What was missed for good is loaded.
  store.told(told(11, [scene('d')]));
  await settled();
  expect(store.document().has('fresh')).toBe(true);
});

test('an edit that is refused is taken back alone, with its step', async () => {
  let calls = 0;
  const { store } = setUp(async () =>
    ++calls === 1 ? { refused: 'it does not fit' } : { revision: 4, gone: [] },
  );
  store.edit('Rename', [scene('a', 'A')]);
  store.edit('Add', [scene('b')]);
  await settled();
  expect([...store.document().values()].map((r) => r.name)).toEqual(['a', 'b']);
  expect(store.steps().names).toEqual(['Add']);
  expect(store.notice).toMatch(/could not be saved: it does not fit/);
});

test('what was removed elsewhere is said, when a change to it was left out', async () => {
  const { store } = setUp(async () => ({ revision: 4, gone: ['Talk'] }));
  store.edit('Rename', [scene('a', 'A')]);
  await settled();
  expect(store.notice).toMatch(/left out: Talk/);
});

test('an edit that does not fit changes nothing, and takes back what was only shown', async () => {
  const { store, saved } = setUp();
  store.preview([scene('a', 'shown')]);
  expect(() => store.edit('Dangling', [sampleLayer('l', 'gone', 0)])).toThrow(/points at gone/);
  expect(store.document().get('a')?.name).toBe('a');
  expect(store.undoName).toBeNull();
  await settled();
  expect(saved).toEqual([]);
});

test('the list of steps can be jumped in, and each step is saved', async () => {
  const { store, saved } = setUp();
  for (const name of ['A', 'B', 'C']) store.edit(`Rename ${name}`, [scene('a', name)]);
  store.jump(1);
  expect(store.document().get('a')?.name).toBe('A');
  expect(store.steps()).toEqual({ names: ['Rename A', 'Rename B', 'Rename C'], done: 1 });
  await settled();
  expect(saved).toHaveLength(5);
});

test('an edit of nothing is no step', () => {
  const { store } = setUp();
  store.edit('Nothing', []);
  expect(store.undoName).toBeNull();
});
