import { editSchema } from '~/protocol/record-schemas';
import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/edits';

/** The show as it stands, for a page that has to start over after a conflict. */
export function loader({ params, context }: Route.LoaderArgs) {
  try {
    return Response.json(studioOf(context).shows.load(params.showId));
  } catch (fault) {
    return faultResponse(fault);
  }
}

/**
 * Saves one edit. 409 when something else changed the show meanwhile. Keys of what is removed stay until nobody can undo it.
 */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    return Response.json({ code: 'edit.json', message: 'the edit could not be read' }, { status: 400 });
  }
  const { error, value } = editSchema.validate(body, { convert: false });
  if (error) return Response.json({ code: 'edit.invalid', message: error.message }, { status: 400 });
  const { baseRevision, ...edit } = value;
  try {
    const revision = studio.shows.apply(params.showId, edit, baseRevision);
    studio.edited();
    const touched = [...edit.put.filter((r) => r.kind === 'destination').map((r) => r.id), ...edit.removed];
    for (const id of touched) await studio.broadcast.destinationChanged(params.showId, id);
    return Response.json({ revision });
  } catch (fault) {
    return faultResponse(fault);
  }
}
