import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/show-picture';

/** What the show looks like now, as Home shows it: a JPEG as the raw body. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const { pictures, shows } = studioOf(context);
  if (!shows.has(params.showId)) return Response.json({ message: 'this show is gone' }, { status: 404 });
  try {
    await pictures.put(params.showId, new Uint8Array(await request.arrayBuffer()));
    return Response.json({ kept: true });
  } catch (fault) {
    return faultResponse(fault);
  }
}
