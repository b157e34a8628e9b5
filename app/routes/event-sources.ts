import { randomUUID } from 'node:crypto';
import Joi from 'joi';
import { faultResponse, openShowOf, studioOf } from '../server/context.server';
import type { Route } from './+types/event-sources';

/** Hooks and chat servers, without their secrets. */
export function loader({ params, context }: Route.LoaderArgs) {
  const { chatServers } = openShowOf(context, params.showId).audience;
  const hooks = studioOf(context).hooks.list(params.showId);
  const { hooks: hooksUrl } = studioOf(context).doors.state();
  return Response.json({ hooks, hooksUrl, chatServers: chatServers.list() });
}

type Order =
  | { what: 'addHook'; name: string }
  | { what: 'renewHook' | 'removeHook' | 'removeChat'; id: string }
  | {
      what: 'putChat';
      id: string | null;
      name: string;
      host: string;
      port: number;
      tls: boolean;
      nick: string;
      channels: string[];
      password: string | null;
    };

const id = Joi.string()
  .pattern(/^[\w-]{1,64}$/)
  .required();
const name = Joi.string().trim().min(1).max(40).required();
const schema = Joi.alternatives<Order>(
  Joi.object({ what: Joi.string().valid('addHook').required(), name }),
  Joi.object({ what: Joi.string().valid('renewHook', 'removeHook', 'removeChat').required(), id }),
  Joi.object({
    what: Joi.string().valid('putChat').required(),
    id: id.allow(null),
    name,
    host: Joi.string().hostname().max(200).required(),
    port: Joi.number().port().required(),
    tls: Joi.boolean().required(),
    nick: Joi.string()
      .pattern(/^[A-Za-z[\]\\`_^{|}][\w[\]\\`^{|}-]{0,29}$/)
      .required()
      .messages({ 'string.pattern.base': 'a nickname begins with a letter and has no spaces' }),
    channels: Joi.array()
      .items(
        Joi.string()
          .pattern(/^[#&][^\s,\u0007]{1,60}$/)
          .messages({ 'string.pattern.base': 'a channel is written like #night-signal-box' }),
      )
      .min(1)
      .max(20)
      .required(),
    password: Joi.string().allow('', null).max(300).required(),
  }),
);

export async function action({ request, params, context }: Route.ActionArgs) {
  const { error, value } = schema.validate(await request.json().catch(() => null), { convert: false });
  if (error) return Response.json({ code: 'sources.order', message: error.message }, { status: 400 });
  const studio = studioOf(context);
  const { access } = studio;
  const { audience } = openShowOf(context, params.showId);
  const audit = (about: string) => access.audit(context.visitor, 'secretSet', about);
  try {
    switch (value.what) {
      case 'addHook':
        audit(`secret of the webhook ${value.name}`);
        return Response.json(studio.hooks.create(params.showId, value.name, Date.now()));
      case 'renewHook':
        audit('another secret of a webhook');
        return Response.json({ secret: studio.renewHook(value.id) });
      case 'removeHook':
        studio.removeHook(value.id);
        access.audit(context.visitor, 'secretRemoved', 'a webhook');
        break;
      case 'removeChat':
        audience.removeChatServer(value.id);
        break;
      case 'putChat': {
        const { what: _, password, ...server } = value;
        if (password) audit(`password of the chat server ${server.name}`);
        audience.putChatServer({ ...server, id: server.id ?? randomUUID() }, password);
        break;
      }
    }
    return Response.json({ done: true });
  } catch (fault) {
    return faultResponse(fault);
  }
}
