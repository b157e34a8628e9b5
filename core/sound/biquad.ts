import type { BandShape, EqualiserBand } from './chain/chain-settings';

/** Coefficients of one second-order section, a0 = 1. */
export interface BiquadCoefficients {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

export const IDENTITY: BiquadCoefficients = { b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 };

/** Below this a state is nothing (−600 dB); filters ringing down into subnormal numbers cost a hundred times as much. */
function settled(state: number): number {
  return state < 1e-30 && state > -1e-30 ? 0 : state;
}

/**
 * Coefficients after R. Bristow-Johnson, "Cookbook formulae for audio equalizer biquad filter coefficients" (W3C note).
 * @param frequencyHz kept under 0.49 of the rate
 * @param q quality; of shelves too
 */
export function designBand(
  shape: BandShape | 'band-pass',
  frequencyHz: number,
  gainDb: number,
  q: number,
  rate: number,
): BiquadCoefficients {
  const w = (2 * Math.PI * Math.min(Math.max(frequencyHz, 1), rate * 0.49)) / rate;
  const cos = Math.cos(w);
  const alpha = Math.sin(w) / (2 * Math.max(q, 0.01));
  const a = 10 ** (gainDb / 40);
  const root = 2 * Math.sqrt(a) * alpha;
  const of = (b0: number, b1: number, b2: number, a0: number, a1: number, a2: number) => ({
    b0: b0 / a0,
    b1: b1 / a0,
    b2: b2 / a0,
    a1: a1 / a0,
    a2: a2 / a0,
  });
  switch (shape) {
    case 'high-pass':
      return of((1 + cos) / 2, -(1 + cos), (1 + cos) / 2, 1 + alpha, -2 * cos, 1 - alpha);
    case 'low-pass':
      return of((1 - cos) / 2, 1 - cos, (1 - cos) / 2, 1 + alpha, -2 * cos, 1 - alpha);
    case 'notch':
      return of(1, -2 * cos, 1, 1 + alpha, -2 * cos, 1 - alpha);
    case 'band-pass':
      return of(alpha, 0, -alpha, 1 + alpha, -2 * cos, 1 - alpha);
    case 'bell':
      return of(1 + alpha * a, -2 * cos, 1 - alpha * a, 1 + alpha / a, -2 * cos, 1 - alpha / a);
    case 'low-shelf':
      return of(
        a * (a + 1 - (a - 1) * cos + root),
        2 * a * (a - 1 - (a + 1) * cos),
        a * (a + 1 - (a - 1) * cos - root),
        a + 1 + (a - 1) * cos + root,
        -2 * (a - 1 + (a + 1) * cos),
        a + 1 + (a - 1) * cos - root,
      );
    case 'high-shelf':
      return of(
        a * (a + 1 + (a - 1) * cos + root),
        -2 * a * (a - 1 + (a + 1) * cos),
        a * (a + 1 + (a - 1) * cos - root),
        a + 1 - (a - 1) * cos + root,
        2 * (a - 1 - (a + 1) * cos),
        a + 1 - (a - 1) * cos - root,
      );
  }
}

/** Gain in dB of a section at a frequency, from its transfer function on the unit circle. */
export function responseDb(c: BiquadCoefficients, frequencyHz: number, rate: number): number {
  const w = (2 * Math.PI * frequencyHz) / rate;
  const [c1, s1, c2, s2] = [Math.cos(w), Math.sin(w), Math.cos(2 * w), Math.sin(2 * w)];
  const top = (c.b0 + c.b1 * c1 + c.b2 * c2) ** 2 + (c.b1 * s1 + c.b2 * s2) ** 2;
  const bottom = (1 + c.a1 * c1 + c.a2 * c2) ** 2 + (c.a1 * s1 + c.a2 * s2) ** 2;
  return 10 * Math.log10(Math.max(top / bottom, 1e-20));
}

/** Gain in dB of all bands that are on. */
export function bandsResponseDb(bands: readonly EqualiserBand[], frequencyHz: number, rate: number): number {
  let sum = 0;
  for (const band of bands)
    if (band.on)
      sum += responseDb(
        designBand(band.shape, band.frequencyHz, band.gainDb, band.q, rate),
        frequencyHz,
        rate,
      );
  return sum;
}

/**
 * One second-order section, direct form II transposed, for one channel.
 *
 * New coefficients are reached in a straight line over the next block. Stable sections form a convex set (the triangle
 * of a1, a2), so every step on the way is stable and nothing clicks.
 */
export class Biquad {
  #c: BiquadCoefficients = IDENTITY;
  #target: BiquadCoefficients = IDENTITY;
  #z1 = 0;
  #z2 = 0;

  /** @param at once without a way, for a filter that has not run yet */
  set(coefficients: BiquadCoefficients, atOnce = false): void {
    this.#target = coefficients;
    if (atOnce) this.#c = coefficients;
  }

  /** Nothing would change: neither now nor on the way to new coefficients. */
  get passes(): boolean {
    return this.#target === IDENTITY && this.#c === IDENTITY && this.#z1 === 0 && this.#z2 === 0;
  }

  /** Filters in place through all sections, one after another. */
  static cascade(sections: readonly Biquad[], x: Float32Array, frames: number): void {
    let waiting: Biquad | null = null;
    for (let s = 0; s < sections.length; s++) {
      const section = sections[s];
      if (section.passes) continue;
      if (section.#c !== section.#target) {
        waiting?.process(x, frames);
        waiting = null;
        section.process(x, frames);
      } else if (waiting === null) waiting = section;
      else {
        Biquad.#pair(waiting, section, x, frames);
        waiting = null;
      }
    }
    waiting?.process(x, frames);
  }

  /** Two settled sections in one loop: a section waits for its own last result, and meanwhile the other is worked out. */
  static #pair(first: Biquad, second: Biquad, x: Float32Array, frames: number): void {
    const { b0, b1, b2, a1, a2 } = first.#c;
    const { b0: d0, b1: d1, b2: d2, a1: c1, a2: c2 } = second.#c;
    let z1 = first.#z1;
    let z2 = first.#z2;
    let z3 = second.#z1;
    let z4 = second.#z2;
    for (let i = 0; i < frames; i++) {
      const v = x[i];
      const y = b0 * v + z1;
      z1 = b1 * v + z2 - a1 * y;
      z2 = b2 * v - a2 * y;
      const w = d0 * y + z3;
      z3 = d1 * y + z4 - c1 * w;
      z4 = d2 * y - c2 * w;
      x[i] = w;
    }
    first.#z1 = settled(z1);
    first.#z2 = settled(z2);
    second.#z1 = settled(z3);
    second.#z2 = settled(z4);
  }

  /** Filters in place. */
  process(x: Float32Array, frames: number): void {
    let z1 = this.#z1;
    let z2 = this.#z2;
    if (this.#c === this.#target) {
      if (this.#c === IDENTITY && z1 === 0 && z2 === 0) return;
      const { b0, b1, b2, a1, a2 } = this.#c;
      for (let i = 0; i < frames; i++) {
        const v = x[i];
        const y = b0 * v + z1;
        z1 = b1 * v + z2 - a1 * y;
        z2 = b2 * v - a2 * y;
        x[i] = y;
      }
    } else {
      const from = this.#c;
      const to = this.#target;
      let { b0, b1, b2, a1, a2 } = from;
      const d0 = (to.b0 - b0) / frames;
      const d1 = (to.b1 - b1) / frames;
      const d2 = (to.b2 - b2) / frames;
      const e1 = (to.a1 - a1) / frames;
      const e2 = (to.a2 - a2) / frames;
      for (let i = 0; i < frames; i++) {
        b0 += d0;
        b1 += d1;
        b2 += d2;
        a1 += e1;
        a2 += e2;
        const v = x[i];
        const y = b0 * v + z1;
        z1 = b1 * v + z2 - a1 * y;
        z2 = b2 * v - a2 * y;
        x[i] = y;
      }
      this.#c = to;
    }
    this.#z1 = settled(z1);
    this.#z2 = settled(z2);
  }
}
