import Joi from 'joi';
import { isFault, messageOf } from '~/core/fault';
import { lighterCopy, videoFacts } from '~/server/vault/lighter-copy';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/lighter-copy';

const id = Joi.string().hex().max(64).required();
const side = Joi.number().integer().multiple(2).min(2).max(8192).required();
const schema = Joi.object<{ assetId: string; width: number; height: number; fps: number }>({
  assetId: id,
  width: side,
  height: side,
  fps: Joi.number().min(1).max(120).required(),
});

/** What is in a video file. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const { assets } = studioOf(context);
  const { error, value } = id.validate(new URL(request.url).searchParams.get('assetId'));
  if (error || !assets.find(value as string))
    return Response.json({ message: 'this file is gone' }, { status: 404 });
  try {
    return Response.json(await videoFacts(assets.pathOf(value as string)));
  } catch (fault) {
    return faultResponse(fault);
  }
}

/** Makes a lighter copy: a line of JSON whenever it is further, the last with the new file. Ends when the page goes. */
export async function action({ request, context }: Route.ActionArgs) {
  const { assets } = studioOf(context);
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  const { assetId, ...target } = value;
  const steps = lighterCopy(assets, assetId, target, request.signal);
  const line = (what: object) => new TextEncoder().encode(`${JSON.stringify(what)}\n`);
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      try {
        const { done, value: step } = await steps.next();
        if (done) controller.close();
        else controller.enqueue(line(step));
      } catch (fault) {
        if (!request.signal.aborted)
          controller.enqueue(line({ message: isFault(fault) ? fault.message : messageOf(fault) }));
        controller.close();
      }
    },
    async cancel() {
      await steps.return(undefined);
    },
  });
  return new Response(body, {
    headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' },
  });
}
