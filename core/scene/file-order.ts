/** In which order the files of a playlist or slide show come, and what a slide show shows when. */
import type { LIST_ORDERS } from '../show/records';

export type ListOrder = (typeof LIST_ORDERS)[number];

/** A small generator of even numbers 0…1 (mulberry32, public domain), so that a shuffle can be repeated. */
function randomFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** 0…count−1 shuffled (Fisher–Yates); the same for the same seed. */
function shuffle(count: number, seed: number): number[] {
  const random = randomFrom(seed);
  const order = Array.from({ length: count }, (_, i) => i);
  for (let i = count - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [order[i], order[j]] = [order[j], order[i]];
  }
  return order;
}

/**
 * Which file stands at place `n` of an endless row. Every round shows each file once; a shuffled round never begins with
 * the file the one before ended with.
 */
export function fileAt(n: number, count: number, order: ListOrder, seed: number): number {
  if (count <= 1) return 0;
  const round = Math.floor(n / count);
  const place = n % count;
  if (order === 'listed') return place;
  const current = shuffledRound(round, count, seed);
  return current[place];
}

function shuffledRound(round: number, count: number, seed: number): number[] {
  const current = shuffle(count, seed + round * 7919);
  // Only the plain shuffle of the round before matters here: its last place is never the one that is swapped.
  if (round > 0 && count > 2 && current[0] === shuffle(count, seed + (round - 1) * 7919)[count - 1])
    [current[0], current[1]] = [current[1], current[0]];
  if (round > 0 && count === 2) return shuffledRound(0, count, seed);
  return current;
}

export interface SlideMoment {
  /** Place in the endless row of what is shown, and of what comes over it while a fade runs. */
  place: number;
  next: number | null;
  /** How much of `next` is seen, 0…1. */
  progress: number;
}

/**
 * What a slide show shows at `seconds`: each slide for the interval, the fade at its end.
 * A fade longer than the interval is cut to it.
 */
export function slidesAt(
  seconds: number,
  count: number,
  intervalSeconds: number,
  fadeSeconds: number,
): SlideMoment {
  const place = Math.max(0, Math.floor(seconds / intervalSeconds));
  if (count <= 1) return { place, next: null, progress: 0 };
  const fade = Math.min(fadeSeconds, intervalSeconds);
  const into = seconds - place * intervalSeconds - (intervalSeconds - fade);
  if (fade <= 0 || into <= 0) return { place, next: null, progress: 0 };
  const u = Math.min(1, into / fade);
  return { place, next: place + 1, progress: u * u * (3 - 2 * u) };
}
