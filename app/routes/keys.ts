import Joi from 'joi';
import { Fault } from '~/core/fault';
import { findRecord } from '~/core/show/document';
import { subjects } from '~/server/db/secret-subjects';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/keys';

const schema = Joi.object<{ destinationId: string; key: string }>({
  destinationId: Joi.string().max(64).required(),
  key: Joi.string()
    .trim()
    .min(1)
    .max(400)
    .pattern(/^\S+$/)
    .required()
    .messages({ 'string.pattern.base': 'a stream key has no spaces in it' }),
});

/** Keys go in here and never come out again. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    const destination = findRecord(studio.shows.document(params.showId), 'destination', value.destinationId);
    if (!destination)
      throw new Fault('destination.missing', 'this destination is not in the show any more: add it again');
    studio.secrets.set(subjects.streamKey(destination.id), value.key, Date.now());
    studio.access.audit(context.visitor, 'secretSet', `stream key of ${destination.name}`);
    studio.tellRelay(params.showId, value.destinationId);
    return Response.json({ saved: true });
  } catch (fault) {
    return faultResponse(fault);
  }
}
