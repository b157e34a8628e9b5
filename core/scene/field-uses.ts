/** All words of a show in one place: what each says, and where it is used. */
import { ALERT_FIELDS } from '../audience/alert-rules';
import { audienceFieldNames } from '../audience/fields';
import { findRecord, recordsOf, type ShowDocument } from '../show/document';
import type { AnyRecord, RecordKind } from '../show/records';
import { missingFields } from './fields';

export interface ListedField {
  name: string;
  /** Null when no field has this name: it stands in the picture as it is written. */
  value: string | null;
  /** In words: scene and layer, alert, destination. */
  uses: string[];
}

/** Kinds whose texts are filled in. */
const FILLED: readonly RecordKind[] = ['layer', 'alertRule', 'destination'];

function namesIn(record: AnyRecord): Set<string> {
  const found = new Set<string>();
  const look = (value: unknown): void => {
    if (typeof value === 'string') for (const name of missingFields(value, {})) found.add(name);
    else if (Array.isArray(value)) value.forEach(look);
    else if (typeof value === 'object' && value !== null) Object.values(value).forEach(look);
  };
  look(record);
  return found;
}

function placeOf(document: ShowDocument, record: AnyRecord): string {
  if (record.kind !== 'layer') return record.name;
  const scene = record.sceneId === null ? null : findRecord(document, 'scene', record.sceneId);
  return scene ? `${scene.name}: ${record.name}` : record.name;
}

/** The show's fields and those that its texts name without there being one: these first, then the empty, then the rest. */
export function listFields(document: ShowDocument): ListedField[] {
  const [show] = recordsOf(document, 'show');
  const kept = new Set(audienceFieldNames(recordsOf(document, 'goal')));
  const ofAlerts = new Set<string>(ALERT_FIELDS);
  const uses = new Map<string, string[]>(Object.keys(show.fields).map((name) => [name, []]));
  for (const kind of FILLED)
    for (const record of recordsOf(document, kind))
      for (const name of namesIn(record)) {
        const own = Object.hasOwn(show.fields, name);
        if (!own && (kept.has(name) || (kind === 'alertRule' && ofAlerts.has(name)))) continue;
        uses.set(name, [...(uses.get(name) ?? []), placeOf(document, record)]);
      }
  const rank = ({ value, uses: { length } }: ListedField) =>
    value === null ? 0 : value === '' && length > 0 ? 1 : 2;
  return [...uses]
    .map(([name, where]) => ({
      name,
      value: Object.hasOwn(show.fields, name) ? show.fields[name] : null,
      uses: where,
    }))
    .sort((a, b) => rank(a) - rank(b));
}

/** Names of the fields that stand in any text layer of a show, each once. */
export function fieldsInTexts(document: ShowDocument): string[] {
  const texts = recordsOf(document, 'layer').flatMap(({ content }) =>
    content.type === 'text' ? content.text : [],
  );
  return missingFields(texts.join('\n'), {});
}
