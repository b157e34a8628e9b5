import { expect, test } from 'vitest';
import { arrive, goAway, seat, stillWaitedFor, WAITED_FOR_MS, type WingsGuest } from './wings';
import { MAX_GUESTS } from './seats';

const come = (guests: readonly WingsGuest[], id: string, seatId: string | null = null, nowMs = 0) =>
  arrive(guests, { id, name: id.toUpperCase(), seatId, nowMs });
const seats = (guests: readonly WingsGuest[] | null) =>
  Object.fromEntries((guests ?? []).map((guest) => [guest.id, guest.seatId]));

test('whoever comes by a seat’s link sits on it; a second one by the same link waits', () => {
  const one = come([], 'ada', 'first')!;
  const two = come(one, 'ben', 'first')!;
  expect(seats(two)).toEqual({ ada: 'first', ben: null });
});

test('who comes back has the seat they had, under the name they say now', () => {
  const gone = goAway(come([], 'ada', 'first')!, 'ada', 1000);
  expect(gone[0]).toMatchObject({ here: false, seatId: 'first', goneMs: 1000 });
  const back = arrive(gone, { id: 'ada', name: 'Ada L.', seatId: null, nowMs: 2000 })!;
  expect(back).toHaveLength(1);
  expect(back[0]).toMatchObject({ here: true, seatId: 'first', name: 'Ada L.', goneMs: null, sinceMs: 0 });
});

test('as many as can be connected; who is away gives way, and is not waited for for ever', () => {
  let all: readonly WingsGuest[] = [];
  for (let i = 0; i < MAX_GUESTS; i++) all = come(all, `g${i}`)!;
  expect(come(all, 'late')).toBeNull();
  const away = goAway(all, 'g3', 5000);
  expect(come(away, 'late')!.map(({ id }) => id)).not.toContain('g3');
  expect(stillWaitedFor(away, 5000 + WAITED_FOR_MS - 1)).toHaveLength(MAX_GUESTS);
  expect(stillWaitedFor(away, 5000 + WAITED_FOR_MS)).toHaveLength(MAX_GUESTS - 1);
});

test('somebody put on a taken seat takes it over', () => {
  const two = come(come([], 'ada', 'first')!, 'ben')!;
  expect(seats(seat(two, 'ben', 'first'))).toEqual({ ada: null, ben: 'first' });
  expect(seats(seat(two, 'ada', null))).toEqual({ ada: null, ben: null });
  expect(seats(seat(two, 'nobody', 'first'))).toEqual({ ada: null, ben: null });
});
