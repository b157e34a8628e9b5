import { randomUUID } from 'node:crypto';
import { studioOf } from '../server/context.server';
import type { Route } from './+types/test-alert';

const NAMES = ['pinecairn', 'gravelpath', 'oxbow_lane', 'wetslate', 'tinlantern'] as const;

/** Fires the follow alert as a real follow would, marked as a test. */
export async function action({ context }: Route.ActionArgs) {
  const event = studioOf(context).testFollow(
    randomUUID(),
    NAMES[Math.floor(Math.random() * NAMES.length)],
    Date.now(),
  );
  return Response.json({ event });
}
