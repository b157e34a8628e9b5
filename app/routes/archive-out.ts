import { Readable } from 'node:stream';
import Joi from 'joi';
import { writeArchive } from '~/server/archive/write-archive';
import { attachment } from '../server/attachment.server';
import { faultResponse, openShowOf, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/archive-out';

const schema = Joi.object<{ passphrase: string }>({
  // Empty: keys stay here.
  passphrase: Joi.string().allow('').max(200).default(''),
});

/** A whole show as one file. It is a form, so that a passphrase stands in no address. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const show = openShowOf(context, params.showId);
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    const keys = value.passphrase === '' ? null : { secrets: studio.secrets, passphrase: value.passphrase };
    const zip = writeArchive(show.document, studio.assets, keys, studio.pictures.find(show.id), Date.now());
    studio.access.audit(context.visitor, 'exported', `${show.name}${keys ? ', with keys' : ''}`);
    return new Response(Readable.toWeb(zip) as ReadableStream, {
      headers: attachment(show.name, '.dolomite.zip'),
    });
  } catch (fault) {
    return faultResponse(fault);
  }
}
