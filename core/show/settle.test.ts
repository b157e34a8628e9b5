import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changesApplied, documentOf, type Edit, type ShowDocument } from './document';
import type { AnyRecord, LayerRecord } from './records';
import { sampleLayer, sampleScene, sampleShow } from './sample-show';
import { changedPaths, overlap, settle, type ToldChange } from './settle';

const text = (id: string, sceneId = 'one') => sampleLayer(id, sceneId, 0);

const start = documentOf([sampleShow, sampleScene('one'), sampleScene('two'), text('a'), text('b')]);
const edit = (put: AnyRecord[], removed: string[] = [], id = 'e'): Edit => ({ id, name: id, put, removed });
const layer = (document: ShowDocument, id: string) => document.get(id) as LayerRecord;

describe('settle', () => {
  it('keeps what another window changed meanwhile, down to one value of a record', () => {
    const seen = layer(start, 'a');
    const elsewhere = settle(start, edit([{ ...seen, name: 'Title' }]), [seen]).document;
    const { document, change } = settle(elsewhere, edit([{ ...seen, visible: false }]), [seen]);
    expect(layer(document, 'a')).toMatchObject({ name: 'Title', visible: false });
    expect(change.put).toEqual([layer(document, 'a')]);
  });

  it('gives a value that both changed to the later one', () => {
    const seen = layer(start, 'a');
    const elsewhere = settle(start, edit([{ ...seen, name: 'First' }]), [seen]).document;
    expect(layer(settle(elsewhere, edit([{ ...seen, name: 'Second' }]), [seen]).document, 'a').name).toBe(
      'Second',
    );
  });

  it('leaves out what was removed meanwhile, and says so', () => {
    const seen = layer(start, 'a');
    const elsewhere = settle(start, edit([], ['a']), []).document;
    const settled = settle(elsewhere, edit([{ ...seen, visible: false }]), [seen]);
    expect(settled.document.has('a')).toBe(false);
    expect(settled.gone).toEqual([seen.name]);
    expect(settled.change).toEqual({ put: [], removed: [] });
  });

  it('tells everything that went with what was removed', () => {
    const { change } = settle(start, edit([], ['one']), []);
    expect(new Set(change.removed)).toEqual(new Set(['one', 'a', 'b']));
  });

  it('refuses a new layer whose scene was removed meanwhile', () => {
    const elsewhere = settle(start, edit([], ['one']), []).document;
    expect(() => settle(elsewhere, edit([text('c')]), [])).toThrow(/does not exist/);
  });

  it('is brought back by its inverse', () => {
    const seen = layer(start, 'a');
    const { document, inverse } = settle(start, edit([{ ...seen, name: 'Other' }], ['b']), [seen]);
    expect(new Map(settle(document, inverse, [layer(document, 'a')]).document)).toEqual(new Map(start));
  });
});

describe('several windows', () => {
  interface Window {
    confirmed: ShowDocument;
    queue: { edit: Edit; seen: AnyRecord[] }[];
  }
  const shown = (window: Window): ShowDocument =>
    window.queue.reduce(
      (document, { edit, seen }) => settle(document, edit, seen).document,
      window.confirmed,
    );

  /** Five windows edit, are cut off, and are told late; what they show in the end is the same. */
  it('end equal, in whatever order their edits arrive and are told', () => {
    const act = fc.record({
      window: fc.nat(4),
      what: fc.constantFrom(
        'name',
        'visible',
        'locked',
        'add',
        'remove',
        'send',
        'hear',
        'lose',
      ) as fc.Arbitrary<'name' | 'visible' | 'locked' | 'add' | 'remove' | 'send' | 'hear' | 'lose'>,
      which: fc.nat(20),
    });
    fc.assert(
      fc.property(fc.array(act, { minLength: 20, maxLength: 120 }), (acts) => {
        let server: ShowDocument = start;
        const told: ToldChange[] = [];
        const applied = new Set<string>();
        const windows: Window[] = Array.from({ length: 5 }, () => ({ confirmed: start, queue: [] }));
        const heard = [0, 0, 0, 0, 0];
        let ids = 0;
        const hear = (w: number) => {
          const change = told[heard[w]];
          if (!change) return false;
          heard[w] += 1;
          const window = windows[w];
          window.confirmed = changesApplied(window.confirmed, change.put, change.removed);
          if (window.queue[0]?.edit.id === change.id) window.queue.shift();
          return true;
        };
        /** @param lost the server takes it, and the window does not hear the answer: it sends it once more later */
        const send = (w: number, lost = false) => {
          const first = windows[w].queue[0];
          if (!first) return false;
          if (!applied.has(first.edit.id)) {
            const settled = settle(server, first.edit, first.seen);
            server = settled.document;
            applied.add(first.edit.id);
            told.push({ ...settled.change, revision: told.length + 1, id: first.edit.id, name: '' });
          }
          if (!lost) while (windows[w].queue[0] === first) hear(w);
          return true;
        };
        const change = (w: number, put: AnyRecord[], seen: AnyRecord[], removed: string[] = []) =>
          windows[w].queue.push({ edit: edit(put, removed, `edit-${ids++}`), seen });
        for (const { window: w, what, which } of acts) {
          const document = shown(windows[w]);
          const layers = [...document.values()].filter((r) => r.kind === 'layer');
          const one = layers[which % Math.max(1, layers.length)] as LayerRecord | undefined;
          if (what === 'send' || what === 'lose') send(w, what === 'lose');
          else if (what === 'hear') hear(w);
          else if (what === 'add') change(w, [text(`new-${ids}`, which % 2 ? 'one' : 'two')], []);
          else if (one && what === 'remove') change(w, [], [], [one.id]);
          else if (one && what === 'name') change(w, [{ ...one, name: `n${which}-${w}` }], [one]);
          else if (one && what === 'visible') change(w, [{ ...one, visible: !one.visible }], [one]);
          else if (one && what === 'locked') change(w, [{ ...one, locked: !one.locked }], [one]);
        }
        for (let w = 0; w < 5; w++) while (send(w));
        for (let w = 0; w < 5; w++) while (hear(w));
        for (const window of windows) {
          expect(window.queue).toEqual([]);
          expect(new Map(shown(window))).toEqual(new Map(server));
        }
      }),
      { numRuns: 200 },
    );
  });
});

describe('changedPaths', () => {
  it('names single values, and lists as a whole', () => {
    const before = { name: 'a', style: { size: 1, colour: 'x' }, list: [1, 2] };
    const after = { name: 'a', style: { size: 2, colour: 'x' }, list: [1, 3], more: true };
    expect(changedPaths(before, after)).toEqual(['style.size', 'list', 'more']);
    expect(changedPaths(before, before)).toEqual([]);
  });

  it('finds that one lies within the other', () => {
    expect(overlap(['style.size'], ['style'])).toBe(true);
    expect(overlap(['style'], ['style.size'])).toBe(true);
    expect(overlap(['style.size'], ['style.sizePx'])).toBe(false);
  });
});
