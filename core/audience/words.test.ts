import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { isWelcome, messagesAt, shownMessage, tokensOf } from './chat-filter';
import { sampleEvent, sampleMessage } from './sample-audience';
import { START_AUDIENCE } from './settings';
import { alertText } from './alert-rules';
import { AudienceBook, emptyBook } from './book';
import { audienceFields } from './fields';
import { coverWords, pictureName, pictureText } from './picture-words';
import { cleanName, cleanText, lettersOf, shownName } from './words';

const FAMILY = '👩‍👩‍👧‍👦';

describe('strangers’ words', () => {
  test.each([
    ['a name of 500 letters', 'x'.repeat(500), `${'x'.repeat(59)}…`],
    ['joined emoji stay one letter', FAMILY.repeat(3), FAMILY.repeat(3)],
    ['direction overrides', 'abc\u202Edef\u2066x', 'abcdefx'],
    ['control characters and lines', 'a\u0000b\r\nc\u0007', 'a b c'],
    ['nothing', '   \u200f ', 'someone'],
    ['a half emoji', 'a\ud83d', 'a\ufffd'],
    ['tag characters', 'a\u{E0041}\u{E0042}', 'a'],
  ])('%s', (_, raw, clean) => expect(cleanName(raw)).toBe(clean));

  test('heaped marks are cut to three', () => {
    const zalgo = `Z${'\u0301\u0302\u0303\u0304'.repeat(40)}a`;
    const clean = cleanText(zalgo);
    expect(lettersOf(clean)).toHaveLength(2);
    expect(clean.length).toBeLessThanOrEqual(5);
  });

  test('whatever comes, one line of at most so many letters comes out, and cleaning it again changes nothing', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary', maxLength: 300 }),
        fc.integer({ min: 2, max: 80 }),
        (raw, max) => {
          const clean = cleanText(raw, max);
          expect(lettersOf(clean).length).toBeLessThanOrEqual(max);

          expect(clean).not.toMatch(/[\u0000-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069\u2028\u2029]/);
          expect(clean.isWellFormed()).toBe(true);
          expect(cleanText(clean, max)).toBe(clean);
        },
      ),
    );
  });

  test('names shortened or hidden are always the same for one viewer', () => {
    expect(shownName('tinlantern', 'short')).toBe('tin…');
    expect(shownName(FAMILY.repeat(5), 'short')).toBe(`${FAMILY.repeat(3)}…`);
    expect(shownName('tinlantern', 'hidden')).toBe(shownName('tinlantern', 'hidden'));
    expect(shownName('tinlantern', 'hidden')).not.toContain('tin');
  });
});

describe('the word filter', () => {
  const blockedWords = ['derail', 'soot cake'];
  const found = (text: string) => coverWords(text, { blockedWords, maskLinks: false });

  test.each([
    ['derail it', '****** it'],
    ['DERAIL!', '******!'],
    ['d e r a i l', '***********'],
    ['d3r@1l now', '****** now'],
    ['dеrаil', '******'],
    ['d.e.r.a.i.l', '***********'],
    ['dé́rail', '*******'],
    ['a soot  cake', 'a **********'],
    ['derail derail', '****** ******'],
    ['derailderail', 'derailderail'],
    ['derailleur and trains', 'derailleur and trains'],
    ['the rail', 'the rail'],
  ])('%s', (text, covered) => expect(found(text)).toBe(covered));

  test('links', () => {
    const cover = (text: string) => coverWords(text, { blockedWords, maskLinks: true });
    expect(cover('see https://hut.example/x?y now')).toBe('see [link] now');
    expect(cover('hut-nine.org/roof')).toBe('[link]');
    expect(cover('no. links here, 3.5 of 4')).toBe('no. links here, 3.5 of 4');
    expect(cover('derail at derail.hut.org/derail')).toBe('****** at [link]');
  });

  test('a blocked word that the end of a line would cut is covered all the same', () => {
    expect(pictureText('the derail', { blockedWords, maskLinks: true }, 7)).toBe('the **…');
  });

  test('names are covered before they are shortened; who is kept off the picture is someone', () => {
    const rules = { ...START_AUDIENCE, blockedWords, hiddenViewers: ['MossBell'] };
    expect(pictureName('derail', rules)).toBe('******');
    expect(pictureName('derail', { ...rules, names: 'short' })).toBe('***…');
    expect(pictureName('mossbell', rules)).toBe('someone');
    expect(pictureName('see hut.org', rules)).toBe('see [link]');
    const hidden = (name: string) => pictureName(name, { ...rules, names: 'hidden' });
    expect(hidden('derail')).toMatch(/^viewer \d+$/);
    expect(hidden('derail')).not.toBe(hidden('soot cake'));
  });

  test('nothing blocked, and no address, comes onto the picture by any text an event brings', () => {
    const settings = { ...START_AUDIENCE, blockedWords, maskLinks: true };
    const bad = fc.constantFrom('derail', 'D3RAIL', 'd e r a i l', 'soot cake', 'www.hut.example/x');
    const around = fc.constantFrom('', 'the ', ' now', '!', '\u202e', ' \n ');
    const text = fc.tuple(around, bad, around).map((parts) => parts.join(' '));
    fc.assert(
      fc.property(text, text, text, (viewer, message, title) => {
        const event = sampleEvent('donation', { viewer, message, title });
        const book = new AudienceBook(emptyBook(0));
        book.enter({ ...event, seq: 1 }, [], settings);
        const facts = { event, viewers: [viewer], people: 1, events: 1, total: 500 };
        const shown = [
          alertText('{{name}}: {{message}} {{title}}', facts, settings),
          ...Object.values(audienceFields(book, [], settings, null)),
        ].join('\n');
        expect(shown).not.toMatch(/d.?[e3].?r.?a.?[i1].?l|soot|hut/i);
      }),
    );
  });
});

describe('chat on the picture', () => {
  test('emotes stand where the message says; ranges outside or over each other are left out', () => {
    const message = sampleMessage('hi :bell: and :snow:', {
      emotes: [
        { from: 3, to: 9, id: 'bell' },
        { from: 5, to: 12, id: 'over' },
        { from: 14, to: 20, id: 'snow' },
        { from: 18, to: 90, id: 'outside' },
        { from: -1, to: 2, id: 'before' },
      ],
    });
    expect(tokensOf(message, START_AUDIENCE)).toEqual([
      { text: 'hi ' },
      { emote: 'bell' },
      { text: ' and ' },
      { emote: 'snow' },
    ]);
  });

  test('blocked words are covered, links replaced, mentions marked, markup is only text', () => {
    const settings = { blockedWords: ['soot'], maskLinks: true };
    expect(tokensOf(sampleMessage('@lampwright s00t on www.hut.example <b>x</b>'), settings)).toEqual([
      { text: '@lampwright', mention: true },
      { text: ' ' },
      { text: '****' },
      { text: ' on ' },
      { text: '[link]' },
      { text: ' <b>x</b>' },
    ]);
  });

  test('commands and chosen viewers stay off', () => {
    const settings = { ...START_AUDIENCE, hiddenViewers: ['NoisyBot'] };
    expect(isWelcome(sampleMessage('!route left'), settings)).toBe(false);
    expect(isWelcome(sampleMessage('!route left'), { ...settings, hideCommands: false })).toBe(true);
    expect(isWelcome(sampleMessage('hello', { viewer: 'noisybot' }), settings)).toBe(false);
  });

  test('held for so long, then there for so long', () => {
    const shown = [shownMessage(sampleMessage('x', { atMs: 1000 }), { ...START_AUDIENCE, holdSeconds: 5 })];
    const at = (ms: number) => messagesAt(shown, 10, ms).length;
    expect([at(5999), at(6000), at(15_999), at(16_000)]).toEqual([0, 1, 1, 0]);
  });
});

test('plain text has the letters that the segmenter finds in it', () => {
  const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });
  const plain = fc.string({ unit: fc.integer({ min: 0x20, max: 0x7e }).map((c) => String.fromCharCode(c)) });
  fc.assert(
    fc.property(fc.oneof(plain, fc.string(), fc.constant('a\r\nb')), (text) => {
      expect(lettersOf(text)).toEqual(Array.from(segmenter.segment(text), (part) => part.segment));
    }),
  );
});
