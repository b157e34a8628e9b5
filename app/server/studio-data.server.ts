import { documentOf, recordsOf } from '~/core/show/document';
import { subjects } from '~/server/db/secret-subjects';
import type { Studio } from '~/server/web/studio';

/** What the studio page begins with. @throws Fault `show.unknown` when there is no such show */
export function studioData(studio: Studio, showId: string) {
  const { revision, records } = studio.shows.load(showId);
  const stored = new Set(studio.secrets.subjects());
  return {
    revision,
    records,
    onAir: studio.shows.onAirScene(showId),
    broadcast: studio.broadcast.state,
    canSpeak: studio.audience.speech.available,
    destinationsWithKey: recordsOf(documentOf(records), 'destination')
      .map((d) => d.id)
      .filter((id) => stored.has(subjects.streamKey(id))),
    platforms: studio.platforms.map(({ name, title, watchUrl, accountUrl }) => ({
      name,
      title,
      watchUrl,
      accountUrl,
    })),
  };
}

export type StudioData = ReturnType<typeof studioData>;
