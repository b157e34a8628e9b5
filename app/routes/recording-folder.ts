import Joi from 'joi';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/recording-folder';

const schema = Joi.object<{ folder: string }>({ folder: Joi.string().trim().allow('').max(1000).required() });

/** Where recordings go on this machine; empty for the studio's own folder. */
export async function action({ request, context }: Route.ActionArgs) {
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    studioOf(context).recordings.place.choose(value.folder === '' ? null : value.folder);
    return Response.json({ saved: true });
  } catch (fault) {
    return faultResponse(fault);
  }
}
