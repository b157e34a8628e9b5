/** What is shared, proposed, warned of and advised for plans as people have them, to the figure and the word. */
import { describe, expect, test } from 'vitest';
import { sampleDocument, sampleShow } from '../show/sample-show';
import type { DestinationRecord, PlanRecord, ShowRecord } from '../show/records';
import {
  cleanEncode,
  frameOf,
  isMain,
  isRecorded,
  isSecond,
  kbpsFor,
  shareEncodes,
  shareMore,
  uploadKbps,
  ENCODE_IDS,
  type Encode,
  type Recipient,
} from './encodes';
import { adviseHealth, CAUSE_WORDS, type HealthSample } from './health';
import { encodesInUse, enabledDestinations, planInUse } from './live-plan';
import { bitsPerPixel, judgePicture, mbps, perPixelAt, planWarnings, viewersOf100 } from './plan-advice';
import { proposePlan, sizeOf, sizesOf, type ProposalInput } from './propose-plan';
import { PLAIN_DESTINATION, PLAIN_PLAN, type PlanSettings } from './settings';

const WIDE = { width: 1280, height: 720, videoKbps: 4000 };
const TALL = { width: 720, height: 1280, videoKbps: 2500 };
const plan: PlanSettings = { ...PLAIN_PLAN, frames: { wide: WIDE, tall: TALL } };
const to = (name: string, more: Partial<Recipient> = {}): Recipient => ({
  ...{ id: name.toLowerCase(), name, frame: 'wide', capKbps: null, ownKbps: null, encodedBy: 'desk' },
  ...more,
});
/** One encode in a line. */
const line = ({ id, width, height, videoKbps, destinationIds, reencoded, because }: Encode) =>
  `${id} ${width}x${height} ${videoKbps} → ${destinationIds.join(', ') || 'nobody'}${reencoded
    .map((r) => `; ${r.destinationId} ${r.width}x${r.height} ${r.videoKbps}`)
    .join('')} | ${because}`;
const shared = (recipients: Recipient[], frames: ('wide' | 'tall')[] = ['wide'], of: PlanSettings = plan) =>
  shareEncodes(of, recipients, frames).map(line);

describe('kinds of encodes', () => {
  test('which frame each is of, which are main, which are recorded', () => {
    expect(
      ENCODE_IDS.map((id) => [id, frameOf(id), isMain(id), isSecond(id), isRecorded(id)].join(' ')),
    ).toEqual([
      ...['wide wide true false true', 'tall tall true false true'],
      ...['wide-2 wide false true false', 'tall-2 tall false true false', 'clean wide false false true'],
    ]);
    expect(cleanEncode(WIDE)).toEqual({
      ...{ id: 'clean', frame: 'wide', ...WIDE, destinationIds: [], reencoded: [] },
      because: 'recorded without alerts and chat',
    });
  });
});

test('who shares which encode, and why', () => {
  expect(shared([])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → nobody | Recording only",
    ]
  `);
  expect(shared([to('Larch')])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → larch | for Larch",
    ]
  `);
  expect(shared([to('Larch'), to('Cairn')])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → larch, cairn | one for all: Larch and Cairn",
    ]
  `);
  expect(shared([to('Larch', { capKbps: 3500 }), to('Cairn')])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 3372 → larch, cairn | Larch takes no more than 3500 kbps. Others share it",
    ]
  `);
  expect(shared([to('Larch', { capKbps: 3500 })])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 3372 → larch | Larch takes no more than 3500 kbps",
    ]
  `);
  expect(shared([to('Larch', { capKbps: 1200 }), to('Cairn')])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → cairn | for Cairn",
      "wide-2 854x480 1072 → larch | Larch takes no more than 1200 kbps",
    ]
  `);
  expect(shared([to('Larch', { ownKbps: 1800 }), to('Cairn')])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → cairn | for Cairn",
      "wide-2 1280x720 1800 → larch | Larch has its own bitrate, 1800 kbps",
    ]
  `);
  expect(shared([to('Larch', { ownKbps: 1799 }), to('Cairn', { ownKbps: 1000 }), to('Dipper')]))
    .toMatchInlineSnapshot(`
    [
      "wide 854x480 1799 → larch, dipper | Larch has its own bitrate, 1799 kbps",
      "wide-2 854x480 1000 → cairn | Cairn has its own bitrate, 1000 kbps",
    ]
  `);
  expect(shared([to('Larch', { ownKbps: 300, encodedBy: 'server' })])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → larch; larch 854x480 300 | nobody takes it as it is; the server makes 300 kbps of it for Larch",
    ]
  `);
  expect(shared([to('Larch', { ownKbps: 300, encodedBy: 'server' }), to('Cairn')])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → cairn, larch; larch 854x480 300 | for Cairn; the server makes 300 kbps of it for Larch",
    ]
  `);
  expect(shared([to('Larch', { ownKbps: 4000, encodedBy: 'server' }), to('Cairn')])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → cairn, larch | for Cairn",
    ]
  `);
  const two = [to('Marmot', { frame: 'tall' }), to('Ibex', { frame: 'tall', capKbps: 900 }), to('Larch')];
  expect(shared(two, ['wide', 'tall'])).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → larch | for Larch",
      "tall 720x1280 2500 → marmot | for Marmot",
      "tall-2 480x854 772 → ibex | Ibex takes no more than 900 kbps",
    ]
  `);
  expect(shared(two, ['tall'], { ...plan, frames: { wide: WIDE } })).toEqual([]);
  const [encode] = shareEncodes(
    plan,
    [to('Larch', { ownKbps: 300, encodedBy: 'server' }), to('Cairn')],
    ['wide'],
  );
  expect([kbpsFor(encode, 'larch'), kbpsFor(encode, 'cairn'), uploadKbps([encode], 128)]).toEqual([
    300, 4000, 4556,
  ]);
});

test('who comes while it runs gets what suits, or the nearest', () => {
  const running = shareEncodes(plan, [to('Larch'), to('Cairn', { ownKbps: 1000 })], ['wide', 'tall']);
  const more = (...recipients: Recipient[]) => shareMore(running, plan, recipients).map(line);
  const [larch, cairn] = [to('Larch'), to('Cairn', { ownKbps: 1000 })];
  expect(more(larch, cairn, to('Dipper'))).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → larch, dipper | for Larch",
      "wide-2 854x480 1000 → cairn | Cairn has its own bitrate, 1000 kbps",
      "tall 720x1280 2500 → nobody | Recording only",
    ]
  `);
  expect(more(larch, to('Dipper', { ownKbps: 1040 }))).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → larch | for Larch",
      "wide-2 854x480 1000 → dipper | Cairn has its own bitrate, 1000 kbps",
      "tall 720x1280 2500 → nobody | Recording only",
    ]
  `);
  expect(more(larch, to('Dipper', { ownKbps: 500 }))).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → larch | for Larch",
      "wide-2 854x480 1000 → dipper | Cairn has its own bitrate, 1000 kbps",
      "tall 720x1280 2500 → nobody | Recording only",
    ]
  `);
  expect(more(larch, to('Dipper', { ownKbps: 2500 }))).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → larch | for Larch",
      "wide-2 854x480 1000 → dipper | Cairn has its own bitrate, 1000 kbps",
      "tall 720x1280 2500 → nobody | Recording only",
    ]
  `);
  expect(more(to('Marmot', { frame: 'tall', ownKbps: 700 }))).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → nobody | for Larch",
      "wide-2 854x480 1000 → nobody | Cairn has its own bitrate, 1000 kbps",
      "tall 720x1280 2500 → nobody | Recording only",
      "tall-2 480x854 700 → marmot | for Marmot, which came while live",
    ]
  `);
  expect(more(to('Dipper', { ownKbps: 600, encodedBy: 'server' }))).toMatchInlineSnapshot(`
    [
      "wide 1280x720 4000 → dipper; dipper 854x480 600 | for Larch; the server makes 600 kbps of it for Dipper",
      "wide-2 854x480 1000 → nobody | Cairn has its own bitrate, 1000 kbps",
      "tall 720x1280 2500 → nobody | Recording only",
    ]
  `);
  // A frame that is not made at all.
  const wideOnly = shareEncodes({ ...plan, frames: { wide: WIDE } }, [larch], ['wide']);
  expect(
    shareMore(wideOnly, { ...plan, frames: { wide: WIDE } }, [to('Marmot', { frame: 'tall' })]).map(line),
  ).toEqual(['wide 1280x720 4000 → nobody | for Larch']);
});

describe('proposals', () => {
  const frames = { wide: { width: 1920, height: 1080 }, tall: { width: 1080, height: 1920 } };
  const propose = (more: Partial<ProposalInput>) =>
    proposePlan({
      ...{ lineKbps: 10_000, headroom: 0.3, content: 'talk', recipients: [to('Larch')] },
      ...{ frames: { wide: frames.wide }, pixelsPerSecond: null },
      ...more,
    });
  const told = (more: Partial<ProposalInput>) => {
    const { plan: made, reasons } = propose(more);
    return [JSON.stringify(made), ...reasons];
  };

  test('one destination, one connection after the other', () => {
    expect(told({})).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":1920,"height":1080,"videoKbps":6800}},"fps":30,"audioKbps":160,"keyframeSeconds":2,"lineKbps":10000,"headroom":0.3,"content":"talk"}",
        "10.0 Mbps upload; 30% stay free for everything else, so 7.0 Mbps are used.",
        "Sound gets 160 kbps: there is room for it.",
        "Wide is 1920 × 1080: the largest for which 6800 kbps give a talking picture enough bits a pixel.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 8.4 Mbps: about 76 of 100 common connections carry it.",
      ]
    `);
    expect(told({ lineKbps: 1200 })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":854,"height":480,"videoKbps":750}},"fps":30,"audioKbps":64,"keyframeSeconds":2,"lineKbps":1200,"headroom":0.3,"content":"talk"}",
        "1.2 Mbps upload; 30% stay free for everything else, so 0.8 Mbps are used.",
        "Sound gets 64 kbps: more would starve the picture.",
        "Wide is 854 × 480: the largest for which 750 kbps give a talking picture enough bits a pixel.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 1.0 Mbps: about 99 of 100 common connections carry it.",
      ]
    `);
    expect(told({ lineKbps: 300 })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":640,"height":360,"videoKbps":150}},"fps":30,"audioKbps":64,"keyframeSeconds":2,"lineKbps":300,"headroom":0.3,"content":"talk"}",
        "0.3 Mbps upload; 30% stay free for everything else, so 0.2 Mbps are used.",
        "Sound gets 64 kbps: more would starve the picture.",
        "Wide is 640 × 360: the largest for which 150 kbps give a talking picture enough bits a pixel.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 0.3 Mbps: about 100 of 100 common connections carry it.",
        "This connection is too slow for all these destinations: switch one off, or see what the drawing says.",
      ]
    `);
    expect(told({ lineKbps: 60_000, content: 'game' })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":1280,"height":720,"videoKbps":8800}},"fps":60,"audioKbps":160,"keyframeSeconds":2,"lineKbps":60000,"headroom":0.3,"content":"game"}",
        "60.0 Mbps upload; 30% stay free for everything else, so 42.0 Mbps are used.",
        "Sound gets 160 kbps: there is room for it.",
        "Wide is 1280 × 720: the largest for which 8800 kbps give a moving game enough bits a pixel.",
        "60 fps, since the game moves fast and the connection has room.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 10.8 Mbps: about 70 of 100 common connections carry it.",
      ]
    `);
    expect(told({ lineKbps: 6000, content: 'game' })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":960,"height":540,"videoKbps":4050}},"fps":60,"audioKbps":128,"keyframeSeconds":2,"lineKbps":6000,"headroom":0.3,"content":"game"}",
        "6.0 Mbps upload; 30% stay free for everything else, so 4.2 Mbps are used.",
        "Sound gets 128 kbps: good stereo, and it leaves the rest to the picture.",
        "Wide is 960 × 540: the largest for which 4050 kbps give a moving game enough bits a pixel.",
        "60 fps, since the game moves fast and the connection has room.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 5.0 Mbps: about 87 of 100 common connections carry it.",
      ]
    `);
  });
  test('several share it, and caps leave their part to the others', () => {
    expect(told({ recipients: [to('Larch', { capKbps: 2000 }), to('Cairn')] })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":1280,"height":720,"videoKbps":4850}},"fps":30,"audioKbps":128,"keyframeSeconds":2,"lineKbps":10000,"headroom":0.3,"content":"talk"}",
        "10.0 Mbps upload; 30% stay free for everything else, so 7.0 Mbps are used.",
        "2 destinations share them: 3500 kbps each.",
        "Sound gets 128 kbps: good stereo, and it leaves the rest to the picture.",
        "Wide is 1280 × 720: the largest for which 4850 kbps give a talking picture enough bits a pixel.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 6.0 Mbps: about 84 of 100 common connections carry it.",
      ]
    `);
    expect(
      told({
        ...{ recipients: [to('Larch'), to('Marmot', { frame: 'tall', ownKbps: 1500 })], frames },
        lineKbps: 8000,
      }),
    ).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":1280,"height":720,"videoKbps":3800},"tall":{"width":540,"height":960,"videoKbps":1500}},"fps":30,"audioKbps":128,"keyframeSeconds":2,"lineKbps":8000,"headroom":0.3,"content":"talk"}",
        "8.0 Mbps upload; 30% stay free for everything else, so 5.6 Mbps are used.",
        "2 destinations share them: 2800 kbps each.",
        "Sound gets 128 kbps: good stereo, and it leaves the rest to the picture.",
        "Wide is 1280 × 720: the largest for which 3800 kbps give a talking picture enough bits a pixel.",
        "Tall is 540 × 960: the largest for which 1500 kbps give a talking picture enough bits a pixel.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 4.7 Mbps: about 88 of 100 common connections carry it.",
      ]
    `);
    expect(told({ lineKbps: 900, recipients: ['A', 'B', 'C', 'D'].map((name) => to(name)) }))
      .toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":640,"height":360,"videoKbps":150}},"fps":30,"audioKbps":64,"keyframeSeconds":2,"lineKbps":900,"headroom":0.3,"content":"talk"}",
        "0.9 Mbps upload; 30% stay free for everything else, so 0.6 Mbps are used.",
        "4 destinations share them: 158 kbps each.",
        "Sound gets 64 kbps: more would starve the picture.",
        "Wide is 640 × 360: the largest for which 150 kbps give a talking picture enough bits a pixel.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 0.3 Mbps: about 100 of 100 common connections carry it.",
        "This connection is too slow for all these destinations: switch one off, or see what the drawing says.",
      ]
    `);
    expect(told({ recipients: [] })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":1920,"height":1080,"videoKbps":6800}},"fps":30,"audioKbps":160,"keyframeSeconds":2,"lineKbps":10000,"headroom":0.3,"content":"talk"}",
        "10.0 Mbps upload; 30% stay free for everything else, so 7.0 Mbps are used.",
        "Sound gets 160 kbps: there is room for it.",
        "Wide is 1920 × 1080: the largest for which 6800 kbps give a talking picture enough bits a pixel.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 8.4 Mbps: about 76 of 100 common connections carry it.",
      ]
    `);
  });
  test('what the computer carries is the most', () => {
    expect(told({ pixelsPerSecond: 640 * 360 * 30 })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":640,"height":360,"videoKbps":1700}},"fps":30,"audioKbps":160,"keyframeSeconds":2,"lineKbps":10000,"headroom":0.3,"content":"talk"}",
        "10.0 Mbps upload; 30% stay free for everything else, so 7.0 Mbps are used.",
        "Sound gets 160 kbps: there is room for it.",
        "Wide is 640 × 360: this machine does not make more in time.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 2.2 Mbps: about 96 of 100 common connections carry it.",
      ]
    `);
    expect(told({ frames, pixelsPerSecond: 1280 * 720 * 30 })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":854,"height":480,"videoKbps":3000},"tall":{"width":480,"height":854,"videoKbps":3000}},"fps":30,"audioKbps":160,"keyframeSeconds":2,"lineKbps":10000,"headroom":0.3,"content":"talk"}",
        "10.0 Mbps upload; 30% stay free for everything else, so 7.0 Mbps are used.",
        "Sound gets 160 kbps: there is room for it.",
        "Wide is 854 × 480: this machine does not make more in time.",
        "Tall is 480 × 854: this machine does not make more in time.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 3.8 Mbps: about 91 of 100 common connections carry it.",
      ]
    `);
    expect(told({ content: 'game', lineKbps: 60_000, pixelsPerSecond: 1920 * 1080 * 40 }))
      .toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":1280,"height":720,"videoKbps":8800}},"fps":60,"audioKbps":160,"keyframeSeconds":2,"lineKbps":60000,"headroom":0.3,"content":"game"}",
        "60.0 Mbps upload; 30% stay free for everything else, so 42.0 Mbps are used.",
        "Sound gets 160 kbps: there is room for it.",
        "Wide is 1280 × 720: the largest for which 8800 kbps give a moving game enough bits a pixel.",
        "60 fps, since the game moves fast and the connection has room.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 10.8 Mbps: about 70 of 100 common connections carry it.",
      ]
    `);
    expect(told({ pixelsPerSecond: 1 })).toMatchInlineSnapshot(`
      [
        "{"frames":{"wide":{"width":640,"height":360,"videoKbps":1700}},"fps":30,"audioKbps":160,"keyframeSeconds":2,"lineKbps":10000,"headroom":0.3,"content":"talk"}",
        "10.0 Mbps upload; 30% stay free for everything else, so 7.0 Mbps are used.",
        "Sound gets 160 kbps: there is room for it.",
        "Wide is 640 × 360: this machine does not make more in time.",
        "30 fps are enough for talk.",
        "A keyframe every 2 s, as platforms ask, at a constant rate.",
        "Viewers need 2.2 Mbps: about 96 of 100 common connections carry it.",
      ]
    `);
  });
  test('sizes of a shape are even, known to platforms, and none larger than itself', () => {
    const words = (width: number, height: number) =>
      sizesOf({ width, height }).map((s) => `${s.width}x${s.height}`);
    expect(words(1920, 1080)).toEqual(['1920x1080', '1280x720', '960x540', '854x480', '640x360']);
    expect(words(1080, 1920)).toEqual(['1080x1920', '720x1280', '540x960', '480x854', '360x640']);
    expect(words(500, 400)).toEqual(['500x400', '450x360']);
    expect(sizeOf({ width: 1920, height: 1080 }, 201)).toEqual({ width: 358, height: 202 });
    expect(sizeOf({ width: 1920, height: 1080 }, 10)).toEqual({ width: 64, height: 64 });
  });
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
  const destination = (id: string, more: Partial<DestinationRecord> = {}): DestinationRecord => ({
    ...{ kind: 'destination', id, showId: 'show', name: id, position: 0, url: 'rtmp://a/b', frame: 'wide' },
    ...{ enabled: true, standIn: null, ...PLAIN_DESTINATION, ...more },
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
    const document = sampleDocument(destination('on'), destination('off', { enabled: false }));
    expect(enabledDestinations(document).map(({ id }) => id)).toEqual(['on']);
  });

  test('the first frame is always encoded, another when somebody takes it, the clean one when it is recorded', () => {
    const ids = (show: ShowRecord, plans: PlanRecord[], ...destinations: DestinationRecord[]) =>
      encodesInUse(sampleDocument(show, ...plans, ...destinations)).map(({ id }) => id);
    const plans = [record('a', 0)];
    expect(ids(recorded(['wide', 'tall']), plans)).toEqual(['wide']);
    expect(ids(recorded(['wide', 'tall']), plans, destination('m', { frame: 'tall' }))).toEqual([
      'wide',
      'tall',
    ]);
    expect(
      ids(recorded(['wide', 'tall']), plans, destination('m', { frame: 'tall', enabled: false })),
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
