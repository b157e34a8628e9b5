/** Kits: parts as one open file, to be brought into any show and taken out again. */
import { Fault } from '../fault';
import type { ArchivedFile } from '../show/archive';
import { applyEdit, documentOf, recordsOf, type ShowDocument } from '../show/document';
import type { AnyRecord, RecordKind } from '../show/records';
import type { TakenKit } from '../show/record-base';
import { sorted } from './take-over';
import { PART_KINDS, type Parts } from './parts';

export const KIT_FORMAT = 'dolomite-kit';
/** A newer one may hold what this program would lose. */
export const KIT_VERSION = 1;

/** What a kit says of itself; `kit.json` in its ZIP, schema docs/schemas/kit.schema.json. */
export interface Kit extends Parts {
  format: typeof KIT_FORMAT;
  version: number;
  name: string;
  /** In a few words, by whoever made it: what it is for, whose it is, what may be done with it. */
  about: string;
  /** ISO 8601, UTC. */
  madeAt: string;
  palette: PaletteColour[];
  files: ArchivedFile[];
}

/** A colour of a kit by what it does; wherever it stands it can be exchanged for another. */
export interface PaletteColour {
  role: string;
  /** `#RRGGBB`, upper case. */
  colour: string;
}

/** Kinds that may lie in a kit; destinations, plans and shows are nobody else's. */
const KIT_KINDS: ReadonlySet<RecordKind> = new Set([...PART_KINDS, 'input', 'layer', 'pose']);

const COLOUR = /^#[0-9A-Fa-f]{6}/;
const ROLES = ['Ground', 'Words', 'Accent', 'Second accent', 'Third accent', 'Fourth accent'] as const;

/** Every colour that stands in the records, with how often. Upper case, without transparency. */
function coloursOf(records: readonly AnyRecord[]): Map<string, number> {
  const found = new Map<string, number>();
  const look = (value: unknown, key = ''): void => {
    if (typeof value === 'string') {
      if (COLOUR.test(value) && /colour|color|ground|from|to|ink|accent|background/i.test(key)) {
        const colour = value.slice(0, 7).toUpperCase();
        found.set(colour, (found.get(colour) ?? 0) + 1);
      }
    } else if (Array.isArray(value)) value.forEach((one) => look(one, key));
    else if (typeof value === 'object' && value !== null)
      for (const [inner, of] of Object.entries(value)) look(of, inner);
  };
  records.forEach((record) => look(record));
  return found;
}

/** Relative luminance of a colour, 0…1 (WCAG 2.2, "relative luminance"). */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const share = parseInt(colour.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** How well two colours can be told apart, 1…21 (WCAG 2.2, "contrast ratio"). */
export function contrastOf(one: string, other: string): number {
  const [dark, light] = [luminance(one), luminance(other)].sort((a, b) => a - b);
  return (light + 0.05) / (dark + 0.05);
}

/** The colours that make up these records, by what they seem to do: the darkest is the ground, the lightest the words. */
export function paletteOf(records: readonly AnyRecord[]): PaletteColour[] {
  const used = [...coloursOf(records)].sort((a, b) => b[1] - a[1]).slice(0, ROLES.length);
  const byLight = used.map(([colour]) => colour).sort((a, b) => luminance(a) - luminance(b));
  if (byLight.length < 2) return byLight.map((colour) => ({ role: ROLES[0], colour }));
  const [ground, words] = [byLight[0], byLight.at(-1)!];
  const accents = used.map(([colour]) => colour).filter((colour) => colour !== ground && colour !== words);
  return [ground, words, ...accents].map((colour, i) => ({ role: ROLES[i], colour }));
}

/** The same with colours exchanged; transparency stays as it was. @param exchange from upper-case `#RRGGBB` to another */
export function recoloured(
  records: readonly AnyRecord[],
  exchange: ReadonlyMap<string, string>,
): AnyRecord[] {
  const change = (value: unknown): unknown => {
    if (typeof value === 'string') {
      const to = COLOUR.test(value) ? exchange.get(value.slice(0, 7).toUpperCase()) : undefined;
      return to === undefined ? value : to + value.slice(7);
    }
    if (Array.isArray(value)) return value.map(change);
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(Object.entries(value).map(([key, of]) => [key, change(of)]));
  };
  return records.map((record) => change(record) as AnyRecord);
}

/** Of a record's contents: FNV-1a, 32 bits twice from two starts. Tells a change by hand, and guards against nothing else. */
export function sumOf(record: AnyRecord): string {
  const text = JSON.stringify(sorted(record));
  let [a, b] = [0x811c9dc5, 0x01000193];
  for (let i = 0; i < text.length; i++) {
    a = Math.imul(a ^ text.charCodeAt(i), 0x01000193) >>> 0;
    b = Math.imul(b ^ text.charCodeAt(i), 0x01000193) >>> 0;
  }
  return `${a.toString(16).padStart(8, '0')}${b.toString(16).padStart(8, '0')}`;
}

/** What a show remembers of a kit that came. @param put the records that came with it */
export function takenKit(id: string, name: string, put: readonly AnyRecord[]): TakenKit {
  const own = put.filter(({ kind }) => kind !== 'show');
  return { id, name, records: Object.fromEntries(own.map((record) => [record.id, sumOf(record)])) };
}

/**
 * Takes a kit out again: what came with it and is as it came, as long as nothing that stays needs it.
 * @returns the edit, and the names of what stays since it was changed or is used
 * @throws Fault `kit.missing`
 */
export function withoutKit(
  document: ShowDocument,
  kitId: string,
): { put: AnyRecord[]; removed: string[]; stays: string[] } {
  const [show] = recordsOf(document, 'show');
  const kit = show.kits.find(({ id }) => id === kitId);
  if (!kit) throw new Fault('kit.missing', 'This kit was taken out already.');
  const here = Object.keys(kit.records).filter((id) => document.has(id));
  const same = new Set(here.filter((id) => sumOf(document.get(id)!) === kit.records[id]));
  const inScenes = [...recordsOf(document, 'layer'), ...recordsOf(document, 'pose')];
  for (let before = -1; before !== same.size;) {
    before = same.size;
    // A scene one of whose layers was changed, or came from elsewhere, is somebody's own by now, with everything in it.
    for (const { id, sceneId } of inScenes) if (sceneId !== null && !same.has(id)) same.delete(sceneId);
    for (const { id, sceneId } of inScenes) if (sceneId !== null && !same.has(sceneId)) same.delete(id);
    // What stays may need more of it.
    const staying = [...document.values()].filter(({ id, kind }) => !same.has(id) && kind !== 'show');
    const text = JSON.stringify(staying);
    for (const id of same) if (text.includes(JSON.stringify(id))) same.delete(id);
  }
  const put = [{ ...show, kits: show.kits.filter(({ id }) => id !== kitId) }];
  const removed = [...same];
  // As everything else that is edited, it must leave a whole show behind.
  applyEdit(documentOf(document.values()), { id: 'kit', name: '', put, removed });
  const stays = here
    .filter((id) => !same.has(id))
    .flatMap((id) => {
      const record = document.get(id)!;
      return record.kind === 'layer' || record.kind === 'pose' ? [] : [record.name];
    });
  return { put, removed, stays };
}

/**
 * What a kit says of itself, as far as it can be told without its records being looked at.
 * @throws Fault `kit.*` with what to do
 */
export function readKitHead(parsed: unknown): Omit<Kit, 'records'> & { records: unknown[] } {
  const kit = parsed as Partial<Kit> | null;
  if (typeof kit !== 'object' || kit === null || kit.format !== KIT_FORMAT)
    throw new Fault('kit.kind', 'This file is no kit of Dolomite: choose one that was made with Make a kit.');
  if (!Number.isInteger(kit.version) || kit.version! < 1)
    throw new Fault('kit.damaged', 'This kit does not say which version it is: it is damaged.');
  if (kit.version! > KIT_VERSION)
    throw new Fault('kit.newer', 'This kit was made for a newer Dolomite: update this one to bring it in.');
  const damaged = (what: string) => new Fault('kit.damaged', `This kit is damaged: ${what} cannot be read.`);
  if (!isText(kit.name, 120) || !isText(kit.about, 2000, true)) throw damaged('its name');
  if (!Array.isArray(kit.records)) throw damaged('its contents');
  if (kit.records.some((record) => !KIT_KINDS.has((record as AnyRecord | null)?.kind as RecordKind)))
    throw new Fault(
      'kit.kind',
      'This kit holds what no kit may hold, such as destinations: it is not brought in.',
    );
  const isSize = (of: unknown) => {
    const size = of as { width?: unknown; height?: unknown } | null;
    return [size?.width, size?.height].every(
      (n) => Number.isInteger(n) && (n as number) >= 16 && (n as number) <= 7680,
    );
  };
  if (!isSize(kit.frames?.wide) || !isSize(kit.frames?.tall)) throw damaged('the size of its frames');
  const fields = Object.entries(kit.fields ?? {});
  if (
    fields.length > 200 ||
    !fields.every(([key, value]) => /^[\w-]{1,40}$/.test(key) && isText(value, 1000, true))
  )
    throw damaged('its fields');
  const palette = kit.palette;
  if (
    !Array.isArray(palette) ||
    palette.length > 20 ||
    !palette.every((one) => isText(one?.role, 40) && /^#[0-9A-F]{6}$/.test(String(one?.colour)))
  )
    throw damaged('its palette');
  if (!Array.isArray(kit.files)) throw damaged('its list of files');
  return kit as Kit;
}

const isText = (text: unknown, most: number, orEmpty = false): boolean =>
  typeof text === 'string' && text.length <= most && (orEmpty || text.trim() !== '');
