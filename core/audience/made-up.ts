/** Viewers who do not exist, so that whoever lays out a scene sees what it looks like with somebody in it. */
import { PLAIN_EVENT, PLAIN_MESSAGE, type AudienceEvent, type ViewerEvent } from './events';

const PLATFORM = 'made up';
/** Made-up people watching. */
export const MADE_UP_VIEWERS = 128;

type Doing = Partial<ViewerEvent> & Pick<ViewerEvent, 'type' | 'viewer'>;

const DOINGS: readonly Doing[] = [
  { type: 'follow', viewer: 'a_first_viewer' },
  { type: 'subscription', viewer: 'LongNameOfASubscriber_2026', way: 'renewed', months: 14 },
  {
    type: 'donation',
    viewer: 'a kind person',
    money: { minor: 2500, currency: 'EUR' },
    message: 'Keep going!',
  },
  { type: 'cheer', viewer: 'cheering', count: 500 },
  { type: 'member', viewer: 'member of long standing', months: 3 },
  { type: 'raid', viewer: 'the_neighbours', count: 42 },
  { type: 'order', viewer: 'orders something', title: 'A mug', money: { minor: 1800, currency: 'EUR' } },
  { type: 'donation', viewer: 'Äußerst Großzügig', money: { minor: 10_000, currency: 'EUR' } },
  { type: 'follow', viewer: 'and_another_one' },
];

const SAYINGS: readonly (readonly [viewer: string, colour: string, text: string])[] = [
  ['a_first_viewer', '#8FB572', 'hello everybody'],
  ['cheering', '#E39A88', 'this looks good'],
  [
    'LongNameOfASubscriber_2026',
    '#63BDBB',
    'a longer message, as people write them when they have something to tell',
  ],
  ['a kind person', '#E2AE45', 'how do you do that?'],
  ['member of long standing', '#9BA8E0', 'first time here since spring'],
  ['and_another_one', '#8FB572', '😀 👏'],
];

/**
 * The n-th thing that made-up viewers do: chat, and now and then something else.
 * @param nowMs milliseconds since 1970
 * @param seq number of the entry, rising
 */
export function madeUpEvent(n: number, nowMs: number, seq: number): AudienceEvent {
  const from = { platform: PLATFORM, atMs: nowMs, seq, id: `made-up-${seq}` };
  if (n % 3 === 0) return { ...PLAIN_EVENT, ...DOINGS[(n / 3) % DOINGS.length], ...from };
  const [viewer, colour, text] = SAYINGS[n % SAYINGS.length];
  return { ...PLAIN_MESSAGE, ...from, viewer, colour, text };
}

/** So many of them at once are what one sees at first. */
export const MADE_UP_AT_ONCE = DOINGS.length * 3;
