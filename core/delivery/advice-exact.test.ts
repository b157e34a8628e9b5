/** What practice says of plans, which plan a show has, and what is advised while live, to the figure and the word. */
import { describe, expect, test } from 'vitest';
import { sampleDestination, sampleDocument, sampleShow } from '../show/sample-show';
import type { DestinationRecord, PlanRecord, ShowRecord } from '../show/records';
import { cleanEncode, shareEncodes, type Recipient } from './encodes';
import { adviseHealth, CAUSE_WORDS, type HealthSample } from './health';
import { encodesInUse, enabledDestinations, planInUse } from './live-plan';
import { bitsPerPixel, judgePicture, mbps, perPixelAt, planWarnings, viewersOf100 } from './plan-advice';
import { PLAIN_PLAN, type PlanSettings } from './settings';

const WIDE = { width: 1280, height: 720, videoKbps: 4000 };
const TALL = { width: 720, height: 1280, videoKbps: 2500 };
const plan: PlanSettings = { ...PLAIN_PLAN, frames: { wide: WIDE, tall: TALL } };
const to = (name: string, more: Partial<Recipient> = {}): Recipient => ({
  ...{ id: name.toLowerCase(), name, frame: 'wide', capKbps: null, ownKbps: null, encodedBy: 'desk' },
  ...more,
});
describe('what practice says of a plan', () => {
  test('bits a pixel: how many there are, how many are wanted, what that looks like', () => {
    expect(bitsPerPixel(WIDE, 30)).toBeCloseTo(0.1447, 4);
    expect(perPixelAt(30, 'talk')).toEqual({ least: 0.05, good: 0.08 });
    expect(perPixelAt(60, 'game').least).toBeCloseTo(0.0673, 4);
    expect(perPixelAt(60, 'game').good).toBeCloseTo(0.1009, 4);
    const at = (bits: number, content: 'talk' | 'game') =>
      judgePicture({ width: 1000, height: 1000, videoKbps: bits * 30_000 }, 30, content);
    const judged = (content: 'talk' | 'game') =>
      [0.03, 0.04, 0.052, 0.06, 0.085, 0.13, 0.25, 0.4].map((b) => at(b, content));
    expect(judged('talk')).toMatchInlineSnapshot(`
      [
        "breaks into blocks when it moves",
        "thin even for talk",
        "fine for talk",
        "fine for talk",
        "good",
        "good",
        "more than is seen",
        "more than is seen",
      ]
    `);
    expect(judged('game')).toMatchInlineSnapshot(`
      [
        "breaks into blocks when it moves",
        "breaks into blocks when it moves",
        "breaks into blocks when it moves",
        "thin for fast game",
        "fair for fast game",
        "good",
        "good",
        "more than is seen",
      ]
    `);
  });

  test('how many viewers’ connections carry a rate', () => {
    const of = [0, 500, 1000, 1750, 2500, 4000, 6000, 9000, 16_000, 30_000, 45_000, 60_000, 90_000];
    expect(of.map(viewersOf100)).toEqual([100, 100, 99, 97, 95, 90, 84, 74, 58, 38, 29, 20, 20]);
    expect(mbps(5550)).toBe('5.5');
  });

  test('warnings, in order', () => {
    const warned = (more: Partial<PlanSettings>, recipients = [to('Larch')]) => {
      const of = { ...plan, frames: { wide: WIDE }, ...more };
      return planWarnings(of, shareEncodes(of, recipients, ['wide', 'tall'])).map(
        ({ level, text }) => `${level}: ${text}`,
      );
    };
    expect(warned({})).toEqual([]);
    expect(warned({ lineKbps: 4000 })).toMatchInlineSnapshot(`
      [
        "stop: 4.1 Mbps is more than the connection carries (4.0): everyone would stall. Lower the rates or switch a destination off.",
      ]
    `);
    expect(warned({ lineKbps: 5000 })).toMatchInlineSnapshot(`
      [
        "warn: 4.1 Mbps leaves less than 30% of the connection free: it may stall when anything else uses it.",
      ]
    `);
    expect(warned({ lineKbps: 5900 })).toEqual([]);
    expect(warned({ keyframeSeconds: 4 })).toMatchInlineSnapshot(`
      [
        "warn: A keyframe every 4 s: platforms ask for 2 s; viewers wait longer to see a picture.",
      ]
    `);
    expect(warned({ keyframeSeconds: 1 })).toMatchInlineSnapshot(`
      [
        "warn: A keyframe every 1 s costs sharpness; platforms ask for 2 s.",
      ]
    `);
    expect(warned({ keyframeSeconds: 2.005 })).toEqual([]);
    const atServer = (name: string) => to(name, { ownKbps: 900, encodedBy: 'server' });
    expect(warned({}, [atServer('Larch')])).toEqual([]);
    expect(warned({}, [atServer('Larch'), atServer('Cairn')])).toMatchInlineSnapshot(`
      [
        "warn: The server encodes for 2 destinations: each takes about as much work as the desk’s encoder. Let some share a rate.",
      ]
    `);
    expect(warned({ frames: { wide: { ...WIDE, videoKbps: 1000 } } })).toMatchInlineSnapshot(`
      [
        "warn: Wide: 1000 kbps is thin for 1280 × 720 at 30. Fewer pixels look better than starved ones.",
      ]
    `);
    expect(warned({ frames: { tall: { ...TALL, videoKbps: 400 } }, audioKbps: 160 })).toMatchInlineSnapshot(`
      [
        "warn: Tall: 400 kbps is thin for 720 × 1280 at 30. Fewer pixels look better than starved ones.",
        "warn: Tall: 160 kbps of sound starve 400 kbps of picture: take 96 or 64.",
      ]
    `);
    expect(warned({ audioKbps: 64 })).toMatchInlineSnapshot(`
      [
        "warn: Below 96 kbps music sounds hollow.",
      ]
    `);
    // What is recorded clean is as the wide one: said once.
    expect(
      planWarnings({ ...plan, frames: { wide: WIDE } }, [{ ...cleanEncode(WIDE), videoKbps: 100 }]),
    ).toEqual([]);
  });
});

describe('the plan of a show', () => {
  const record = (id: string, position: number, more: Partial<PlanRecord> = {}): PlanRecord => ({
    ...{ kind: 'plan', id, showId: 'show', name: id, position, ...plan },
    ...more,
  });
  const delivery = (part: Partial<ShowRecord['delivery']>): ShowRecord => ({
    ...sampleShow,
    delivery: { ...sampleShow.delivery, ...part },
  });
  const recorded = (frames: ShowRecord['delivery']['record']['frames']) =>
    delivery({ record: { ...sampleShow.delivery.record, frames } });

  test('is the chosen one, else the first, else none', () => {
    const of = (show: ShowRecord, ...plans: PlanRecord[]) =>
      planInUse(sampleDocument(show, ...plans))?.id ?? null;
    const [a, b] = [record('a', 0), record('b', 1)];
    expect(of(sampleShow, a, b)).toBe('a');
    expect(of(delivery({ planId: 'b' }), a, b)).toBe('b');
    expect(of(delivery({ planId: 'gone' }), a, b)).toBe('a');
    expect(of(sampleShow)).toBeNull();
  });

  test('only destinations that are on count', () => {
    const document = sampleDocument(sampleDestination('on'), sampleDestination('off', { enabled: false }));
    expect(enabledDestinations(document).map(({ id }) => id)).toEqual(['on']);
  });

  test('the first frame is always encoded, another when somebody takes it, the clean one when it is recorded', () => {
    const ids = (show: ShowRecord, plans: PlanRecord[], ...destinations: DestinationRecord[]) =>
      encodesInUse(sampleDocument(show, ...plans, ...destinations)).map(({ id }) => id);
    const plans = [record('a', 0)];
    expect(ids(recorded(['wide', 'tall']), plans)).toEqual(['wide']);
    expect(ids(recorded(['wide', 'tall']), plans, sampleDestination('m', { frame: 'tall' }))).toEqual([
      'wide',
      'tall',
    ]);
    expect(
      ids(recorded(['wide', 'tall']), plans, sampleDestination('m', { frame: 'tall', enabled: false })),
    ).toEqual(['wide']);
    expect(ids(recorded(['clean']), plans)).toEqual(['wide', 'clean']);
    const tallOnly = [record('a', 0, { frames: { tall: TALL } })];
    expect(ids(recorded(['clean']), tallOnly)).toEqual(['tall']);
    const { wide, tall } = sampleShow.frames;
    const noWide = { ...recorded(['clean']), frames: { wide: { ...wide, used: false }, tall } };
    expect(ids(noWide, plans)).toEqual(['tall']);
    expect(ids(sampleShow, [])).toEqual([]);
    expect(encodesInUse(new Map(), record('a', 0))).toEqual([]);
  });
});

describe('advice while live', () => {
  const good: HealthSample = {
    ...{ atMs: 0, fps: 30, pace: 30, scale: 1, planFps: 30, due: 30, skipped: 0, encoderBusy: 0, leftOut: 0 },
    ...{ lineDropped: 0, unackedMs: 20, kbps: 2000, share: 1 },
    destinations: [{ id: 'l', name: 'Larch', kbps: 2000, dropped: 0, lagMs: 10, state: 'live' }],
  };
  const advised = (more: Partial<HealthSample>, count = 10) =>
    adviseHealth(Array.from({ length: count }, () => ({ ...good, ...more }))).map(
      ({ cause, destination, text, steps }) =>
        `${CAUSE_WORDS[cause]} (${destination ?? 'all'}): ${text} [${steps.join(', ')}]`,
    );
  const larch = (state: string) => ({ destinations: [{ ...good.destinations[0], state }] });

  test('each cause in its words', () => {
    expect(advised({ share: 0.4 })).toMatchInlineSnapshot(`
      [
        "Connection slow (all): The connection carries 40% of the plan: viewers see softer video, nothing is dropped. Stop other uploads, or switch a destination off. [lowerRate, smaller]",
      ]
    `);
    expect(advised({ unackedMs: 1501 })).toMatchInlineSnapshot(`
      [
        "Connection slow (all): The way to the relay is 1.5 s behind. Stop other uploads on this computer. [lowerRate, smaller]",
      ]
    `);
    expect(advised(larch('refused'))).toMatchInlineSnapshot(`
      [
        "Destination slow (Larch): Larch refuses: nobody sees it there. Enter its stream key again; the others continue. []",
      ]
    `);
    expect(advised(larch('unreachable'))).toMatchInlineSnapshot(`
      [
        "Destination slow (Larch): Larch cannot be reached: video is frozen there; reconnecting. The others continue. []",
      ]
    `);
    expect(advised(larch('stalled'))).toMatchInlineSnapshot(`
      [
        "Destination slow (Larch): Larch takes less than is sent: video frames are dropped there. Choose another server or a lower bitrate for it. []",
      ]
    `);
    expect(advised({ pace: 15 })).toMatchInlineSnapshot(`
      [
        "Rendering slow (all): This computer is overloaded: 15 fps, evenly spaced, instead of 30. It returns by itself when there is room; a lower output size or fewer moving layers helps for good. [fewerFrames, smaller]",
      ]
    `);
    expect(advised({ skipped: 3 })).toMatchInlineSnapshot(`
      [
        "Rendering slow (all): Rendering overloaded: 10% of frames dropped. Lower the output size or use fewer moving layers. [fewerFrames, smaller]",
      ]
    `);
    expect(advised({ encoderBusy: 2, leftOut: 1 })).toMatchInlineSnapshot(`
      [
        "Encoder slow (all): Encoder overloaded: the video stutters. Lower the size, use 30 fps, or the Fast preset. [fewerFrames, quick, smaller]",
      ]
    `);
    expect(advised({ encoderBusy: 1, leftOut: 2 })).toMatchInlineSnapshot(`
      [
        "Encoder slow (all): The video is too busy for its bitrate: frames are dropped. Raise the bitrate or lower the size. [higherRate, smaller]",
      ]
    `);
  });

  test('just before each bound there is nothing to say', () => {
    expect(advised({ share: 0.95 })).toEqual([]);
    expect(advised({ unackedMs: 1500 })).toEqual([]);
    expect(advised({ pace: 29.7 })).toEqual([]);
    expect(advised({ due: 100, skipped: 2 })).toEqual([]);
    expect(advised({ due: 100, encoderBusy: 1, leftOut: 1 })).toEqual([]);
    expect(advised({ due: 0 })).toEqual([]);
    // Only the last ten seconds count.
    const old = Array.from({ length: 5 }, () => ({ ...good, skipped: 30 }));
    expect(adviseHealth([...old, ...Array.from({ length: 10 }, () => good)])).toEqual([]);
    expect(adviseHealth([...old, ...Array.from({ length: 9 }, () => good)])).toHaveLength(1);
  });
});
