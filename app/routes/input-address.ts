import Joi from 'joi';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/input-address';

const id = Joi.string().max(64).required();
const schema = Joi.object<{ intent: 'set' | 'copy' | 'renew'; inputId: string; address: string }>({
  intent: Joi.string().valid('set', 'copy', 'renew').required(),
  inputId: id,
  address: Joi.string().allow('').max(4000).default(''),
});

/** What is known of an input's address; never the address itself. */
export function loader({ request, context }: Route.LoaderArgs) {
  const { error, value } = id.validate(new URL(request.url).searchParams.get('inputId'));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  return Response.json(studioOf(context).inputs.facts(value as string));
}

/** The address of a page or a fetched feed goes in here; where a feed is to be sent is given out to be copied. */
export async function action({ request, context }: Route.ActionArgs) {
  const { inputs, access } = studioOf(context);
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    if (value.intent === 'set') {
      inputs.setAddress(value.inputId, value.address);
      access.audit(context.visitor, 'secretSet', 'address of an input');
      return Response.json(inputs.facts(value.inputId));
    }
    const { hostname } = new URL(request.url);
    return Response.json({
      address: inputs.publishAddress(value.inputId, hostname, value.intent === 'renew'),
    });
  } catch (fault) {
    return faultResponse(fault);
  }
}
