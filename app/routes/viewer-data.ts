import Joi from 'joi';
import { studioOf } from '../server/context.server';
import type { Route } from './+types/viewer-data';

const schema = Joi.object<{ platform: string; viewer: string }>({
  platform: Joi.string().max(200).required(),
  viewer: Joi.string().max(2000).required(),
});

/** Everything of one viewer as a file, one JSON object a line. */
export function loader({ request, context }: Route.LoaderArgs) {
  const { error, value } = schema.validate(Object.fromEntries(new URL(request.url).searchParams));
  if (error) throw Response.json({ message: error.message }, { status: 400 });
  const { viewerData, access } = studioOf(context);
  access.audit(context.visitor, 'exported', `everything of ${value.viewer} on ${value.platform}`);
  return new Response([...viewerData.lines(value.platform, value.viewer)].join(''), {
    headers: {
      'content-type': 'application/jsonl; charset=utf-8',
      'content-disposition': 'attachment; filename="viewer.jsonl"',
    },
  });
}
