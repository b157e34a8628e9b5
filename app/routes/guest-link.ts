import Joi from 'joi';
import { isSeat } from '~/core/guests/seats';
import { findRecord } from '~/core/show/document';
import { faultResponse, openShowOf, studioOf } from '../server/context.server';
import type { Route } from './+types/guest-link';

/** A link is good for an evening, and opens as often as people come back with it. */
const HOURS = 12;
const HOUR_MS = 3_600_000;

const schema = Joi.object<{ seatId: string | null }>({
  seatId: Joi.string()
    .pattern(/^[\w-]{1,64}$/)
    .allow(null)
    .required(),
});

/** Makes a link by which a guest comes in: for a seat, or for whoever comes. Answered with it, once. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const { error, value } = schema.validate(await request.json().catch(() => null), { convert: false });
  if (error) return Response.json({ code: 'guest.order', message: error.message }, { status: 400 });
  try {
    const { access, doors } = studioOf(context);
    const { document } = openShowOf(context, params.showId);
    const seat = findRecord(document, 'input', value.seatId);
    if (value.seatId !== null && !isSeat(seat))
      return Response.json(
        { code: 'guest.seat', message: 'This seat is not in the show any more.' },
        { status: 404 },
      );
    const { token } = access.makeLink(context.visitor, {
      ...{ role: 'guest', name: seat?.name ?? 'Guest', usesLeft: null },
      ...{ expiresMs: Date.now() + HOURS * HOUR_MS, seatId: value.seatId },
    });
    const { elsewhere, house, local } = doors.state();
    const here = local === null ? [] : [{ url: local, fingerprint: null }];
    return Response.json({
      token,
      addresses: [...(elsewhere?.addresses ?? []), ...house.addresses, ...here],
    });
  } catch (fault) {
    return faultResponse(fault);
  }
}
