import Joi from 'joi';
import { findRecord, recordsOf } from '~/core/show/document';
import { faultResponse, openShowOf, studioOf } from '../server/context.server';
import type { Route } from './+types/outward';

/** Where requests may go, and which of them have a secret. */
export function loader({ params, context }: Route.LoaderArgs) {
  const { outward } = studioOf(context);
  const requests = recordsOf(openShowOf(context, params.showId).document, 'request');
  return Response.json({
    allowed: outward.allowed(),
    secrets: requests.filter(({ id }) => outward.hasSecret(id)).map(({ id }) => id),
  });
}

type Order =
  | { what: 'allow'; host: string; inside: boolean }
  | { what: 'forget'; host: string }
  | { what: 'secret' | 'send'; requestId: string };

const requestId = Joi.string()
  .pattern(/^[\w-]{1,64}$/)
  .required();
const schema = Joi.alternatives<Order>(
  Joi.object({
    what: Joi.string().valid('allow').required(),
    host: Joi.string().trim().max(300).required(),
    inside: Joi.boolean().required(),
  }),
  Joi.object({ what: Joi.string().valid('forget').required(), host: Joi.string().max(300).required() }),
  Joi.object({ what: Joi.string().valid('secret', 'send').required(), requestId }),
);

export async function action({ request, params, context }: Route.ActionArgs) {
  const { error, value } = schema.validate(await request.json().catch(() => null), { convert: false });
  if (error) return Response.json({ code: 'outward.order', message: error.message }, { status: 400 });
  const { outward, access } = studioOf(context);
  const { document } = openShowOf(context, params.showId);
  try {
    if (value.what === 'allow') {
      const allowed = await outward.allow(value.host, value.inside);
      access.audit(context.visitor, 'hostAllowed', value.host);
      return Response.json({ allowed });
    }
    if (value.what === 'forget') return Response.json({ allowed: outward.forget(value.host) });
    const record = findRecord(document, 'request', value.requestId);
    if (!record)
      return Response.json(
        { code: 'outward.missing', message: 'This request is not in the show any more.' },
        { status: 404 },
      );
    if (value.what === 'secret') {
      access.audit(context.visitor, 'secretSet', `secret of the request ${record.name}`);
      return Response.json({ secret: outward.newSecret(record.id) });
    }
    const problem = await outward.send(record, recordsOf(document, 'show')[0].fields);
    return problem === null
      ? Response.json({ done: true })
      : Response.json({ code: 'outward.failed', message: problem }, { status: 502 });
  } catch (fault) {
    return faultResponse(fault);
  }
}
