import Joi from 'joi';
import { FRAME_NAMES, type FrameName } from '~/core/delivery/settings';
import { Fault } from '~/core/fault';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/broadcast';

const schemas = {
  keep: Joi.object<{ seconds: number; until: number; frames: string; title: string }>({
    seconds: Joi.number().min(1).max(900).required(),
    until: Joi.number().min(0).max(899).default(0),
    frames: Joi.string().valid('wide', 'tall', 'both').default('wide'),
    title: Joi.string().trim().allow('').max(120).default(''),
  }),
  cut: Joi.object<{ destinationId: string; seconds: number }>({
    destinationId: Joi.string().max(64).required(),
    seconds: Joi.number().positive().max(900).required(),
  }),
  mark: Joi.object<{ words: string }>({ words: Joi.string().trim().allow('').max(120).default('') }),
  cover: Joi.object<{ on: boolean }>({ on: Joi.boolean().required() }),
  pause: Joi.object<{ paused: boolean }>({ paused: Joi.boolean().required() }),
};

/** @throws Fault `form.invalid` */
function checked<T>(schema: Joi.ObjectSchema<T>, form: FormData): T {
  const { intent, ...fields } = Object.fromEntries(form);
  void intent;
  const { error, value } = schema.validate(fields);
  if (error) throw new Fault('form.invalid', error.message);
  return value;
}

/** intent=start | record | rehearse | lookBack | stop | finish (delayed destinations get the rest) | retry (one destination, after it refused) | keep | cut | mark | cover | pause | plan (what it says by now is sent) */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const form = await formOf(request);
  try {
    const intent = form.get('intent');
    studio.broadcast.mustBeOf(params.showId);
    switch (intent) {
      case 'start':
      case 'record':
      case 'rehearse':
      case 'lookBack':
        await studio.broadcast.start(
          params.showId,
          request.headers.get('origin') ?? new URL(request.url).origin,
          intent === 'start' ? 'live' : intent,
        );
        studio.access.audit(context.visitor, 'wentLive', intent === 'start' ? '' : intent);
        return Response.json({
          broadcast: studio.broadcast.stateFor(params.showId),
          problems: studio.broadcast.problems,
        });
      case 'stop':
      case 'finish':
        if (intent === 'finish') await studio.broadcast.finish();
        else await studio.broadcast.stop();
        studio.access.audit(context.visitor, 'stopped');
        return Response.json({ broadcast: studio.broadcast.stateFor(params.showId) });
      case 'retry':
        await studio.broadcast.destinationChanged(params.showId, String(form.get('destinationId')));
        return Response.json({ broadcast: studio.broadcast.stateFor(params.showId) });
      case 'keep': {
        const { seconds, until, frames, title } = checked(schemas.keep, form);
        const wanted = frames === 'both' ? [...FRAME_NAMES] : [frames as FrameName];
        return Response.json({ files: await studio.broadcast.keep(seconds, until, wanted, title) });
      }
      case 'cut': {
        const { destinationId, seconds } = checked(schemas.cut, form);
        return Response.json({ seconds: await studio.broadcast.cut(destinationId, seconds) });
      }
      case 'mark':
        studio.broadcast.mark(checked(schemas.mark, form).words);
        return Response.json({ marked: true });
      case 'cover':
        await studio.broadcast.cover(checked(schemas.cover, form).on);
        return Response.json({ covered: true });
      case 'pause':
        await studio.broadcast.pauseRecording(checked(schemas.pause, form).paused);
        return Response.json({ paused: true });
      case 'plan':
        studio.broadcast.changePlan(params.showId);
        return Response.json({ broadcast: studio.broadcast.stateFor(params.showId) });
      default:
        return Response.json({ message: 'unknown intent' }, { status: 400 });
    }
  } catch (fault) {
    return faultResponse(fault);
  }
}
