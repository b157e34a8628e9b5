import { randomUUID } from 'node:crypto';
import Joi from 'joi';
import { exampleEvent } from '~/core/audience/alert-rules';
import { recordsOf } from '~/core/show/document';
import type { AlertRuleRecord } from '~/core/show/audience-records';
import { faultResponse, openShowOf } from '../server/context.server';
import type { Route } from './+types/test-event';

const NAMES = ['pinecairn', 'gravelpath', 'oxbow_lane', 'wetslate', 'tinlantern'] as const;
const STORM = { events: 200, seconds: 5 };
const schema = Joi.object<{ ruleId: string | null; count: number }>({
  /** Null for a storm over all rules. */
  ruleId: Joi.string().max(64).allow(null).required(),
  count: Joi.number().integer().min(1).max(200).default(1),
});

/** Fires a rule as a real event would, marked as a test. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const { error, value } = schema.validate(await request.json().catch(() => null));
  if (error) return Response.json({ code: 'test.invalid', message: error.message }, { status: 400 });
  try {
    const { document, audience } = openShowOf(context, params.showId);
    const rules = recordsOf(document, 'alertRule');
    const rule = rules.find((r) => r.id === value.ruleId);
    const show = recordsOf(document, 'show')[0];
    const made = (of: AlertRuleRecord, i: number) => ({
      id: randomUUID(),
      type: of.event,
      viewer: NAMES[(Math.floor(Math.random() * NAMES.length) + i) % NAMES.length],
      atMs: Date.now(),
      ...exampleEvent(of, show.audience.currency),
    });
    if (value.ruleId === null && show) {
      audience.testStorm(
        rules.filter((r) => r.on).map((of, i) => () => made(of, i)),
        STORM.events,
        STORM.seconds,
      );
      return Response.json(STORM);
    }
    if (!rule || !show)
      return Response.json({ code: 'test.rule', message: 'this alert was removed' }, { status: 404 });
    const events = Array.from({ length: value.count }, (_, i) => audience.test(made(rule, i)));
    return Response.json({ events });
  } catch (fault) {
    return faultResponse(fault);
  }
}
