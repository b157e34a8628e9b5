import { studioOf } from '../server/context.server';
import type { Route } from './+types/fonts';

/** Font files that were brought in, by name. */
export function loader({ context }: Route.LoaderArgs) {
  const fonts = studioOf(context)
    .assets.list()
    .filter(({ mime, removedMs }) => mime.startsWith('font/') && removedMs === null)
    .map(({ id, name }) => ({ assetId: id, name }))
    .sort((a, b) => a.name.localeCompare(b.name));
  return Response.json({ fonts });
}
