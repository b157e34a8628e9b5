import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { AudienceBook, emptyBook } from './book';
import { clockText, countdownEnd, durationText, secondsLeft, type CountdownSettings } from './countdown';
import { concerns, EVENT_TYPES, eventWords, type AudienceEvent } from './events';
import { audienceFields } from './fields';
import { goalView } from './goals';
import { decimalOfMinor, MAX_MINOR, minorIn, minorOfDecimal, moneyText } from './money';
import { sampleEvent, sampleGoal, sampleMessage } from './sample-audience';
import { START_AUDIENCE } from './settings';
import { streakAt } from './streak';

const SETTINGS = { ...START_AUDIENCE, rates: { GBP: 1.2 } };

describe('money', () => {
  test.each([
    ['12.50', 'EUR', 1250],
    ['12.5', 'EUR', 1250],
    ['0.01', 'EUR', 1],
    ['500', 'JPY', 500],
    ['1.234', 'KWD', 1234],
    ['12.345', 'EUR', null],
    ['1.5', 'JPY', null],
    ['-3', 'EUR', null],
    ['1e9', 'EUR', null],
    ['', 'EUR', null],
    ['12', 'ZZZ', null],
    ['999999999999', 'EUR', null],
  ])('%s %s is %s', (text, currency, minor) => expect(minorOfDecimal(text, currency)).toBe(minor));

  test('what is written can be read again, exactly', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: MAX_MINOR }),
        fc.constantFrom('EUR', 'JPY', 'KWD'),
        (minor, currency) => {
          expect(minorOfDecimal(decimalOfMinor({ currency, minor }), currency)).toBe(minor);
        },
      ),
    );
  });

  test('as viewers read it, and in another money', () => {
    expect(moneyText({ currency: 'EUR', minor: 1250 })).toBe('€12.50');
    expect(moneyText({ currency: 'EUR', minor: 500 })).toBe('€5');
    expect(moneyText({ currency: 'JPY', minor: 500 })).toBe('JP¥500');
    expect(minorIn({ currency: 'GBP', minor: 1000 }, 'EUR', { GBP: 1.2 })).toBe(1200);
    expect(minorIn({ currency: 'JPY', minor: 1000 }, 'EUR', { JPY: 0.006 })).toBe(600);
    expect(minorIn({ currency: 'SEK', minor: 1000 }, 'EUR', {})).toBeNull();
  });
});

describe('the book of an evening', () => {
  const goals = [
    sampleGoal({ sinceMs: 500_000 }),
    sampleGoal({ id: 'g2', key: 'follows', of: 'follow', target: 3, start: 0 }),
  ];
  const enter = (book: AudienceBook, events: AudienceEvent[]) =>
    events.forEach((event) => book.enter({ ...event, seq: book.facts.seq + 1 }, goals, SETTINGS));
  const give = (viewer: string, minor: number, currency = 'EUR') =>
    sampleEvent('donation', { viewer, money: { currency, minor } });

  test('latest, largest, sums, goals, fields', () => {
    const book = new AudienceBook(emptyBook(0));
    enter(book, [
      sampleEvent('follow', { viewer: 'gravelpath' }),
      give('mossbell', 2000),
      give('wetslate', 1000, 'GBP'),
      give('mossbell', 100),
      give('stranger', 99_999, 'SEK'),
      sampleEvent('donation', { viewer: 'tester', money: { currency: 'EUR', minor: 99_999 }, test: true }),
      sampleMessage('hello', { viewer: 'TinLantern', badges: ['moderator'] }),
      sampleMessage('again', { viewer: 'tinlantern' }),
    ]);
    expect(book.facts.minor).toBe(3300);
    expect(book.supporters().map((s) => [s.name, s.minor])).toEqual([
      ['mossbell', 2100],
      ['wetslate', 1200],
      ['stranger', 0],
    ]);
    expect(book.chatters()).toEqual([{ name: 'TinLantern', messages: 2, moderator: true }]);
    const fields = audienceFields(book, goals, SETTINGS, 42);
    expect(fields).toMatchObject({
      'latest.follower': 'gravelpath',
      'latest.donor': 'stranger',
      'top.donor': 'mossbell',
      'top.donation': '€20',
      'evening.money': '€33',
      'evening.messages': '2',
      'goal.roof.percent': '68%',
      'goal.roof.value': '€2,753',
      'goal.follows.percent': '33%',
      viewers: '42',
    });
  });

  test('what came before the goal was set, or before the evening, does not count', () => {
    const book = new AudienceBook(emptyBook(2_000_000));
    enter(book, [
      give('early', 5000),
      sampleEvent('donation', { viewer: 'old', atMs: 100, money: { currency: 'EUR', minor: 700 } }),
    ]);
    expect(book.goal('goal-roof')).toBe(5000);
    expect(book.facts.minor).toBe(0);
    expect(book.supporters()).toEqual([]);
  });

  test('a snapshot on the way changes nothing; what is in it already is not entered again', () => {
    const some = fc.array(
      fc.record({
        type: fc.constantFrom(...EVENT_TYPES),
        viewer: fc.constantFrom('a', 'b', 'c'),
        minor: fc.integer({ min: 1, max: 10_000 }),
        count: fc.integer({ min: 1, max: 50 }),
        chat: fc.boolean(),
      }),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(some, fc.nat(40), (made, cut) => {
        const events = made.map(({ type, viewer, minor, count, chat }, i): AudienceEvent =>
          chat
            ? { ...sampleMessage('x', { viewer }), seq: i + 1 }
            : { ...sampleEvent(type, { viewer, count, money: { currency: 'EUR', minor } }), seq: i + 1 },
        );
        const whole = new AudienceBook(emptyBook(0));
        for (const event of events) whole.enter(event, goals, SETTINGS);
        const first = new AudienceBook(emptyBook(0));
        for (const event of events.slice(0, cut)) first.enter(event, goals, SETTINGS);
        const second = new AudienceBook(
          JSON.parse(JSON.stringify(first.snapshot())) as ReturnType<AudienceBook['snapshot']>,
        );
        for (const event of events) second.enter(event, goals, SETTINGS);
        expect(second.snapshot()).toEqual(whole.snapshot());
      }),
    );
  });
});

describe('goals, streaks, countdowns', () => {
  test('a goal is reached at its aim, not a cent before', () => {
    const goal = sampleGoal({ target: 1000, start: 0, deadlineMs: 90_000 });
    expect(goalView(goal, 999, 'EUR', 0)).toMatchObject({
      percent: 99,
      reached: false,
      timeText: '2 min left',
    });
    expect(goalView(goal, 1000, 'EUR', 100_000)).toMatchObject({
      percent: 100,
      reached: true,
      timeText: 'time is up',
    });
    expect(goalView(goal, 2500, 'EUR', 0)).toMatchObject({ percent: 250, share: 1, missingText: '€0' });
  });

  test('a streak grows with each support and falls in a straight line', () => {
    const settings = {
      decayPerMinute: 1,
      levels: [
        { from: 5, name: 'high', colour: '#ffffff' },
        { from: 2, name: 'low', colour: '#000000' },
      ],
    };
    expect(streakAt([], settings, 0)).toEqual({ points: 0, level: -1, share: 0 });
    expect(streakAt([0, 0, 0], settings, 0)).toMatchObject({ points: 3, level: 0 });
    expect(streakAt([0, 0, 0], settings, 60_000)).toMatchObject({ points: 2, level: 0, share: 0 });
    expect(streakAt([0, 0, 0], settings, 61_000).level).toBe(-1);
    expect(streakAt([0, 0, 0], settings, 999_000).points).toBe(0);
    // Nothing is owed: after a long pause the next one is worth a whole point.
    expect(streakAt([0, 600_000], settings, 600_000).points).toBe(1);
    expect(streakAt([0, 0, 0, 0, 0, 60_000, 60_000], settings, 60_000)).toMatchObject({
      points: 6,
      level: 1,
      share: 1,
    });
  });

  const down: CountdownSettings = {
    to: 'length',
    seconds: 90,
    clock: '20:00',
    restart: true,
    endText: '',
    thenNext: false,
  };
  test('a countdown for a length', () => {
    const end = countdownEnd(down, 1000, 0);
    expect([1000, 1999, 90_999, 91_000, 99_000].map((ms) => secondsLeft(end, ms))).toEqual([90, 90, 1, 0, 0]);
  });

  test('a countdown to a time of the day, east and west, over midnight', () => {
    const noon = Date.UTC(2026, 10, 23, 12, 0, 0);
    const clock = { ...down, to: 'clock' as const };
    expect(countdownEnd(clock, noon, 0)).toBe(Date.UTC(2026, 10, 23, 20, 0, 0));
    expect(countdownEnd(clock, noon, -120)).toBe(Date.UTC(2026, 10, 23, 18, 0, 0));
    expect(countdownEnd(clock, noon, 300)).toBe(Date.UTC(2026, 10, 24, 1, 0, 0));
    expect(countdownEnd({ ...clock, clock: '11:59' }, noon, 0)).toBe(Date.UTC(2026, 10, 24, 11, 59, 0));
    expect(clockText(noon, -120, true)).toBe('14:00:00');
    expect(durationText(3725)).toBe('1:02:05');
    expect(durationText(-4)).toBe('0:00');
  });
});

describe('events', () => {
  test('a moderation concerns messages of its platform, until then, and never what was given', () => {
    const message = sampleMessage('x', { id: 'm', atMs: 1000 });
    const silenced = { type: 'silenced' as const, platform: 'larch', viewer: 'TINLANTERN', atMs: 1000 };
    expect(concerns({ type: 'removed', platform: 'larch', id: 'm', atMs: 0 }, message)).toBe(true);
    expect(concerns({ type: 'removed', platform: 'cairn', id: 'm', atMs: 0 }, message)).toBe(false);
    expect(concerns(silenced, message)).toBe(true);
    expect(concerns(silenced, { ...message, atMs: 1001 })).toBe(false);
    expect(concerns(silenced, sampleEvent('donation', { viewer: 'tinlantern' }))).toBe(false);
  });

  test('every kind has words', () => {
    for (const type of EVENT_TYPES) expect(eventWords(sampleEvent(type), moneyText)).not.toBe('');
    expect(eventWords(sampleEvent('subscription', { way: 'gifted', count: 40 }), moneyText)).toBe(
      'gifted 40 subscriptions',
    );
    expect(eventWords(sampleEvent('raid', { count: 1 }), moneyText)).toBe('came along with 1 viewer');
  });
});
