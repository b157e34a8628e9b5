import { recordsOf, documentOf } from '~/core/show/document';
import { partsOf } from '~/core/parts/parts';
import { Fault } from '~/core/fault';
import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/parts';

const NEVER = new Set(['show', 'destination', 'plan']);

/** Shows that parts can be taken from; with `of`, everything of one that can be taken. */
export function loader({ request, params, context }: Route.LoaderArgs) {
  const { shows } = studioOf(context);
  const others = shows.list().filter(({ id, removedMs }) => removedMs === null && id !== params.showId);
  const of = new URL(request.url).searchParams.get('of');
  if (of === null) return Response.json({ shows: others.map(({ id, name }) => ({ id, name })) });
  try {
    if (!others.some(({ id }) => id === of))
      throw new Fault('show.missing', 'This show is not there any more: choose another.');
    const document = documentOf(shows.load(of).records);
    const ids = [...document.values()].filter(({ kind }) => !NEVER.has(kind)).map(({ id }) => id);
    return Response.json({ name: recordsOf(document, 'show')[0].name, parts: partsOf(document, ids) });
  } catch (fault) {
    return faultResponse(fault);
  }
}
