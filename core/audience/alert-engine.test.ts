import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { AlertEngine, alertPresence, ALERT_ORDERS, type AlertOrder } from './alert-engine';
import { alertText, amountOf, AMOUNT_OF, exampleEvent, ruleFor, START_WORDS } from './alert-rules';
import { EVENT_TYPES, type ViewerEvent } from './events';
import { sampleEvent, sampleRule } from './sample-audience';
import { START_AUDIENCE } from './settings';

const SETTINGS = START_AUDIENCE;
const seen = (engine: AlertEngine, now: number) => engine.at(now)?.event.viewer ?? null;

describe('which rule', () => {
  const rules = [
    sampleRule({ id: 'small', event: 'donation', from: 0 }),
    sampleRule({ id: 'large', event: 'donation', from: 5000 }),
    sampleRule({ id: 'off', event: 'donation', from: 9000, on: false }),
    sampleRule({ id: 'sub', event: 'subscription' }),
    sampleRule({ id: 'gift', event: 'subscription', way: 'gifted' }),
    sampleRule({ id: 'bell', event: 'reward', title: 'Ring the bell' }),
  ];
  const idOf = (event: ViewerEvent, settings = SETTINGS) => ruleFor(event, rules, settings)?.id ?? null;
  const euros = (minor: number) => sampleEvent('donation', { money: { currency: 'EUR', minor } });

  test('the highest amount that is reached, of rules that are on', () => {
    expect(idOf(euros(100))).toBe('small');
    expect(idOf(euros(4999))).toBe('small');
    expect(idOf(euros(5000))).toBe('large');
    expect(idOf(euros(99_000))).toBe('large');
    expect(idOf(sampleEvent('raid', { count: 5 }))).toBeNull();
  });

  test('money of another currency counts by its rate, without one as nothing', () => {
    const yen = sampleEvent('donation', { money: { currency: 'JPY', minor: 9000 } });
    expect(idOf(yen)).toBe('small');
    expect(idOf(yen, { ...SETTINGS, rates: { JPY: 0.006 } })).toBe('large');
  });

  test('a rule for gifts goes before one for all, a named reward before none', () => {
    expect(idOf(sampleEvent('subscription', { way: 'gifted', count: 3 }))).toBe('gift');
    expect(idOf(sampleEvent('subscription', { way: 'new' }))).toBe('sub');
    expect(idOf(sampleEvent('reward', { title: 'ring the BELL' }))).toBe('bell');
    expect(idOf(sampleEvent('reward', { title: 'Tea' }))).toBeNull();
  });
});

describe('the queue', () => {
  const rule = sampleRule({ seconds: 5, mergeSeconds: 0 });
  const follow = (viewer: string, more: Partial<ViewerEvent> = {}) =>
    sampleEvent('follow', { viewer, ...more });

  test('one after another with a gap, never two at once', () => {
    const engine = new AlertEngine();
    engine.add(follow('a'), rule, SETTINGS, 10);
    engine.add(follow('b'), rule, SETTINGS, 10.1);
    expect(seen(engine, 10.1)).toBe('a');
    expect(seen(engine, 14.99)).toBe('a');
    expect(seen(engine, 15.1)).toBeNull();
    expect(seen(engine, 15.31)).toBe('b');
    expect(engine.at(15.31)?.startedAt).toBeCloseTo(15.3, 6);
  });

  test('what matters more goes first', () => {
    const engine = new AlertEngine();
    const high = sampleRule({ id: 'high', priority: 'high', seconds: 5, mergeSeconds: 0 });
    engine.add(follow('a'), rule, SETTINGS, 0);
    engine.add(follow('b'), rule, SETTINGS, 1);
    engine.add(follow('c'), high, SETTINGS, 2);
    expect(seen(engine, 6)).toBe('c');
    expect(seen(engine, 11)).toBe('b');
  });

  test('forty gifts from one hand are one alert that counts, also while it is on the picture', () => {
    const engine = new AlertEngine();
    const gifts = sampleRule({
      id: 'gifts',
      event: 'subscription',
      way: 'gifted',
      seconds: 6,
      text: '{{name}} gifts {{amount}}',
    });
    for (let i = 0; i < 40; i++)
      engine.add(
        sampleEvent('subscription', { viewer: 'pinecairn', way: 'gifted', count: 1 }),
        gifts,
        SETTINGS,
        1 + i * 0.1,
      );
    const alert = engine.at(5)!;
    expect(engine.waiting).toBe(0);
    expect(alert.events).toBe(40);
    expect(alertText(gifts.text, alert, SETTINGS)).toBe('pinecairn gifts 40');
    // It stays at least two seconds after the last one.
    expect(engine.at(6.8)).not.toBeNull();
    expect(engine.at(7.1)).toBeNull();
    expect(engine.counts).toEqual({ shown: 1, merged: 39, limited: 0 });
  });

  test('those that wait close together become one, with names and a sum', () => {
    const engine = new AlertEngine();
    const gives = sampleRule({
      event: 'donation',
      mergeSeconds: 10,
      seconds: 5,
      text: '{{name}}: {{amount}}',
    });
    const give = (viewer: string, minor: number) =>
      sampleEvent('donation', { viewer, money: { currency: 'EUR', minor } });
    engine.add(give('first', 100), gives, SETTINGS, 0);
    engine.add(give('mossbell', 250), gives, SETTINGS, 1);
    engine.add(give('wetslate', 300), gives, SETTINGS, 2);
    engine.add(give('mossbell', 50), gives, SETTINGS, 3);
    expect(engine.waiting).toBe(1);
    const alert = engine.at(6)!;
    expect(alertText(gives.text, alert, SETTINGS)).toBe('mossbell and one more: €6');
  });

  test('a flood is counted into what waits, and nothing is lost', () => {
    const engine = new AlertEngine();
    for (let i = 0; i < 1000; i++) engine.add(follow(`v${i}`), rule, SETTINGS, i / 100);
    expect(engine.waiting).toBeLessThanOrEqual(100);
    engine.order('clear', 10);
    expect(engine.counts.shown + engine.counts.merged).toBeGreaterThan(880);
  });

  test('a viewer is limited, a rule rests, tests are not bound by either', () => {
    const engine = new AlertEngine();
    const calm = sampleRule({ seconds: 2, mergeSeconds: 0, perViewerSeconds: 60, coolDownSeconds: 20 });
    engine.add(follow('a'), calm, SETTINGS, 0);
    engine.add(follow('a'), calm, SETTINGS, 5);
    expect(engine.counts.limited).toBe(1);
    engine.add(follow('b'), calm, SETTINGS, 5);
    expect(seen(engine, 10)).toBeNull();
    expect(seen(engine, 22.1)).toBe('b');
    engine.add(follow('a', { test: true }), calm, SETTINGS, 30);
    expect(seen(engine, 30)).toBe('a');
  });

  test('pause, resume, skip, again, clear, quiet', () => {
    const engine = new AlertEngine();
    engine.order('pause', 0);
    engine.add(follow('a'), rule, SETTINGS, 1);
    engine.add(follow('b'), rule, SETTINGS, 2);
    expect(seen(engine, 100)).toBeNull();
    engine.order('resume', 100);
    expect(seen(engine, 100)).toBe('a');
    engine.order('skip', 101);
    expect(seen(engine, 101.2)).toBe('a');
    expect(seen(engine, 101.45)).toBeNull();
    engine.order('replay', 101.5);
    expect(seen(engine, 101.8)).toBe('a');
    engine.order('clear', 102);
    expect(engine.waiting).toBe(0);
    expect(seen(engine, 110)).toBeNull();
    engine.order('quiet', 110);
    engine.add(follow('c'), rule, SETTINGS, 111);
    expect(seen(engine, 115)).toBeNull();
    engine.order('unquiet', 116);
    expect(engine.at(116)?.startedAt).toBe(116);
  });

  test('what waits can be kept and taken up again; what was asked for by hand and rules that are gone are not', () => {
    const engine = new AlertEngine();
    const merging = sampleRule({ id: 'merging', mergeSeconds: 10 });
    engine.add(follow('now'), rule, SETTINGS, 1);
    engine.add(follow('a'), rule, SETTINGS, 1);
    engine.add(follow('b'), merging, SETTINGS, 1.1);
    engine.add(follow('c'), merging, SETTINGS, 1.2);
    engine.add(follow('try', { test: true }), rule, SETTINGS, 1.3);
    engine.order('replay', 1.4);
    const kept = engine.kept();
    expect(kept.map((k) => [k.event.viewer, k.events])).toEqual([
      ['a', 1],
      ['b', 2],
    ]);
    const again = new AlertEngine();
    again.restore(kept, [merging], 30);
    expect([seen(again, 30.1), again.at(30.1)?.people, again.waiting]).toEqual(['b', 2, 0]);
    const both = new AlertEngine();
    both.restore(kept, [rule, merging], 30);
    expect([seen(both, 30.1), both.waiting]).toEqual(['a', 1]);
  });

  test('comes and goes by its motion', () => {
    const alert = { startedAt: 10, endsAt: 15, rule: { ...rule, motionSeconds: 0.4 } };
    expect(alertPresence(alert, 10).share).toBe(0);
    expect(alertPresence(alert, 12)).toEqual({ share: 1, leaving: false });
    expect(alertPresence(alert, 14.9)).toMatchObject({ leaving: true });
    expect(alertPresence(alert, 15).share).toBe(0);
  });

  test('asked at any moments, once or a thousand times, it says the same', () => {
    const step = fc.record({
      wait: fc.double({ min: 0, max: 4, noNaN: true }),
      what: fc.oneof(
        fc.record({ viewer: fc.constantFrom('a', 'b', 'c'), high: fc.boolean(), gift: fc.boolean() }),
        fc.constantFrom<AlertOrder>(...ALERT_ORDERS),
      ),
    });
    fc.assert(
      fc.property(
        fc.array(step, { maxLength: 40 }),
        fc.array(fc.double({ min: 0, max: 160, noNaN: true })),
        (steps, asked) => {
          const [often, once] = [new AlertEngine(), new AlertEngine()];
          const rules = [
            sampleRule({ id: 'n', mergeSeconds: 3, seconds: 4, perViewerSeconds: 1, coolDownSeconds: 2 }),
            sampleRule({ id: 'h', priority: 'high', seconds: 2, mergeSeconds: 0 }),
          ];
          let at = 0;
          const times = [...asked].sort((a, b) => a - b);
          for (const { wait, what } of steps) {
            const until = at + wait;
            for (const time of times.filter((t) => t >= at && t < until)) often.at(time);
            at = until;
            if (typeof what === 'string') for (const engine of [often, once]) engine.order(what, at);
            else {
              const event = sampleEvent('follow', { viewer: what.viewer, way: what.gift ? 'gifted' : null });
              for (const engine of [often, once]) engine.add(event, rules[what.high ? 1 : 0], SETTINGS, at);
            }
          }
          for (const time of [at, at + 1, at + 7, at + 300]) {
            const [x, y] = [often.at(time), once.at(time)];
            expect(x?.number).toBe(y?.number);
            expect(x?.startedAt).toBe(y?.startedAt);
          }
          expect(often.counts).toEqual(once.counts);
        },
      ),
    );
  });
});

test('whatever comes: never two at once, and every event is shown, joined, limited or waits', () => {
  const arrival = fc.record({
    wait: fc.double({ min: 0, max: 3, noNaN: true }),
    viewer: fc.constantFrom('a', 'b', 'c', 'd'),
    rule: fc.nat(2),
    gift: fc.boolean(),
    test: fc.boolean(),
    order: fc.option(fc.constantFrom<AlertOrder>('pause', 'resume', 'skip', 'quiet', 'unquiet'), { freq: 4 }),
  });
  fc.assert(
    fc.property(fc.array(arrival, { maxLength: 120 }), (arrivals) => {
      const rules = [
        sampleRule({ id: 'plain', mergeSeconds: 0, seconds: 2 }),
        sampleRule({ id: 'joins', mergeSeconds: 4, seconds: 3, priority: 'high' }),
        sampleRule({
          id: 'limits',
          mergeSeconds: 2,
          seconds: 1,
          perViewerSeconds: 5,
          coolDownSeconds: 3,
          priority: 'low',
        }),
      ];
      const engine = new AlertEngine();
      const spans = new Map<number, { from: number; to: number }>();
      let at = 0;
      const watch = (until: number) => {
        for (let t = at; t < until; t += 0.25) {
          const alert = engine.at(t);
          if (!alert) continue;
          expect(t).toBeGreaterThanOrEqual(alert.startedAt);
          expect(t).toBeLessThan(alert.endsAt);
          spans.set(alert.number, { from: alert.startedAt, to: t });
        }
        at = until;
      };
      for (const { wait, viewer, rule, gift, test: tried, order } of arrivals) {
        watch(at + wait);
        if (order) engine.order(order, at);
        engine.add(
          sampleEvent('follow', { viewer, way: gift ? 'gifted' : null, test: tried }),
          rules[rule],
          SETTINGS,
          at,
        );
      }
      const { shown, merged, limited } = engine.counts;
      expect(shown + merged + limited + engine.waiting).toBe(arrivals.length);
      const order = [...spans.values()].sort((a, b) => a.from - b.from);
      for (let i = 1; i < order.length; i++) expect(order[i].from).toBeGreaterThan(order[i - 1].to);
    }),
    { numRuns: 60 },
  );
});

test('an example of every kind sets off its own rule, and its words are filled', () => {
  for (const event of EVENT_TYPES)
    for (const way of event === 'subscription'
      ? (['any', 'new', 'renewed', 'gifted'] as const)
      : (['any'] as const))
      for (const from of [0, 30]) {
        const rule = sampleRule({
          event,
          way,
          from: AMOUNT_OF[event] === null || way === 'new' ? 0 : from,
          text: START_WORDS[event],
        });
        const made = sampleEvent(event, exampleEvent(rule, 'EUR'));
        const found = ruleFor(made, [rule], SETTINGS);
        // A subscription of no particular way is a new one, which has no months to reach.
        if (event === 'subscription' && way === 'any' && from > 0) continue;
        expect(found, `${event} ${way} ${from}`).toBe(rule);
        const words = alertText(
          rule.text,
          { event: made, viewers: [made.viewer], people: 1, events: 1, total: amountOf(made, SETTINGS) },
          SETTINGS,
        );
        expect(words).not.toMatch(/\{\{|undefined|null|NaN/);
      }
});

describe('words of an alert', () => {
  const facts = (event: ViewerEvent) => ({
    event,
    viewers: [event.viewer],
    people: 1,
    events: 1,
    total: null,
  });

  test('fields are filled once: what a viewer writes is never a field, and is clean', () => {
    const event = sampleEvent('donation', {
      viewer: '{{message}}\u202Eevil',
      message: '{{name}} <script>\u0000',
      money: { currency: 'GBP', minor: 1250 },
    });
    expect(alertText('{{name}} gives {{amount}}: {{message}}', facts(event), SETTINGS)).toBe(
      '{{message}}evil gives £12.50: {{name}} <script>',
    );
  });

  test('names can be hidden', () => {
    const text = alertText('{{name}} follows', facts(sampleEvent('follow')), {
      ...SETTINGS,
      names: 'hidden',
    });
    expect(text).toMatch(/^viewer \d{3} follows$/);
  });
});
