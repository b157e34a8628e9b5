import { enabledDestinations } from '~/core/delivery/live-plan';
import { recordsOf } from '~/core/show/document';
import { subjects } from '~/server/db/secret-subjects';
import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/preflight-facts';

/** What only the server knows for the checklist: room on the disk, ages of keys, line tests. */
export function loader({ params, context }: Route.LoaderArgs) {
  const studio = studioOf(context);
  try {
    const document = studio.shows.document(params.showId);
    const { place } = studio.recordings;
    const enabled = enabledDestinations(document);
    // Compared here, where keys may be seen.
    const sameKeyAs = (id: string) => {
      const secret = studio.secrets.get(subjects.streamKey(id));
      return (
        enabled.find((d) => d.id !== id && studio.secrets.get(subjects.streamKey(d.id)) === secret)?.name ??
        null
      );
    };
    // The broadcast that is on now does not use a key up for itself.
    const evenings = studio.evenings.list(params.showId).filter((e) => e.endedMs !== null);
    return {
      freeBytes: place.freeBytes(),
      recordings: { chosen: place.chosen, home: place.home, problem: place.problem },
      serverEncodes: studio.serverEncodes,
      keys: recordsOf(document, 'destination').flatMap((d) => {
        const changedMs = studio.secrets.changedMs(subjects.streamKey(d.id));
        if (changedMs === null) return [];
        const used = evenings.some((e) => e.startedMs > changedMs && studio.evenings.reached(e.id, d.name));
        return [
          {
            destinationId: d.id,
            ageHours: (Date.now() - changedMs) / 3_600_000,
            used,
            sameKeyAs: sameKeyAs(d.id),
          },
        ];
      }),
      keysLost: recordsOf(document, 'destination')
        .map((d) => d.id)
        .filter((id) => studio.secrets.lost.has(subjects.streamKey(id))),
      lineTests: studio.lineTests.list(params.showId),
      accounts: recordsOf(document, 'destination').map((d) => ({
        destinationId: d.id,
        ...studio.accounts.state(d),
      })),
      announceTo: studio.announcer.target(params.showId),
    };
  } catch (error) {
    throw faultResponse(error);
  }
}

export type ServerFacts = ReturnType<typeof loader>;
