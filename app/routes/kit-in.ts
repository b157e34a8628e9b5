import { readKit } from '~/server/archive/kits';
import { faultResponse, openShowOf, studioOf } from '../server/context.server';
import { withBody } from '../server/take-file.server';
import type { Route } from './+types/kit-in';

/** Reads a kit, the raw body, so that its parts can be looked at and chosen; the show is not changed by it. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { document } = openShowOf(context, params.showId);
  try {
    return await withBody(request, studio.dataFolder, async (file) =>
      Response.json(await readKit(file, studio.assets, document, Date.now())),
    );
  } catch (fault) {
    return faultResponse(fault);
  }
}
