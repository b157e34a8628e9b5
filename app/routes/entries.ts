import Joi from 'joi';
import { ENTRY_MARKS, entryFilterSchema, type EntryMark } from '~/protocol/audience-bus';
import { openShowOf } from '../server/context.server';
import type { Route } from './+types/entries';

/** One page of chat and events, filtered. */
export function loader({ request, params, context }: Route.LoaderArgs) {
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const { error, value } = entryFilterSchema.validate(query);
  if (error) return Response.json({ code: 'entries.filter', message: error.message }, { status: 400 });
  const { entries, hub } = openShowOf(context, params.showId).audience;
  hub.flush();
  return Response.json({ entries: entries.page(value) });
}

type Order =
  | { what: 'mark'; seq: number; mark: EntryMark }
  | { what: 'remove' | 'timeout' | 'ban'; seq: number }
  | { what: 'note'; platform: string; viewer: string; note?: string }
  | { what: 'evening' };

const seq = Joi.number().integer().min(1).required();
const schema = Joi.alternatives<Order>(
  Joi.object({
    what: Joi.string().valid('mark').required(),
    seq,
    mark: Joi.string()
      .valid(...ENTRY_MARKS)
      .required(),
  }),
  Joi.object({ what: Joi.string().valid('remove', 'timeout', 'ban').required(), seq }),
  Joi.object({
    what: Joi.string().valid('note').required(),
    platform: Joi.string().max(60).required(),
    viewer: Joi.string().max(2000).required(),
    // Without one it is only asked for.
    note: Joi.string().allow('').max(2000),
  }),
  Joi.object({ what: Joi.string().valid('evening').required() }),
);

/** Marks an entry, moderates its writer, keeps a note on a viewer, begins a new evening. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const { error, value } = schema.validate(await request.json().catch(() => null), { convert: false });
  if (error) return Response.json({ code: 'entries.order', message: error.message }, { status: 400 });
  const { audience } = openShowOf(context, params.showId);
  switch (value.what) {
    case 'mark':
      audience.hub.mark(value.seq, value.mark);
      return Response.json({ done: true });
    case 'note':
      if (value.note !== undefined) audience.entries.setNote(value.platform, value.viewer, value.note.trim());
      return Response.json({ note: audience.entries.note(value.platform, value.viewer) });
    case 'evening':
      audience.hub.beginEvening();
      return Response.json({ done: true });
    default:
      return Response.json(audience.moderate(value.seq, value.what));
  }
}
