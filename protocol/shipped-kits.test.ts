import { expect, test } from 'vitest';
import { SHIPPED_KITS } from '../core/kits/kits';
import { readKitHead } from '../core/parts/kit';
import { listParts, fieldsUsed } from '../core/parts/parts';
import { documentWith, takenOver } from '../core/parts/take-over';
import { applyEdit, documentOf, recordsOf } from '../core/show/document';
import { firstShow } from '../core/show/new-show';
import { ALERT_FIELDS } from '../core/audience/alert-rules';
import { checkRecords } from './record-schemas';

let ids = 0;
const newId = () => `new-${++ids}`;

test.each(SHIPPED_KITS.map(({ id, make }) => [id, make] as const))(
  '%s is a kit as others are, comes whole into a show, and brings every word it needs',
  (_, make) => {
    const kit = make();
    expect(readKitHead(JSON.parse(JSON.stringify(kit)))).toEqual(kit);
    checkRecords(kit.records);
    const target = documentOf(firstShow('t', 'Night school', 'ida', newId));
    const all = listParts(documentWith(kit, target)).map(({ id }) => id);
    expect(all.length).toBeGreaterThan(6);
    const { put } = takenOver(kit, all, target, {}, newId);
    checkRecords(put);
    const { document } = applyEdit(target, { id: 'k', name: 'Bring in', put, removed: [] });
    expect(recordsOf(document, 'scene').length).toBe(recordsOf(target, 'scene').length + 4);
    const known = new Set([...Object.keys(recordsOf(document, 'show')[0].fields), ...ALERT_FIELDS]);
    expect([...fieldsUsed(kit.records)].filter((name) => !known.has(name))).toEqual([]);
    // Everything stands inside its frames, or reaches over an edge on purpose: words and panels never do.
    const { frames } = kit;
    for (const record of kit.records) {
      if (record.kind !== 'layer' || record.content.type === 'shape' || record.content.type === 'input')
        continue;
      for (const frame of ['wide', 'tall'] as const) {
        const place = record.placements[frame];
        if (!place) continue;
        expect([
          record.name,
          frame,
          place.cx - place.width / 2 >= 0,
          place.cx + place.width / 2 <= frames[frame].width,
        ]).toEqual([record.name, frame, true, true]);
      }
    }
  },
);
