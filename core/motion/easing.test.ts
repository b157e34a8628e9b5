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
