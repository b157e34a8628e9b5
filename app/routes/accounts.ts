import Joi from 'joi';
import { recordsOf } from '~/core/show/document';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/accounts';

const schema = Joi.object<{ intent: 'begin' | 'state' | 'signOut'; destinationId: string }>({
  intent: Joi.string().valid('begin', 'state', 'signOut').required(),
  destinationId: Joi.string().max(64).required(),
});

/** Signing in to the account of a platform: begin, ask how it goes, sign out. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    const destination = recordsOf(studio.shows.document(params.showId), 'destination').find(
      (d) => d.id === value.destinationId,
    );
    if (!destination) return Response.json({ message: 'this destination is gone' }, { status: 404 });
    if (value.intent === 'begin') await studio.accounts.begin(destination);
    else if (value.intent === 'signOut') studio.accounts.signOut(destination.id);
    return Response.json({ account: studio.accounts.state(destination) });
  } catch (fault) {
    return faultResponse(fault);
  }
}
