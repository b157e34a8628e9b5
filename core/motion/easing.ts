/**
 * Timing functions: the share of a movement that is done after a share of its time.
 * Keywords and `cubic-bezier()` as in CSS Easing Functions Level 1, and a spring.
 */
import { Fault } from '../fault';

/** 0 at 0 and 1 at 1; may leave 0…1 in between. */
export type Ease = (time: number) => number;

const KEYWORDS: Record<string, [number, number, number, number]> = {
  ease: [0.25, 0.1, 0.25, 1],
  'ease-in': [0.42, 0, 1, 1],
  'ease-out': [0, 0, 0.58, 1],
  'ease-in-out': [0.42, 0, 0.58, 1],
};

/** Further than this a curve may not reach beyond its ends: a layer would fly out of the frame and back. */
const MAX_OVERSHOOT = 3;
/** Leaves a trillionth of the way: less than a pixel's millionth. */
const BISECTIONS = 40;
const known = new Map<string, Ease>();

/**
 * @param text `linear`, `ease`, `ease-in`, `ease-out`, `ease-in-out`, `cubic-bezier(x1, y1, x2, y2)` with x in 0…1, or
 * `spring(bounce)` with bounce in 0…0.9
 * @throws Fault `motion.easing` saying what can be written
 */
export function easeOf(text: string): Ease {
  let ease = known.get(text);
  if (!ease) {
    ease = parsed(text.trim().toLowerCase());
    if (known.size > 200) known.clear();
    known.set(text, ease);
  }
  return ease;
}

/** Why a timing function cannot be used, or null when it can. */
export function easingProblem(text: string): string | null {
  try {
    easeOf(text);
    return null;
  } catch (error) {
    if (error instanceof Fault) return error.message;
    throw error;
  }
}

function parsed(text: string): Ease {
  if (text === 'linear') return clamped((t) => t);
  if (KEYWORDS[text]) return clamped(cubicBezier(...KEYWORDS[text]));
  const call = /^(cubic-bezier|spring)\(([^()]*)\)$/.exec(text);
  const values = call?.[2].split(',').map((v) => (v.trim() === '' ? NaN : Number(v)));
  if (call?.[1] === 'cubic-bezier' && values?.length === 4 && values.every(Number.isFinite)) {
    const [x1, y1, x2, y2] = values;
    if (x1 < 0 || x1 > 1 || x2 < 0 || x2 > 1)
      throw new Fault('motion.easing', 'the first and third number of cubic-bezier() lie between 0 and 1');
    if (Math.max(Math.abs(y1), Math.abs(y2)) > MAX_OVERSHOOT)
      throw new Fault(
        'motion.easing',
        `the second and fourth number lie between −${MAX_OVERSHOOT} and ${MAX_OVERSHOOT}`,
      );
    return clamped(cubicBezier(x1, y1, x2, y2));
  }
  if (call?.[1] === 'spring' && values?.length === 1 && values[0] >= 0 && values[0] <= 0.9)
    return clamped(spring(values[0]));
  throw new Fault(
    'motion.easing',
    'write linear, ease, ease-in, ease-out, ease-in-out, cubic-bezier(0.3, 0, 0.2, 1) or spring(0.4) with a bounce from 0 to 0.9',
  );
}

const clamped =
  (curve: Ease): Ease =>
  (t) =>
    t <= 0 ? 0 : t >= 1 ? 1 : curve(t);

/** By bisection, which finds the one point of the curve at each time (CSS Easing Functions Level 1, section 2.2). */
function cubicBezier(x1: number, y1: number, x2: number, y2: number): Ease {
  const at = (a: number, b: number, u: number) => 3 * a * u * (1 - u) ** 2 + 3 * b * u * u * (1 - u) + u ** 3;
  return (t) => {
    let [low, high] = [0, 1];
    for (let i = 0; i < BISECTIONS; i++) {
      const u = (low + high) / 2;
      if (at(x1, x2, u) < t) low = u;
      else high = u;
    }
    return at(y1, y2, high);
  };
}

/**
 * A damped harmonic oscillator from rest (ẍ + 2ζωẋ + ω²x = ω²), its damping ζ = 1 − bounce and ω such that a thousandth is
 * left at the end; the rest is spread over the whole time.
 */
function spring(bounce: number): Ease {
  const damping = 1 - bounce;
  if (damping >= 0.999) {
    // (1 + ω) e^−ω = 0.001
    const omega = 9.2334;
    const free = (t: number) => 1 - Math.exp(-omega * t) * (1 + omega * t);
    return (t) => free(t) + (1 - free(1)) * t;
  }
  const decay = Math.log(1000);
  const turn = (decay / damping) * Math.sqrt(1 - damping * damping);
  const free = (t: number) =>
    1 - Math.exp(-decay * t) * (Math.cos(turn * t) + (decay / turn) * Math.sin(turn * t));
  const rest = 1 - free(1);
  return (t) => free(t) + rest * t;
}
