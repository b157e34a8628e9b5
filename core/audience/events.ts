/** What viewers do, whichever platform it came from. */
import type { Money } from './money';

/** Everything but chat that can set off an alert. */
export const EVENT_TYPES = [
  'follow',
  'subscription',
  'donation',
  'cheer',
  'raid',
  'member',
  'order',
  'poll',
  'reward',
  'command',
  'other',
] as const;
export type EventType = (typeof EVENT_TYPES)[number];

export const BADGES = ['host', 'moderator', 'subscriber', 'member', 'supporter'] as const;
export type Badge = (typeof BADGES)[number];

/** Whoever did it. */
interface FromViewer {
  /** Unique on its platform. */
  id: string;
  platform: string;
  /** Name as shown. */
  viewer: string;
  /** Milliseconds since 1970, by the platform's clock. */
  atMs: number;
  /** Counts up by one with each entry the studio has taken in; 0 before it was. */
  seq: number;
}

/** A picture in the place of some characters of a message: UTF-16 places, the end not included. */
export interface EmoteRange {
  from: number;
  to: number;
  /** Name on the platform; the studio fetches its picture. */
  id: string;
}

export interface ChatMessage extends FromViewer {
  type: 'chat';
  /** Name of the channel or room it was said in. */
  channel: string;
  /** CSS colour the platform gives the name, or null. */
  colour: string | null;
  badges: readonly Badge[];
  emotes: readonly EmoteRange[];
  text: string;
}

export const SUBSCRIPTION_WAYS = ['new', 'renewed', 'gifted'] as const;

export interface ViewerEvent extends FromViewer {
  type: EventType;
  /** What the viewer wrote with it. */
  message: string;
  money: Money | null;
  /** Cheered points, raiding viewers, gifted subscriptions, points of a reward: by kind; null where nothing is counted. */
  count: number | null;
  /** Months of a subscription or membership. */
  months: number | null;
  way: (typeof SUBSCRIPTION_WAYS)[number] | null;
  /** Name of the reward, the ordered thing, the command, the poll's question, or the kind of an `other` event. */
  title: string;
  /** Choices of a poll with their votes. */
  poll: { open: boolean; options: readonly { label: string; votes: number }[] } | null;
  /** Fired by a test button: shown like a real one, but marked in the list and never counted. */
  test: boolean;
}

export type AudienceEvent = ChatMessage | ViewerEvent;

/** What a moderator did: undoes things that were shown. */
export type Moderation =
  /** One message leaves. */
  | { type: 'removed'; platform: string; id: string; atMs: number }
  /** Everything a viewer said until then leaves. */
  | { type: 'silenced'; platform: string; viewer: string; atMs: number };

/** What a platform or a hook can bring. */
export type Incoming = AudienceEvent | Moderation | { type: 'viewers'; platform: string; viewers: number };

/** What every event has beside its kind and its viewer. */
export const PLAIN_EVENT = {
  seq: 0,
  message: '',
  money: null,
  count: null,
  months: null,
  way: null,
  title: '',
  poll: null,
  test: false,
} satisfies Partial<ViewerEvent>;

export const PLAIN_MESSAGE = {
  type: 'chat',
  seq: 0,
  channel: '',
  colour: null,
  badges: [],
  emotes: [],
} satisfies Partial<ChatMessage>;

/** How two entries are told to be the same one. */
export function keyOf({ platform, id }: { platform: string; id: string }): string {
  return `${platform}/${id}`;
}

/** How two names are told to be the same viewer. */
export function viewerKey({ platform, viewer }: { platform: string; viewer: string }): string {
  return `${platform}/${viewer.toLowerCase()}`;
}

const WORDS: Record<EventType, string> = {
  follow: 'follows',
  subscription: 'subscribed',
  donation: 'donated',
  cheer: 'cheered',
  raid: 'came along with viewers',
  member: 'became a member',
  order: 'ordered',
  poll: 'asks',
  reward: 'took a reward',
  command: 'called a command',
  other: 'did something',
};

/** What happened, in a few words that follow the viewer's name; amounts are written by `moneyText`. */
export function eventWords(event: ViewerEvent, moneyText: (money: Money) => string): string {
  const { type, count, months, way, title, money } = event;
  const things = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
  switch (type) {
    case 'subscription':
      if (way === 'gifted') return `gifted ${things(count ?? 1, 'subscription', 'subscriptions')}`;
      if (way === 'renewed') return months ? `subscribed for ${months} months` : 'subscribed again';
      return WORDS.subscription;
    case 'donation':
      return money ? `donated ${moneyText(money)}` : WORDS.donation;
    case 'cheer':
      return count === null ? WORDS.cheer : `cheered ${count}`;
    case 'raid':
      return count === null ? WORDS.raid : `came along with ${things(count, 'viewer', 'viewers')}`;
    case 'member':
      return months ? `has been a member for ${months} months` : WORDS.member;
    case 'order':
      return `ordered ${title || 'something'}${money ? ` for ${moneyText(money)}` : ''}`;
    case 'reward':
      return title ? `took “${title}”` : WORDS.reward;
    case 'command':
      return title ? `called !${title}` : WORDS.command;
    case 'poll':
      return title ? `asks “${title}”` : WORDS.poll;
    case 'other':
      return title || WORDS.other;
    case 'follow':
      return WORDS.follow;
  }
}

/** Whether a moderation takes an entry away; only messages can be, not what was given. */
export function concerns(moderation: Moderation, event: AudienceEvent): boolean {
  if (event.type !== 'chat' || event.platform !== moderation.platform) return false;
  return moderation.type === 'removed'
    ? event.id === moderation.id
    : event.viewer.toLowerCase() === moderation.viewer.toLowerCase() && event.atMs <= moderation.atMs;
}

/** What is searched for: the words of an entry. */
export function searchWords(event: AudienceEvent): string {
  return event.type === 'chat'
    ? event.text
    : [event.type, event.title, event.message].filter(Boolean).join(' ');
}
