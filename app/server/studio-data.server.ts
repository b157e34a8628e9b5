import { recordsOf } from '~/core/show/document';
import { subjects } from '~/server/db/secret-subjects';
import type { Studio } from '~/server/web/studio';

/** What the studio page begins with. @throws Fault `show.unknown` when there is no such show */
export function studioData(studio: Studio, showId: string) {
  const open = studio.open.get(showId);
  const { revision, document } = open;
  const records = [...document.values()];
  const stored = new Set(studio.secrets.subjects());
  return {
    revision,
    records,
    programme: open.programme,
    broadcast: studio.broadcast.stateFor(showId),
    canSpeak: studio.speech.available,
    destinationsWithKey: recordsOf(document, 'destination')
      .map((d) => d.id)
      .filter((id) => stored.has(subjects.streamKey(id))),
    canRehearse: studio.canRehearse,
  };
}

export type StudioData = ReturnType<typeof studioData>;
