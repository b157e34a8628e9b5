/** What is shared and proposed for plans as people have them, to the figure and the word. */
import { describe, expect, test } from 'vitest';
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
import { proposePlan, sizeOf, sizesOf, type ProposalInput } from './propose-plan';
import { PLAIN_PLAN, type PlanSettings } from './settings';

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
