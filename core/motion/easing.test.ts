import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { easeOf, easingProblem } from './easing';

describe('timing functions', () => {
  // Values of the CSS keywords' curves, solved apart from this code by bisection on their parametric form.
  test.each([
    ['linear', 0.3, 0.3],
    ['ease', 0.5, 0.8024],
    ['ease-in', 0.5, 0.3154],
    ['ease-out', 0.5, 0.6846],
    ['ease-in-out', 0.5, 0.5],
    ['ease-in-out', 0.25, 0.1292],
    ['cubic-bezier(0, 0, 1, 1)', 0.7, 0.7],
    ['cubic-bezier(0.34, 1.56, 0.64, 1)', 0.5, 1.0874],
  ])('%s at %d is %d', (text, t, value) => expect(easeOf(text)(t)).toBeCloseTo(value, 3));

  test('begins at 0, ends at 1, stays there, and never steps', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.constantFrom('linear', 'ease', 'ease-in', 'ease-out', 'ease-in-out'),
          fc
            .tuple(
              fc.double({ min: 0, max: 0.95, noNaN: true }),
              fc.double({ min: -3, max: 3, noNaN: true }),
              fc.double({ min: 0.05, max: 1, noNaN: true }),
              fc.double({ min: -3, max: 3, noNaN: true }),
            )
            .map(
              ([a, b, c, d]) =>
                `cubic-bezier(${a.toFixed(3)}, ${b.toFixed(3)}, ${c.toFixed(3)}, ${d.toFixed(3)})`,
            ),
          fc.double({ min: 0, max: 0.9, noNaN: true }).map((bounce) => `spring(${bounce.toFixed(3)})`),
        ),
        (text) => {
          const ease = easeOf(text);
          expect([ease(-1), ease(0), ease(1), ease(7)]).toEqual([0, 0, 1, 1]);
          // A curve can be as steep as its handles let it; a step would be a jump at any resolution.
          const step = (from: number, to: number) => Math.abs(ease(to) - ease(from));
          for (let i = 0; i < 100; i++) {
            const t = i / 100;
            if (step(t, t + 0.01) < 0.2) continue;
            expect(step(t + 0.005, t + 0.0051)).toBeLessThan(Math.max(0.15, step(t, t + 0.01)));
          }
          expect(step(1 - 1e-7, 1)).toBeLessThan(0.02);
        },
      ),
    );
  });

  test('a spring goes beyond its end and comes to rest; without bounce it does not', () => {
    const most = (text: string) => Math.max(...Array.from({ length: 200 }, (_, i) => easeOf(text)(i / 200)));
    expect(most('spring(0.5)')).toBeGreaterThan(1.1);
    expect(most('spring(0)')).toBeLessThanOrEqual(1);
    expect(Math.abs(easeOf('spring(0.5)')(0.98) - 1)).toBeLessThan(0.01);
  });

  test('curves at eleven places, found apart from this code by small steps along them', () => {
    for (const [x1, y1, x2, y2] of [
      [0.25, 0.1, 0.25, 1],
      [0, 0.9, 1, 0.1],
      [1, -2, 0, 3],
      [0.7, 0.2, 0.05, 0.6],
    ]) {
      const ease = easeOf(`cubic-bezier(${x1}, ${y1}, ${x2}, ${y2})`);
      const along = (a: number, b: number, u: number) =>
        3 * (1 - u) * (1 - u) * u * a + 3 * (1 - u) * u * u * b + u * u * u;
      for (const u of [0.03, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.97])
        expect(ease(along(x1, x2, u))).toBeCloseTo(along(y1, y2, u), 4);
    }
  });

  test.each([0, 0.2, 0.5, 0.9])('a spring with a bounce of %d moves as its equation says', (bounce) => {
    const damping = 1 - bounce;
    const omega = bounce === 0 ? 9.2334 : Math.log(1000) / damping;
    // ẍ = ω² (1 − x) − 2ζω ẋ, by steps of the middle (second order).
    const steps = 20_000;
    const h = 1 / steps;
    let [x, v] = [0, 0];
    const pull = (place: number, speed: number) => omega * omega * (1 - place) - 2 * damping * omega * speed;
    const free = [0];
    for (let i = 0; i < steps; i++) {
      const [middle, speed] = [x + (h / 2) * v, v + (h / 2) * pull(x, v)];
      [x, v] = [x + h * speed, v + h * pull(middle, speed)];
      free.push(x);
    }
    const rest = 1 - x;
    for (let i = 1; i < 20; i++) {
      const t = i / 20;
      expect(easeOf(`spring(${bounce})`)(t)).toBeCloseTo(free[t * steps] + rest * t, 3);
    }
  });

  test('is written in any case, with blanks, and up to its very limits', () => {
    for (const text of [' LINEAR ', 'cubic-bezier(1, 3, 0, -3)', 'cubic-bezier(0,0,1,1)', 'spring(0.9)'])
      expect(easingProblem(text)).toBeNull();
  });

  test.each([
    ['cubic-bezier(-0.1, 0, 0, 1)', 'the first and third'],
    ['cubic-bezier(1.1, 0, 0, 1)', 'the first and third'],
    ['cubic-bezier(0, 0, -0.1, 1)', 'the first and third'],
    ['cubic-bezier(0, 0, 1.1, 1)', 'the first and third'],
    ['cubic-bezier(0, 3.1, 0, 1)', 'the second and fourth number lie between −3 and 3'],
    ['cubic-bezier(0, 0, 0, -3.1)', 'the second and fourth number lie between −3 and 3'],
    ['a spring(0.2)', 'write linear'],
    ['spring(0.2) or so', 'write linear'],
    ['spring(0.2, 0.3)', 'write linear'],
    ['spring(-0.1)', 'write linear'],
    ['spring(0.91)', 'write linear'],
    ['cubic-bezier(0.2)', 'write linear'],
    ['cubic-bezier(0, 0, 1, 1, 1)', 'write linear'],
    ['cubic-bezier( , 0, 1, 1)', 'write linear'],
    ['spring(0.2, 0, 1, 1)', 'write linear'],
  ])('%s is refused: %s', (text, words) => {
    expect(easingProblem(text)).toContain(words);
    expect(() => easeOf(text)).toThrow(expect.objectContaining({ code: 'motion.easing' }));
  });

  test.each([
    '',
    'fast',
    'cubic-bezier(1,2,3)',
    'cubic-bezier(2, 0, 0, 1)',
    'cubic-bezier(0,9,0,1)',
    'spring(2)',
    'spring()',
    'cubic-bezier(0,,0,1)',
    'steps(3)',
  ])('%j is refused with what can be written', (text) =>
    expect(easingProblem(text)).toMatch(/write linear|lie between/),
  );
});
