import { Fault } from '~/core/fault';
import { partsOf } from '~/core/parts/parts';
import { documentOf, recordsOf } from '~/core/show/document';
import type { AnyRecord } from '~/core/show/records';
import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/parts';

const NEVER = new Set(['show', 'destination', 'plan']);

/**
 * Where parts can be taken from: other shows, and backups that have this one. With `of`, everything of a show that can be
 * taken; with `backup`, of this show as it was.
 */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const { shows, backups } = studioOf(context);
  const { showId } = params;
  const others = shows.list().filter(({ id, removedMs }) => removedMs === null && id !== showId);
  const query = new URL(request.url).searchParams;
  const [of, backup] = [query.get('of'), query.get('backup')];
  try {
    if (backup !== null) return answer(await backups.showAsItWas(backup, showId));
    if (of !== null) {
      if (!others.some(({ id }) => id === of))
        throw new Fault('show.missing', 'This show is not there any more: choose another.');
      return answer(shows.load(of).records);
    }
    const made = (await backups.list()).filter((one) => one.shows.some(({ id }) => id === showId));
    return Response.json({
      shows: others.map(({ id, name }) => ({ id, name })),
      backups: made.map(({ name, madeMs }) => ({ name, madeMs })),
    });
  } catch (fault) {
    return faultResponse(fault);
  }
}

function answer(records: readonly AnyRecord[]): Response {
  const document = documentOf(records);
  const ids = records.filter(({ kind }) => !NEVER.has(kind)).map(({ id }) => id);
  return Response.json({ name: recordsOf(document, 'show')[0].name, parts: partsOf(document, ids) });
}
