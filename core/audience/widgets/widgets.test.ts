import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { AudienceBook, emptyBook } from '../book';
import { shownMessage } from '../chat-filter';
import { BADGES } from '../events';
import { evenMeasure, sampleEvent, sampleGoal, sampleMessage, sampleRoom } from '../sample-audience';
import { START_AUDIENCE } from '../settings';
import { viewersAt, type AudienceNow } from './audience-now';
import { layoutChat, layoutReadOut } from './chat-panel';
import { fitted, type Mark } from './drawing';
import { START_CHAT_PANEL } from './chat-settings';
import { creditsLines, creditsShare } from './kinds/credits';
import { layoutWidget, startWidget, WIDGET_NAMES, widgetStamp } from './widgets';

const SETTINGS = START_AUDIENCE;

function now(more: Partial<AudienceNow> = {}): AudienceNow {
  return {
    nowMs: 1_000_000,
    zoneOffsetMinutes: 0,
    sceneSinceMs: 990_000,
    sceneFirstMs: 990_000,
    musicEndsMs: null,
    broadcastSinceMs: 900_000,
    book: new AudienceBook(emptyBook(0)),
    goals: [sampleGoal()],
    settings: SETTINGS,
    fields: { host: 'lampwright' },
    viewers: new Map([['larch', { before: 10, now: 20, sinceMs: 0 }]]),
    messages: [],
    messagesVersion: 0,
    eventStamp: '',
    readOut: null,
    title: null,
    ownPoll: null,
    speaking: [],
    ...more,
  };
}

const texts = (marks: readonly Mark[]) => marks.flatMap((m) => (m.kind === 'text' ? [m.text] : []));

/** Every text and emote with all of it inside the box, but for what rolls through it. */
function expectInside(marks: readonly Mark[], width: number, height: number): void {
  for (const mark of marks) {
    if (mark.kind === 'box') continue;
    const [across, down] =
      mark.kind === 'logo'
        ? [mark.width, mark.height]
        : mark.kind === 'emote'
          ? [mark.size, mark.size]
          : [0, 0];
    const wide = mark.kind === 'text' ? evenMeasure(mark.text, mark.sizePx, mark.weight) : across;
    const [top, bottom] =
      mark.kind === 'text'
        ? [mark.y - mark.sizePx * 0.98, mark.y + mark.sizePx * 0.3]
        : [mark.y, mark.y + down];
    expect(mark.x).toBeGreaterThanOrEqual(-0.5);
    expect(mark.x + wide).toBeLessThanOrEqual(width + 0.5);
    expect(top).toBeGreaterThanOrEqual(-0.5);
    expect(bottom).toBeLessThanOrEqual(height + 0.5);
  }
}

const anyText = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 200 }),
  fc.string({ unit: 'binary', maxLength: 120 }),
  fc.constantFrom(
    'W'.repeat(500),
    'العربية '.repeat(30),
    '👩‍👩‍👧‍👦'.repeat(40),
    'Z\u0301\u0302\u0303\u0304'.repeat(60),
    ' ',
    'a b c',
  ),
);
const box = fc.record({
  width: fc.integer({ min: 12, max: 2000 }),
  height: fc.integer({ min: 12, max: 1200 }),
  sizePx: fc.integer({ min: 6, max: 300 }),
});

describe('no text outside its box, whatever it says and however large the box is', () => {
  test('chat', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            text: anyText,
            viewer: anyText,
            badges: fc.subarray([...BADGES]),
            emote: fc.boolean(),
          }),
          { maxLength: 6 },
        ),
        box,
        fc.record({
          theme: fc.constantFrom('plain' as const, 'cards' as const, 'lines' as const),
          direction: fc.constantFrom('up' as const, 'down' as const),
          platforms: fc.boolean(),
        }),
        (said, { width, height, sizePx }, panel) => {
          const messages = said.map(({ text, viewer, badges, emote }) =>
            shownMessage(
              sampleMessage(text, {
                viewer,
                badges,
                emotes: emote ? [{ from: 0, to: Math.max(1, text.length >> 1), id: 'bell' }] : [],
              }),
              SETTINGS,
            ),
          );
          expectInside(
            layoutChat(messages, { ...START_CHAT_PANEL, ...panel }, sampleRoom(width, height, sizePx)),
            width,
            height,
          );
        },
      ),
      { numRuns: 300 },
    );
  });

  test('read-out', () => {
    fc.assert(
      fc.property(anyText, anyText, box, (text, viewer, { width, height, sizePx }) => {
        const message = shownMessage(sampleMessage(text, { viewer }), SETTINGS);
        expectInside(layoutReadOut(message, sampleRoom(width, height, sizePx)), width, height);
      }),
      { numRuns: 300, examples: [['', '\u0816', { width: 12, height: 187, sizePx: 72 }]] },
    );
  });

  test.each(WIDGET_NAMES.filter((of) => of !== 'credits'))('%s', (of) => {
    fc.assert(
      fc.property(anyText, fc.nat(1e9), box, (name, amount, { width, height, sizePx }) => {
        const book = new AudienceBook(emptyBook(0));
        const types = ['follow', 'donation', 'subscription', 'cheer'] as const;
        types.forEach((type, i) =>
          book.enter(
            {
              ...sampleEvent(type, {
                viewer: name,
                message: name,
                count: amount,
                money: { currency: 'EUR', minor: amount + 1 },
              }),
              seq: i + 1,
            },
            [],
            SETTINGS,
          ),
        );
        book.enter(
          {
            ...sampleEvent('poll', {
              title: name,
              poll: { open: true, options: [name, 'b', name].map((label) => ({ label, votes: amount })) },
            }),
            seq: 9,
          },
          [],
          SETTINGS,
        );
        const state = now({
          book,
          goals: [sampleGoal({ name: name.slice(0, 100) || 'x', target: amount, deadlineMs: 2_000_000 })],
          title: null,
          speaking: [name, 'b'],
          readOut: { message: shownMessage(sampleMessage(name), SETTINGS), sinceMs: 0 },
        });
        expectInside(
          layoutWidget(startWidget(of, 'goal-roof'), state, sampleRoom(width, height, sizePx)),
          width,
          height,
        );
        expect(widgetStamp(startWidget(of, 'goal-roof'), state)).toBe(
          widgetStamp(startWidget(of, 'goal-roof'), state),
        );
      }),
      { numRuns: 60 },
    );
  });
});

describe('chat panel', () => {
  const messages = ['one', 'two', 'three'].map((text) => shownMessage(sampleMessage(text), SETTINGS));
  const said = (direction: 'up' | 'down', height: number) =>
    texts(layoutChat(messages, { ...START_CHAT_PANEL, direction }, sampleRoom(600, height, 40))).filter((t) =>
      ['one', 'two', 'three'].includes(t),
    );

  test('the newest is always there; older ones as many as fit', () => {
    expect(said('up', 400)).toEqual(['three', 'two', 'one']);
    expect(said('up', 150)).toEqual(['three', 'two']);
    expect(said('down', 90)).toEqual(['three']);
  });

  test('a box made narrower breaks the same words into more lines', () => {
    const long = [shownMessage(sampleMessage('a message of several words that has to be broken'), SETTINGS)];
    const lines = (width: number) =>
      new Set(
        layoutChat(long, START_CHAT_PANEL, sampleRoom(width, 900, 30)).flatMap((m) =>
          m.kind === 'text' ? [m.y] : [],
        ),
      ).size;
    expect(lines(1600)).toBe(1);
    expect(lines(500)).toBeGreaterThan(lines(800));
  });
});

describe('widgets', () => {
  const room = sampleRoom(900, 300, 40);

  test('before anything has happened each says something sensible', () => {
    const said = (of: (typeof WIDGET_NAMES)[number]) =>
      texts(layoutWidget(startWidget(of, 'goal-roof'), now(), room));
    expect(said('supporters')).toEqual(['No supporters yet: be the first']);
    expect(said('recent')).toEqual(['Nothing yet']);
    expect(said('poll')).toEqual(['No poll yet']);
    expect(said('goal')).toEqual(['Roof of Hut Nine', '68%', '€2,720 of €4,000']);
    expect(said('streak')).toEqual([]);
    expect(said('readOut')).toEqual([]);
    expect(said('countdown')).toEqual(['4:50']);
    expect(said('stopwatch')).toEqual(['0:10']);
    expect(said('viewers')).toEqual(['20 watching']);
    expect(texts(layoutWidget({ of: 'goal', goalId: 'gone' }, now(), room))).toEqual([
      'This goal was removed',
    ]);
  });

  test('a countdown shows its words at zero, and begins anew only if it shall', () => {
    const widget = startWidget('countdown');
    const at = (restart: boolean) =>
      texts(layoutWidget({ ...widget, restart, seconds: 30 }, now({ sceneFirstMs: 900_000 }), room));
    expect(at(true)).toEqual(['0:20']);
    expect(at(false)).toEqual(['Here we go']);
  });

  test('viewers go from one reading to the next', () => {
    const reading = { before: 100, now: 200, sinceMs: 0 };
    expect([0, 1500, 3000, 9000].map((ms) => viewersAt(reading, ms))).toEqual([100, 150, 200, 200]);
  });

  test('credits: what was written tonight, and a wall of logos in rows of three', () => {
    const credits = startWidget('credits');
    const files = ['a', 'b', 'c', 'd'].map((assetId) => ({ assetId, name: assetId }));
    const wall = {
      ...credits,
      sections: [
        { title: 'You wrote', of: 'comments' as const, lines: '' },
        { title: 'With thanks to', of: 'logos' as const, lines: '', files },
      ],
    };
    const said = shownMessage(sampleMessage('good night'), SETTINGS);
    const state = now({
      messages: [said, { ...said, tokens: [{ emote: 'lamp' }] }],
      sceneSinceMs: 1_000_000,
    });
    expect(creditsLines(wall, state).map(({ text, logos }) => logos ?? text)).toEqual([
      ...['You wrote', `${said.name}: good night`, '', 'With thanks to', ['a', 'b', 'c'], ['d'], ''],
    ]);
    const marks = layoutWidget(wall, { ...state, nowMs: 1_017_000 }, room);
    const logos = marks.filter((mark) => mark.kind === 'logo');
    expect(logos.map(({ assetId }) => assetId)).toEqual(['a', 'b', 'c', 'd']);
    // The row that is not full stands in the middle.
    const [a, b, c, d] = logos;
    expect(d.x + d.width / 2).toBeCloseTo(room.width / 2);
    expect(b.x + b.width / 2).toBeCloseTo(room.width / 2);
    expect([a, b, c].every(({ y }) => y === a.y) && d.y > a.y + a.height).toBe(true);
    expect(creditsLines({ ...wall, sections: [{ ...wall.sections[1], files: [] }] }, state)).toEqual([]);
  });

  test('credits: lists with fields, who was there, empty parts left out; once or again and again', () => {
    const book = new AudienceBook(emptyBook(0));
    book.enter(
      { ...sampleMessage('hi', { viewer: 'switchman_42', badges: ['moderator'] }), seq: 1 },
      [],
      SETTINGS,
    );
    const credits = startWidget('credits');
    expect(creditsLines(credits, now({ book })).map((l) => l.text)).toEqual([
      'With',
      'Host: lampwright',
      '',
      'Moderated by',
      'switchman_42',
      '',
      'In the chat',
      'switchman_42',
      '',
    ]);
    const at = (nowMs: number, musicEndsMs: number | null = null) => ({
      sceneSinceMs: 0,
      musicEndsMs,
      nowMs,
    });
    expect(creditsShare(credits, at(15_000))).toBe(0.5);
    expect(creditsShare(credits, at(99_000))).toBe(1);
    expect(creditsShare({ ...credits, run: 'loop' }, at(45_000))).toBe(0.5);
    expect(creditsShare({ ...credits, fit: 'music' }, at(60_000, 120_000))).toBe(0.5);
    expect(creditsShare({ ...credits, fit: 'music' }, at(15_000, 2000))).toBe(0.5);
    expect(creditsShare(credits, at(15_000, 120_000))).toBe(0.5);
    const state = now({ book, sceneSinceMs: 1_000_000 });
    expect(layoutWidget(credits, state, room).filter((m) => m.kind === 'text' && m.y < room.height)).toEqual(
      [],
    );
    expect(layoutWidget(credits, { ...state, nowMs: 1_015_000 }, room).length).toBeGreaterThan(2);
    expect(layoutWidget(credits, { ...state, nowMs: 1_030_000 }, room)).toEqual([]);
  });

  test('cut words end in dots and never in half a letter', () => {
    expect(fitted('👩‍👩‍👧‍👦👩‍👩‍👧‍👦👩‍👩‍👧‍👦', 240, 40, 400, (t) => [...new Intl.Segmenter('en').segment(t)].length * 60)).toBe(
      '👩‍👩‍👧‍👦👩‍👩‍👧‍👦👩‍👩‍👧‍👦',
    );
    expect(fitted('abcdef', 24 * 4, 40, 400, evenMeasure)).toBe('abc…');
    expect(fitted('abcdef', 3, 40, 400, evenMeasure)).toBe('');
  });
});
