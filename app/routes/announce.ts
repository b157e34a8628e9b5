import Joi from 'joi';
import { recordsOf } from '~/core/show/document';
import { announcementText } from '~/server/web/announcer';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/announce';

const schema = Joi.object<{ intent: 'set' | 'remove' | 'try'; url: string }>({
  intent: Joi.string().valid('set', 'remove', 'try').required(),
  url: Joi.string().trim().allow('').max(1000).default(''),
});

/** Where the beginning of a broadcast is told: stored, removed, tried. The secret is shown once. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    if (value.intent === 'set') {
      const secret = studio.announcer.set(params.showId, value.url);
      studio.access.audit(context.visitor, 'secretSet', 'where broadcasts are announced');
      return Response.json({ secret, target: studio.announcer.target(params.showId) });
    }
    if (value.intent === 'remove') {
      studio.announcer.remove(params.showId);
      return Response.json({ target: null });
    }
    const show = recordsOf(studio.shows.document(params.showId), 'show')[0];
    const facts = { show: show.name, title: 'A try', destinations: [] };
    await studio.announcer.announce(params.showId, {
      ...facts,
      text: announcementText(show.delivery.announce.text, facts),
    });
    return Response.json({ tried: true, target: studio.announcer.target(params.showId) });
  } catch (fault) {
    return faultResponse(fault);
  }
}
