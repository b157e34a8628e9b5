import { studioOf } from '../server/context.server';
import type { Route } from './+types/health';

/** How the desk and the relay are doing, for monitoring: JSON, no secrets. */
export function loader({ params, context }: Route.LoaderArgs) {
  const studio = studioOf(context);
  return Response.json({
    desk: studio.open.find(params.showId)?.bus.health ?? null,
    relay: studio.broadcast.showId === params.showId ? studio.broadcast.status : null,
    broadcast: studio.broadcast.stateFor(params.showId).state,
  });
}
