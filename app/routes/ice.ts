import Joi from 'joi';
import { faultResponse, studioOf } from '../server/context.server';
import type { Route } from './+types/ice';

type Order = { what: 'set'; stun: string; turn: string; user: string; secret: string } | { what: 'servers' };

const text = Joi.string().allow('').max(2000).required();
const schema = Joi.alternatives<Order>(
  Joi.object({
    what: Joi.string().valid('set').required(),
    ...{ stun: text, turn: text },
    ...{
      user: Joi.string().allow('').max(200).required(),
      secret: Joi.string().allow('').max(500).required(),
    },
  }),
  Joi.object({ what: Joi.string().valid('servers').required() }),
);

/** Sets the servers by which guests find the desk, or gives them out for a test, with what a guest would get. */
export async function action({ request, context }: Route.ActionArgs) {
  const { error, value } = schema.validate(await request.json().catch(() => null), { convert: false });
  if (error) return Response.json({ code: 'ice.order', message: error.message }, { status: 400 });
  const { ice, access } = studioOf(context);
  try {
    if (value.what === 'servers') return Response.json({ servers: ice.servers() });
    ice.set(value);
    if (value.secret !== '') access.audit(context.visitor, 'secretSet', 'relay for guests');
    return Response.json({ facts: ice.facts() });
  } catch (fault) {
    return faultResponse(fault);
  }
}
