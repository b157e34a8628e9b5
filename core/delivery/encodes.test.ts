import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { cleanEncode, kbpsFor, shareEncodes, shareMore, uploadKbps, type Recipient } from './encodes';
import { bitsPerPixel, judgePicture, planWarnings, viewersOf100 } from './plan-advice';
import { proposePlan } from './propose-plan';
import { ENCODERS, PLAIN_PLAN, type PlanSettings } from './settings';

const plan: PlanSettings = {
  ...PLAIN_PLAN,
  frames: {
    wide: { width: 1280, height: 720, videoKbps: 4000 },
    tall: { width: 720, height: 1280, videoKbps: 2500 },
  },
};
const to = (name: string, more: Partial<Recipient> = {}): Recipient => ({
  id: name.toLowerCase(),
  name,
  frame: 'wide',
  capKbps: null,
  ownKbps: null,
  encodedBy: 'desk',
  ...more,
});
const BOTH = ['wide', 'tall'] as const;

describe('sharing encodes', () => {
  test('one serves all that have room for it', () => {
    const encodes = shareEncodes(
      plan,
      [to('Larch', { capKbps: 6000 }), to('Cairn', { capKbps: 9000 })],
      ['wide'],
    );
    expect(encodes).toMatchObject([{ id: 'wide', videoKbps: 4000, destinationIds: ['larch', 'cairn'] }]);
    expect(uploadKbps(encodes, 128)).toBe(2 * 4128);
  });

  test('a cap a little below the plan is shared rather than paid for with a second encode', () => {
    const encodes = shareEncodes(plan, [to('Larch', { capKbps: 3500 }), to('Cairn')], ['wide']);
    expect(encodes).toMatchObject([{ videoKbps: 3372, destinationIds: ['larch', 'cairn'] }]);
    expect(encodes[0].because).toContain('Larch takes no more than 3500');
  });

  test('a cap far below gets its own, smaller one; the better one is the main one', () => {
    const encodes = shareEncodes(plan, [to('Larch', { capKbps: 1500 }), to('Cairn')], ['wide']);
    expect(encodes).toMatchObject([
      { id: 'wide', videoKbps: 4000, width: 1280, destinationIds: ['cairn'] },
      { id: 'wide-2', videoKbps: 1372, destinationIds: ['larch'] },
    ]);
    expect(encodes[1].width).toBeLessThan(1280);
  });

  test('a rate of its own is kept, and never above its cap', () => {
    const encodes = shareEncodes(
      plan,
      [to('Larch', { ownKbps: 1000 }), to('Cairn', { ownKbps: 9000, capKbps: 5000 })],
      ['wide'],
    );
    expect(encodes.map((e) => e.videoKbps)).toEqual([4872, 1000]);
  });

  test('one that the server encodes for costs the desk nothing and the line its own rate', () => {
    const server = to('Marmot', { ownKbps: 1000, encodedBy: 'server' });
    const encodes = shareEncodes(plan, [to('Larch'), server], ['wide']);
    expect(encodes).toMatchObject([
      {
        id: 'wide',
        videoKbps: 4000,
        destinationIds: ['larch', 'marmot'],
        reencoded: [{ destinationId: 'marmot', videoKbps: 1000 }],
      },
    ]);
    expect(encodes[0].reencoded[0].width).toBeLessThan(1280);
    expect(uploadKbps(encodes, 128)).toBe(4128 + 1128);
    // What the desk makes is little enough already: nothing to make anew.
    expect(shareEncodes(plan, [to('Larch', { ownKbps: 900 }), server], ['wide'])[0].reencoded).toEqual([]);
    expect(shareEncodes(plan, [server], ['wide'])).toMatchObject([
      { videoKbps: 4000, because: expect.stringContaining('Marmot') as string },
    ]);
  });

  test('a frame nobody takes is still encoded for the recording, when asked for', () => {
    const encodes = shareEncodes(plan, [], ['wide']);
    expect(encodes).toMatchObject([{ id: 'wide', videoKbps: 4000, destinationIds: [] }]);
    expect(uploadKbps(encodes, 128)).toBe(0);
  });

  test('everybody is served once, by an encode of the right frame that its cap allows', () => {
    const recipient = fc.record({
      frame: fc.constantFrom(...BOTH),
      capKbps: fc.option(fc.integer({ min: 300, max: 12_000 })),
      ownKbps: fc.option(fc.integer({ min: 100, max: 12_000 })),
      encodedBy: fc.constantFrom(...ENCODERS),
    });
    fc.assert(
      fc.property(fc.array(recipient, { maxLength: 8 }), (some) => {
        const all = some.map((r, i) => ({ ...r, id: `d${i}`, name: `D ${i}` }));
        const encodes = shareEncodes(plan, all, BOTH);
        expect(encodes.flatMap((e) => e.destinationIds).sort()).toEqual(all.map((r) => r.id).sort());
        expect(new Set(encodes.map((e) => e.id)).size).toBe(encodes.length);
        for (const encode of encodes)
          for (const id of encode.destinationIds) {
            const r = all.find((one) => one.id === id)!;
            expect(encode.frame).toBe(r.frame);
            if (r.capKbps !== null)
              expect(kbpsFor(encode, id)).toBeLessThanOrEqual(Math.max(100, r.capKbps - plan.audioKbps));
          }
      }),
    );
  });
});

describe('destinations that change while live', () => {
  const larch = to('Larch');
  const cairn = to('Cairn', { ownKbps: 1000 });
  const running = shareEncodes(plan, [cairn], ['wide']);
  const of = (encodes: ReturnType<typeof shareMore>) =>
    encodes.map((e) => [e.id, e.videoKbps, e.destinationIds]);

  test('one that wants more gets a new encode; what runs and who is on it stay', () =>
    expect(of(shareMore(running, plan, [larch, cairn]))).toEqual([
      ['wide', 1000, ['cairn']],
      ['wide-2', 4000, ['larch']],
    ]));

  test('one that the server encodes for joins the main encode; the recording without alerts serves nobody', () => {
    const clean = cleanEncode(plan.frames.wide!);
    const more = shareMore([...running, clean], plan, [
      cairn,
      to('Marmot', { ownKbps: 500, encodedBy: 'server' }),
      larch,
    ]);
    expect(of(more)).toEqual([
      ['wide', 1000, ['cairn', 'marmot']],
      ['clean', 4000, []],
      ['wide-2', 4000, ['larch']],
    ]);
    expect(kbpsFor(more[0], 'marmot')).toBe(500);
  });

  test('one that is content with what runs takes it', () =>
    expect(of(shareMore(running, plan, [cairn, to('Marmot', { capKbps: 1300 })]))).toEqual([
      ['wide', 1000, ['cairn', 'marmot']],
    ]));

  test('when no encode is left it takes the nearest that its cap allows; what nobody takes goes on', () => {
    const two = shareMore(running, plan, [larch, cairn]);
    expect(of(shareMore(two, plan, [to('Marmot', { ownKbps: 2500 })]))).toEqual([
      ['wide', 1000, ['marmot']],
      ['wide-2', 4000, []],
    ]);
  });

  test('a frame that was not sent yet is, and the same again changes nothing', () => {
    const more = shareMore(running, plan, [cairn, to('Marmot', { frame: 'tall' })]);
    expect(of(more)).toEqual([
      ['wide', 1000, ['cairn']],
      ['tall', 2500, ['marmot']],
    ]);
    expect(shareMore(more, plan, [cairn, to('Marmot', { frame: 'tall' })])).toEqual(more);
  });
});

describe('advice', () => {
  test('bits a pixel and what they are enough for', () => {
    expect(bitsPerPixel({ width: 1280, height: 720, videoKbps: 2400 }, 30)).toBeCloseTo(0.0868, 4);
    const thin = { width: 1920, height: 1080, videoKbps: 2000 };
    expect(judgePicture(thin, 30, 'game')).toMatch(/blocks|thin/);
    expect(judgePicture({ width: 640, height: 360, videoKbps: 1300 }, 30, 'talk')).toBe('good');
  });

  test('fewer lines carry more', () => {
    let last = 101;
    for (const kbps of [0, 1000, 2500, 6000, 20_000, 500_000]) {
      expect(viewersOf100(kbps)).toBeLessThanOrEqual(last);
      last = viewersOf100(kbps);
    }
    expect(viewersOf100(2500)).toBe(95);
  });

  test('a sound plan has no warnings; each fault has one', () => {
    const encodes = (p: PlanSettings) => shareEncodes(p, [to('Larch'), to('Cairn')], ['wide']);
    const say = (p: PlanSettings) =>
      planWarnings(p, encodes(p))
        .map((w) => w.text)
        .join('\n');
    expect(say({ ...plan, lineKbps: 20_000 })).toBe('');
    expect(say({ ...plan, lineKbps: 9000 })).toContain('leaves less than 30%');
    expect(say({ ...plan, lineKbps: 5000 })).toContain('more than the connection carries');
    expect(say({ ...plan, keyframeSeconds: 5 })).toContain('platforms ask for 2 s');
    expect(say({ ...plan, audioKbps: 64 })).toContain('hollow');
    const starved = { ...plan, frames: { wide: { width: 1280, height: 720, videoKbps: 400 } } };
    expect(say(starved)).toContain('thin for 1280');
    expect(say(starved)).toContain('starve');
  });
});

describe('a proposed plan', () => {
  const frames = { wide: { width: 1920, height: 1080 }, tall: { width: 1080, height: 1920 } };
  const propose = (
    lineKbps: number,
    content: 'talk' | 'game',
    recipients: Recipient[],
    pixels: number | null = null,
  ) =>
    proposePlan({
      lineKbps,
      headroom: 0.3,
      content,
      recipients,
      frames: recipients.some((r) => r.frame === 'tall') ? frames : { wide: frames.wide },
      pixelsPerSecond: pixels,
    });

  test('fits the line with its headroom, for any line and any destinations', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1500, max: 100_000 }),
        fc.constantFrom('talk' as const, 'game' as const),
        fc.array(
          fc.record({
            frame: fc.constantFrom(...BOTH),
            capKbps: fc.option(fc.integer({ min: 1500, max: 9000 })),
          }),
          {
            minLength: 1,
            maxLength: 3,
          },
        ),
        (line, content, some) => {
          const recipients = some.map((r, i) => to(`D${i}`, r));
          const { plan: made, reasons } = propose(line, content, recipients);
          const upload = uploadKbps(
            shareEncodes(made, recipients, Object.keys(made.frames) as ('wide' | 'tall')[]),
            made.audioKbps,
          );
          if (line / recipients.length > 900) expect(upload).toBeLessThanOrEqual(line * 0.7 + 1);
          expect(reasons.length).toBeGreaterThan(4);
          for (const frame of Object.values(made.frames)) {
            expect(frame.width % 2).toBe(0);
            expect(frame.height % 2).toBe(0);
          }
        },
      ),
    );
  });

  test('a slow line gives few pixels, a fast one many; a fast game on a fast line 60 pictures', () => {
    const slow = propose(2500, 'talk', [to('Larch')]).plan;
    const fast = propose(30_000, 'game', [to('Larch')]).plan;
    expect(slow.frames.wide!.height).toBeLessThanOrEqual(720);
    expect(fast.frames.wide!.height).toBeGreaterThanOrEqual(720);
    expect([slow.fps, fast.fps]).toEqual([30, 60]);
  });

  test('never more than this machine makes in time', () => {
    const { plan: made, reasons } = propose(30_000, 'talk', [to('Larch')], 640 * 360 * 31);
    expect(made.frames.wide!.width * made.frames.wide!.height * made.fps).toBeLessThanOrEqual(640 * 360 * 31);
    expect(reasons.join(' ')).toContain('this machine');
  });

  test('on a line without end takes no rate that shows in no picture, for no frame, with or without somebody who gets it', () => {
    for (const pixels of [640 * 360 * 31, null]) {
      const { plan: made } = propose(5_000_000, 'talk', [to('Larch')], pixels);
      for (const { width, height, videoKbps } of Object.values(made.frames)) {
        expect(videoKbps).toBeLessThanOrEqual(9000);
        // Half a bit a pixel is more than anybody sees.
        expect((videoKbps * 1000) / (width * height * made.fps)).toBeLessThan(0.5);
      }
    }
  });
});
