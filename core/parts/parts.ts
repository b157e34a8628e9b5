/** Parts of a show that can be taken into another one by themselves: scenes with what they show, channels, alerts and so on. */
import { missingFields } from '../scene/fields';
import { findRecord, recordsOf, type ShowDocument } from '../show/document';
import type {
  AnyRecord,
  ChannelRecord,
  FrameName,
  PoseRecord,
  RecordKind,
  SceneRecord,
} from '../show/records';

/** What can be chosen; everything else comes with it or stays. */
export const PART_KINDS = [
  'scene',
  'channel',
  'alertRule',
  'goal',
  'effect',
  'chainPreset',
  'grade',
] as const;
export type PartKind = (typeof PART_KINDS)[number];

export type FrameSizes = Record<FrameName, { width: number; height: number }>;

export interface Parts {
  /** Whole among themselves: whatever one of them needs is there too. */
  records: AnyRecord[];
  /** The frames they were laid out for. */
  frames: FrameSizes;
  /** Words that their texts use, as they were. */
  fields: Record<string, string>;
}

/** What a record cannot do without. */
function needs(record: AnyRecord): string[] {
  const some = (...ids: (string | null | false)[]) => ids.filter((id): id is string => Boolean(id));
  switch (record.kind) {
    case 'input':
      return some(record.standInId, record.gradeId);
    case 'layer': {
      const { content } = record;
      return some(
        record.gradeId,
        content.type === 'input' && content.inputId,
        content.type === 'inset' && content.sceneId,
        content.type === 'widget' && content.widget.of === 'goal' && content.widget.goalId,
      );
    }
    case 'pose':
      return Object.values(record.layers).flatMap(({ gradeId }) => gradeId ?? []);
    case 'channel':
      return some(record.source.type === 'input' ? record.source.inputId : null);
    default:
      return [];
  }
}

/** Everything that must come when these do: layers and poses of scenes, inputs, grades, goals, scenes in scenes. */
function withNeeds(document: ShowDocument, ids: Iterable<string>): Set<string> {
  const found = new Set<string>();
  const open = [...ids];
  const ofScene = new Map<string, string[]>();
  for (const kind of ['layer', 'pose'] as const)
    for (const { id, sceneId } of recordsOf(document, kind))
      if (sceneId !== null) ofScene.set(sceneId, [...(ofScene.get(sceneId) ?? []), id]);
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const record = document.get(id);
    if (!record || found.has(id)) continue;
    found.add(id);
    open.push(...needs(record), ...(ofScene.get(id) ?? []));
  }
  return found;
}

const onlyOf = <T>(by: Record<string, T>, there: ReadonlySet<string>): Record<string, T> =>
  Object.fromEntries(Object.entries(by).filter(([id]) => there.has(id)));

/** Without what it only says about records that stay behind. */
function cut<R extends AnyRecord>(record: R, there: ReadonlySet<string>): AnyRecord {
  switch (record.kind) {
    case 'scene': {
      const { transitionAfter, standing } = record as SceneRecord;
      return {
        ...record,
        transitionAfter: onlyOf(transitionAfter, there),
        standing: onlyOf(standing, there),
      };
    }
    case 'pose': {
      const { layers, standing } = record as PoseRecord;
      return { ...record, layers: onlyOf(layers, there), standing: onlyOf(standing, there) } as AnyRecord;
    }
    case 'channel': {
      const channel = record as ChannelRecord;
      const sceneIds = channel.sceneIds.filter((id) => there.has(id));
      const pictureInputId =
        channel.pictureInputId !== null && there.has(channel.pictureInputId) ? channel.pictureInputId : null;
      const lost =
        (channel.heard === 'scenes' && sceneIds.length === 0) ||
        (channel.heard === 'with-picture' && pictureInputId === null);
      return {
        ...channel,
        sceneIds,
        pictureInputId,
        heard: lost ? 'always' : channel.heard,
        ducking: channel.ducking && there.has(channel.ducking.byChannelId) ? channel.ducking : null,
      };
    }
    default:
      return record;
  }
}

/** Names of fields that any text in these records uses. */
export function fieldsUsed(records: readonly AnyRecord[]): Set<string> {
  const found = new Set<string>();
  const look = (value: unknown): void => {
    if (typeof value === 'string') for (const name of missingFields(value, {})) found.add(name);
    else if (Array.isArray(value)) value.forEach(look);
    else if (typeof value === 'object' && value !== null) Object.values(value).forEach(look);
  };
  records.forEach(look);
  return found;
}

/** Chosen records of a show with whatever they need, ready to be taken elsewhere. @param ids of any records; unknown ones are left out */
export function partsOf(document: ShowDocument, ids: Iterable<string>): Parts {
  const [show] = recordsOf(document, 'show');
  const there = withNeeds(document, ids);
  const records = [...there].map((id) => cut(document.get(id)!, there));
  const used = fieldsUsed(records);
  const { wide, tall } = show.frames;
  return {
    records,
    frames: {
      wide: { width: wide.width, height: wide.height },
      tall: { width: tall.width, height: tall.height },
    },
    fields: Object.fromEntries(Object.entries(show.fields).filter(([name]) => used.has(name))),
  };
}

export interface ListedPart {
  id: string;
  kind: PartKind;
  name: string;
  /** Names of inputs that come with it. */
  inputs: string[];
}

/** What can be chosen of a show or a kit, in its own order, kind by kind. */
export function listParts(document: ShowDocument): ListedPart[] {
  return PART_KINDS.flatMap((kind) =>
    recordsOf(document, kind as RecordKind).map(({ id, name }) => ({
      ...{ id, kind, name },
      inputs: [...withNeeds(document, [id])].flatMap((needed) => {
        const input = findRecord(document, 'input', needed);
        return input ? [input.name] : [];
      }),
    })),
  );
}
