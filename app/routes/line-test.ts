import { randomUUID } from 'node:crypto';
import Joi from 'joi';
import { recordsOf } from '~/core/show/document';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/line-test';

const schema = Joi.object<{ destinationId: string; url: string; seconds: number }>({
  destinationId: Joi.string().max(64).required(),
  url: Joi.string().max(500).required(),
  seconds: Joi.number().min(2).max(15).default(5),
});

/** Measures the way to one server of a destination, and keeps the result. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    const destination = recordsOf(studio.shows.document(params.showId), 'destination').find(
      (d) => d.id === value.destinationId,
    );
    // Only addresses of the show: this is no way to send data anywhere else.
    const known =
      destination && [...destination.servers.map((s) => s.url), destination.url].includes(value.url);
    if (!known)
      return Response.json({ message: 'this server does not belong to a destination' }, { status: 400 });
    const { result } = await studio.relay.testLine({ url: value.url, seconds: value.seconds });
    const server = destination.servers.find((s) => s.url === value.url)?.name ?? new URL(value.url).host;
    const test = { id: randomUUID(), destinationId: destination.id, server, atMs: Date.now(), ...result };
    studio.lineTests.add(params.showId, test);
    return Response.json({ test });
  } catch (fault) {
    return faultResponse(fault);
  }
}
