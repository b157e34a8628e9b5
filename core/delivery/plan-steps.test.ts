import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { shareEncodes } from './encodes';
import { encodeDiffers, encodeValues, PLAN_STEPS, planStep, stepWords } from './plan-steps';
import { PLAIN_PLAN, type FramePlan, type PlanSettings } from './settings';

const plan = (wide: FramePlan, more: Partial<PlanSettings> = {}): PlanSettings => ({
  ...PLAIN_PLAN,
  frames: { wide },
  ...more,
});
const HD = { width: 1280, height: 720, videoKbps: 3000 };

describe('one step', () => {
  test('smaller: the next usual size of the same shape, at a rate for it, in both frames', () => {
    const tall = { width: 360, height: 640, videoKbps: 900 };
    const by = planStep({ ...plan(HD), frames: { wide: HD, tall } }, 'smaller', [])!;
    expect(by.frames).toEqual({
      wide: { width: 960, height: 540, videoKbps: 1950 },
      tall: { width: 270, height: 480, videoKbps: 600 },
    });
    expect(stepWords(by)).toBe('Send 960 × 540, 1.9 Mbps');
  });

  test('fewer frames: half of a high rate; thirty stay thirty', () => {
    for (const [fps, half] of [
      [60, 30],
      [59.94, 29.97],
      [50, 25],
    ])
      expect(planStep(plan(HD, { fps }), 'fewerFrames', [])).toEqual({ fps: half });
    for (const fps of [30, 29.97, 25, 24]) expect(planStep(plan(HD, { fps }), 'fewerFrames', [])).toBeNull();
  });

  test('the Fast preset, where it is not taken', () => {
    expect(planStep(plan(HD), 'quick', [])).toBeNull();
    const by = planStep(plan(HD, { effort: 'careful' }), 'quick', [])!;
    expect(by).toEqual({ effort: 'quick' });
    expect(stepWords(by)).toBe('Use the Fast preset');
  });

  test('a lower rate goes down to what can just be followed', () => {
    expect(planStep(plan(HD), 'lowerRate', [])!.frames!.wide).toEqual({ ...HD, videoKbps: 2250 });
    expect(planStep(plan({ ...HD, videoKbps: 150 }), 'lowerRate', [])).toBeNull();
  });

  test('a higher rate only as far as the line carries it', () => {
    const sent = (of: PlanSettings) =>
      shareEncodes(
        of,
        [{ id: 'l', name: 'Larch', frame: 'wide', capKbps: null, ownKbps: null, encodedBy: 'desk' }],
        ['wide'],
      );
    const free = plan(HD);
    expect(planStep(free, 'higherRate', sent(free))!.frames!.wide!.videoKbps).toBe(3750);
    // 3750 and 128 of sound need 5540 when 30 % stay free.
    for (const [lineKbps, fits] of [
      [5600, true],
      [5500, false],
    ] as const) {
      const of = plan(HD, { lineKbps });
      expect([lineKbps, planStep(of, 'higherRate', sent(of)) !== null]).toEqual([lineKbps, fits]);
    }
  });

  test('any step of any plan is a plan that can be encoded, and steps come to an end', () => {
    const side = fc.integer({ min: 8, max: 1200 }).map((n) => n * 2);
    fc.assert(
      fc.property(side, side, fc.integer({ min: 100, max: 50_000 }), (width, height, videoKbps) => {
        let now = plan({ width, height, videoKbps });
        for (let i = 0; i < 100; i++) {
          const by = planStep(now, i % 2 === 0 ? 'smaller' : 'lowerRate', []);
          if (!by) continue;
          const { wide } = by.frames!;
          expect([wide!.width % 2, wide!.height % 2]).toEqual([0, 0]);
          expect(Math.min(wide!.width, wide!.height)).toBeGreaterThan(0);
          expect(wide!.videoKbps).toBeGreaterThanOrEqual(150);
          now = { ...now, ...by };
        }
        expect(planStep(now, 'smaller', [])).toBeNull();
        expect(planStep(now, 'lowerRate', [])).toBeNull();
      }),
    );
  });

  test('a plan without frames has nowhere to go', () => {
    const none = { ...plan(HD), frames: {} };
    expect(PLAN_STEPS.map((step) => planStep(none, step, []))).toEqual([null, null, null, null, null]);
  });
});

test('what is sent differs from the plan by each of its values, and by nothing else', () => {
  const of = plan(HD);
  const [encode] = shareEncodes(of, [], ['wide']);
  const now = encodeValues(of, encode);
  expect(now).toMatchObject({ width: 1280, height: 720, kbps: 3000, fps: 30, keyframeSeconds: 2 });
  expect(encodeDiffers(now, { ...now })).toBe(false);
  for (const change of [
    { width: 960 },
    { height: 540 },
    { fps: 60 },
    { kbps: 2900 },
    { keyframeSeconds: 1 },
    { effort: 'careful' as const },
  ])
    expect([change, encodeDiffers(now, { ...now, ...change })]).toEqual([change, true]);
});
