import { studioOf } from '../server/context.server';
import type { Route } from './+types/health';

/** How the desk and the relay are doing, for monitoring: JSON, no secrets. */
export function loader({ context }: Route.LoaderArgs) {
  const studio = studioOf(context);
  return Response.json({
    desk: studio.bus.health,
    relay: studio.broadcast.status,
    broadcast: studio.broadcast.state.state,
  });
}
