import { pastSegments, type PastSegment } from '~/core/delivery/evening';
import { openShowOf } from '../server/context.server';
import type { Route } from './+types/past';

/** As many as one compares with. */
const MOST = 12;

/** A broadcast that had a rundown: planned against actual. */
export interface PastBroadcast {
  id: string;
  startedMs: number;
  title: string;
  segments: PastSegment[];
}

/** Broadcasts that were walked by a rundown, the newest first. */
export function loader({ params, context }: Route.LoaderArgs) {
  const { id } = openShowOf(context, params.showId);
  const { evenings } = context.studio;
  const broadcasts: PastBroadcast[] = [];
  for (const { id: evening, startedMs, title } of evenings.list(id)) {
    const segments = pastSegments(evenings.moments(evening));
    if (segments.length > 0) broadcasts.push({ id: evening, startedMs, title, segments });
    if (broadcasts.length === MOST) break;
  }
  return Response.json({ broadcasts });
}
