import { Readable } from 'node:stream';
import Joi from 'joi';
import { writeKit } from '~/server/archive/kits';
import { attachment } from '../server/attachment.server';
import { faultResponse, openShowOf, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/kit-out';

const schema = Joi.object<{ name: string; about: string; ids: string }>({
  name: Joi.string().trim().min(1).max(120).required(),
  about: Joi.string().trim().allow('').max(2000).default(''),
  // Of the chosen records, with commas between them.
  ids: Joi.string().max(40_000).required(),
});

/** Chosen parts of a show as a kit, one file. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const show = openShowOf(context, params.showId);
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    const zip = writeKit(show.document, value.ids.split(','), value, studio.assets, Date.now());
    studio.access.audit(context.visitor, 'exported', `kit ${value.name}`);
    return new Response(Readable.toWeb(zip) as ReadableStream, {
      headers: attachment(value.name, '.kit.zip'),
    });
  } catch (fault) {
    return faultResponse(fault);
  }
}
