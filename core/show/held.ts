/** A scene that is edited unseen: viewers keep seeing the records it had when that began. */
import { findRecord, type ShowDocument } from './document';
import { ownLayers } from './layers';
import { posesOf } from './poses';
import type { AnyRecord } from './records';

export type HeldRecords = ReadonlyMap<string, AnyRecord>;

/** What a scene's picture is made of: itself, its layers and poses, and the layers that stand above every scene. */
export function recordsOfPicture(document: ShowDocument, sceneId: string): HeldRecords {
  const scene = findRecord(document, 'scene', sceneId);
  const all: AnyRecord[] = [
    ...(scene ? [scene] : []),
    ...ownLayers(document, sceneId),
    ...ownLayers(document, null),
    ...posesOf(document, sceneId),
  ];
  return new Map(all.map((record) => [record.id, record]));
}

/**
 * The show with these scenes as they were held; everything else, such as inputs and fields, as it is now.
 * @param held by scene; a scene that was removed meanwhile is in it still
 */
export function withHeld(document: ShowDocument, held: ReadonlyMap<string, HeldRecords>): ShowDocument {
  if (held.size === 0) return document;
  const next = new Map(document);
  for (const [sceneId, records] of held) {
    for (const id of recordsOfPicture(document, sceneId).keys()) if (!records.has(id)) next.delete(id);
    for (const [id, record] of records) next.set(id, record);
  }
  return next;
}
