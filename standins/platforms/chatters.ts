import type { Badge, EmoteRange, EventType } from '../../core/audience/events';
import { seededRandom } from '../inputs/random';
import { EMOTE_NAMES } from './emotes';

export const HANDLES = [
  'switchman_42',
  'mossbell',
  'tinlantern',
  'pinecairn',
  'gravelpath',
  'oxbow_lane',
  'wetslate',
  'quarry.kid',
  'fogwhistle',
  'ledger_moth',
  'third_sleeper',
  'copperkettle',
] as const;
const COLOURS = ['#63BDBB', '#E2AE45', '#E39A88', '#83B168', '#A7C7E0', '#D8B4E2'] as const;
const LINES = [
  'take the left spur, the right one floods every time',
  'snow on the pass!',
  'hold freight 12, express is late',
  'is that a new signal?',
  'the bells at night are lovely :bell:',
  'left left left',
  'told you :lantern:',
  'that brake van has seen things',
  'how far to Hut Nine?',
  'the roof is nearly there, well done everyone',
  'first time here, what are the levers for?',
  'red means tea',
  '@lampwright vote for the long way round',
  'my grandmother ran a box like that :train:',
  'that was a clean stop',
  'I could watch the snow for hours :snow:',
] as const;
const MESSAGES = ['for the roof', 'one more sheet of tin', 'good night from the valley', ''] as const;
const REWARDS = ['Ring the bell', 'Choose the next route', 'Tea break'] as const;
const ORDERS = ['Lamp oil tin', 'Signal box mug'] as const;
const CURRENCIES = ['EUR', 'EUR', 'EUR', 'GBP', 'JPY'] as const;

/** Something that happens on a platform. */
export interface Happening {
  /** `chat` or a kind of event. */
  what: 'chat' | EventType;
  /** Data of the event, as it goes out. */
  data: Record<string, unknown>;
}

export interface ScriptedLine extends Happening {
  /** Seconds after the one before. */
  wait: number;
}

/** Emotes written as `:name:` and where they stand. */
export function emotesIn(text: string): EmoteRange[] {
  return Array.from(text.matchAll(/:(\w+):/g)).flatMap((m) =>
    EMOTE_NAMES.includes(m[1]) ? [{ from: m.index, to: m.index + m[0].length, id: m[1] }] : [],
  );
}

type Random = () => number;
const pick = <T>(random: Random, from: readonly T[]): T => from[Math.floor(random() * from.length)];

/** One event of a kind, made up. */
export function makeEvent(
  what: EventType,
  random: Random,
  viewer: string = pick(random, HANDLES),
): Happening {
  const message = pick(random, MESSAGES);
  switch (what) {
    case 'subscription': {
      const way = pick(random, ['new', 'renewed', 'gifted'] as const);
      const more =
        way === 'gifted'
          ? { count: 1 + Math.floor(random() * 5) }
          : way === 'renewed'
            ? { months: 2 + Math.floor(random() * 30) }
            : {};
      return { what, data: { viewer, way, message, ...more } };
    }
    case 'donation': {
      const currency = pick(random, CURRENCIES);
      const major = 1 + Math.floor(random() * random() * 80);
      return {
        what,
        data: { viewer, currency, amount: currency === 'JPY' ? String(major * 100) : `${major}.50`, message },
      };
    }
    case 'cheer':
      return { what, data: { viewer, count: 10 * (1 + Math.floor(random() * 40)), message } };
    case 'raid':
      return { what, data: { viewer, count: 3 + Math.floor(random() * 60) } };
    case 'member':
      return { what, data: { viewer, months: 1 + Math.floor(random() * 14) } };
    case 'order':
      return { what, data: { viewer, title: pick(random, ORDERS), currency: 'EUR', amount: '18.00' } };
    case 'reward':
      return { what, data: { viewer, title: pick(random, REWARDS), count: 200 } };
    case 'poll':
      return {
        what,
        data: {
          title: 'Which way over the pass?',
          open: random() < 0.7,
          options: ['Left spur', 'Right spur', 'Wait for the plough'].map((label) => ({
            label,
            votes: Math.floor(random() * 60),
          })),
        },
      };
    case 'command':
      return { what, data: { viewer, title: 'route', message: 'left' } };
    case 'follow':
    case 'other':
      return { what, data: { viewer } };
  }
}

export function makeChat(
  viewer: string,
  text: string,
  colour?: string,
  badges: readonly Badge[] = [],
): Happening {
  return {
    what: 'chat',
    data: { viewer, text, badges, emotes: emotesIn(text), ...(colour !== undefined && { colour }) },
  };
}

const KINDS: readonly EventType[] = [
  'follow',
  'follow',
  'donation',
  'subscription',
  'cheer',
  'reward',
  'member',
  'raid',
  'order',
];

/** An evening of made-up viewers: the same seed gives the same evening. */
export function* scriptedEvening(seed: number): Generator<ScriptedLine> {
  const random = seededRandom(seed);
  let deck: number[] = [];
  for (let n = 1; ; n++) {
    const who = Math.floor(random() * HANDLES.length);
    // Dealt like cards, so that nothing is said again before everything was.
    if (deck.length === 0) deck = LINES.map((_, i) => i);
    const [line] = deck.splice(Math.floor(random() * deck.length), 1);
    const wait = 1.5 + random() * 5;
    const badges: Badge[] = who === 0 ? ['moderator'] : who % 4 === 1 ? ['subscriber'] : [];
    if (n % 9 === 0) yield { wait, ...makeEvent(pick(random, KINDS), random, HANDLES[who]) };
    else yield { wait, ...makeChat(HANDLES[who], LINES[line], COLOURS[who % COLOURS.length], badges) };
  }
}

/**
 * So many events: chat and everything else, by seed.
 * @param chatShare how much of it is chat, 0…1
 */
export function* storm(seed: number, count: number, chatShare = 0.6): Generator<Happening> {
  const random = seededRandom(seed);
  for (let n = 0; n < count; n++) {
    const viewer = `${pick(random, HANDLES)}${Math.floor(random() * 400)}`;
    if (random() < chatShare) yield makeChat(viewer, pick(random, LINES));
    else yield makeEvent(pick(random, KINDS), random, viewer);
  }
}
