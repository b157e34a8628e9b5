import { studioOf } from '../server/context.server';
import type { Route } from './+types/cameras';

/** Where a frame can be offered as a camera of the system the server runs on. */
export async function loader({ context }: Route.LoaderArgs) {
  return Response.json({ places: await studioOf(context).cameras() });
}
