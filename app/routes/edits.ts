import { editSchema } from '~/protocol/record-schemas';
import { faultResponse, openShowOf } from '../server/context.server';
import type { Route } from './+types/edits';

/** The show as it stands, for a page that missed what was told. */
export function loader({ params, context }: Route.LoaderArgs) {
  const { revision, document } = openShowOf(context, params.showId);
  return Response.json({ revision, records: [...document.values()] });
}

/**
 * Saves one edit, in its place after all that came before; every page is told over the bus what it came to. Keys of what is
 * removed stay until nobody can undo it.
 */
export async function action({ request, params, context }: Route.ActionArgs) {
  const show = openShowOf(context, params.showId);
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    return Response.json({ code: 'edit.json', message: 'the edit could not be read' }, { status: 400 });
  }
  const { error, value } = editSchema.validate(body, { convert: false });
  if (error) return Response.json({ code: 'edit.invalid', message: error.message }, { status: 400 });
  const { seen, ...edit } = value;
  try {
    return Response.json(show.edit(edit, seen));
  } catch (fault) {
    return faultResponse(fault);
  }
}
