import { expect, test } from 'vitest';
import { AudienceBook, emptyBook } from './book';
import { shownMessage } from './chat-filter';
import { MADE_UP_AT_ONCE, madeUpEvent } from './made-up';
import { sampleGoal } from './sample-audience';
import { START_AUDIENCE } from './settings';

test('what made-up viewers do at first fills everything that is drawn from viewers', () => {
  const book = new AudienceBook(emptyBook(0));
  const goal = sampleGoal({ start: 0 });
  const chat: string[] = [];
  for (let n = 0; n < MADE_UP_AT_ONCE; n++) {
    const event = madeUpEvent(n, 1_000_000, n + 1);
    expect(event.seq).toBe(n + 1);
    book.enter(event, [goal], START_AUDIENCE);
    if (event.type === 'chat') chat.push(shownMessage(event, START_AUDIENCE).name);
  }
  const { latest, top, counts } = book.facts;
  for (const type of ['follow', 'subscription', 'member', 'donation', 'cheer', 'raid', 'order'] as const)
    expect([type, counts[type] ?? 0]).not.toEqual([type, 0]);
  expect(latest.donation?.money).toEqual({ minor: 10_000, currency: 'EUR' });
  expect(top.donation?.viewer).toBe('Äußerst Großzügig');
  expect(book.supporters().length).toBeGreaterThan(3);
  expect(new Set(chat).size).toBeGreaterThan(3);
});

test('they go on without end, each thing with an id of its own', () => {
  const ids = Array.from({ length: 200 }, (_, n) => madeUpEvent(n, 5, n + 1).id);
  expect(new Set(ids).size).toBe(200);
});
