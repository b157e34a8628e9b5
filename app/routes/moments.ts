import Joi from 'joi';
import { LEAD_MS } from '~/core/programme/moment';
import { openShowOf, studioOf } from '../server/context.server';
import type { Route } from './+types/moments';

/** Milliseconds since 1970. */
const atSchema = Joi.number().integer().min(0).max(1e14).required();

/** What any moment of a broadcast is told from; with `?at=` what viewers wrote and did up to that moment. */
export function loader({ request, params, context }: Route.LoaderArgs) {
  const studio = studioOf(context);
  const evening = studio.evenings.find(params.eveningId);
  if (evening?.showId !== params.showId)
    throw Response.json({ message: 'There is no such broadcast.' }, { status: 404 });
  const asked = new URL(request.url).searchParams.get('at');
  if (asked !== null) {
    const at = atSchema.validate(asked);
    if (at.error) throw Response.json({ message: 'The moment is not a number.' }, { status: 400 });
    const atMs = at.value as number;
    return Response.json({
      events: openShowOf(context, params.showId).audience.entries.until(atMs, atMs - LEAD_MS),
    });
  }
  const told = studio.evenings.told(evening);
  if (!told)
    throw Response.json(
      { message: 'This broadcast is of a version that did not keep its moments.' },
      { status: 404 },
    );
  return Response.json(told);
}
