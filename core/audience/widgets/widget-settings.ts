/** What each widget on the picture can be set to. */
import type { ListedFile } from '../../show/record-base';
import type { CountdownSettings } from '../countdown';
import type { StreakSettings } from '../streak';

/** Looks of a title, all of this project. */
export const TITLE_LOOKS = ['plate', 'stack', 'rule', 'tab', 'lamp', 'strata'] as const;
export type TitleLook = (typeof TITLE_LOOKS)[number];

export const CHAT_THEMES = ['plain', 'cards', 'lines'] as const;
export type ChatTheme = (typeof CHAT_THEMES)[number];

export interface ChatPanelSettings {
  theme: ChatTheme;
  /** Newest at the bottom, pushing up; or at the top, pushing down. */
  direction: 'up' | 'down';
  badges: boolean;
  emotes: boolean;
  /** The platform's name before each message. */
  platforms: boolean;
}

export const START_CHAT_PANEL: ChatPanelSettings = {
  theme: 'plain',
  direction: 'up',
  badges: true,
  emotes: true,
  platforms: false,
};

export interface CreditsSection {
  title: string;
  /** A list of one's own, one name a line; who was there this evening, or what they wrote; a wall of logos. */
  of: (typeof CREDITS_OF)[number];
  lines: string;
  /** Of a wall of logos. */
  files?: ListedFile[];
}
export const CREDITS_OF = ['list', 'supporters', 'moderators', 'chatters', 'comments', 'logos'] as const;

export type WidgetSettings =
  | { of: 'viewers'; show: 'sum' | 'each' }
  | { of: 'supporters'; show: 'latest' | 'largest' | 'evening' }
  | { of: 'recent'; lines: number }
  | ({ of: 'streak' } & StreakSettings)
  | { of: 'goal'; goalId: string }
  | ({ of: 'countdown' } & CountdownSettings)
  | { of: 'clock'; seconds: boolean }
  /** Since the scene came on, or since the broadcast began. */
  | { of: 'stopwatch'; since: 'scene' | 'broadcast' }
  | { of: 'poll' }
  | {
      of: 'credits';
      sections: CreditsSection[];
      run: 'once' | 'loop';
      fit: 'length' | 'music';
      seconds: number;
    }
  | { of: 'readOut' }
  | { of: 'speaking' }
  | { of: 'title'; look: TitleLook };

export type WidgetKind = WidgetSettings['of'];
export const WIDGET_KINDS = [
  'viewers',
  'supporters',
  'recent',
  'streak',
  'goal',
  'countdown',
  'clock',
  'stopwatch',
  'poll',
  'credits',
  'readOut',
  'speaking',
  'title',
] as const satisfies readonly WidgetKind[];

export const WIDGET_NAMES: Record<WidgetKind, string> = {
  viewers: 'Viewer count',
  supporters: 'Supporter strip',
  recent: 'Recent events',
  streak: 'Streak',
  goal: 'Goal',
  countdown: 'Countdown',
  clock: 'Clock',
  stopwatch: 'Stopwatch',
  poll: 'Poll',
  credits: 'Credits roll',
  readOut: 'Read-out',
  speaking: 'Who is speaking',
  title: 'Title',
};

/** What a new widget starts with; a goal needs one to show. */
export function startWidget(of: WidgetKind, goalId = ''): WidgetSettings {
  switch (of) {
    case 'viewers':
      return { of, show: 'sum' };
    case 'supporters':
      return { of, show: 'latest' };
    case 'recent':
      return { of, lines: 5 };
    case 'streak':
      return {
        of,
        decayPerMinute: 1,
        levels: [
          { from: 2, name: 'Steam up', colour: '#83B168' },
          { from: 5, name: 'Full ahead', colour: '#E2AE45' },
          { from: 10, name: 'Night express', colour: '#E39A88' },
        ],
      };
    case 'goal':
      return { of, goalId };
    case 'countdown':
      return {
        of,
        to: 'length',
        seconds: 300,
        clock: '20:00',
        restart: true,
        endText: 'Here we go',
        thenNext: false,
      };
    case 'clock':
      return { of, seconds: false };
    case 'stopwatch':
      return { of, since: 'scene' };
    case 'credits':
      return {
        of,
        run: 'once',
        fit: 'length',
        seconds: 30,
        sections: [
          { title: 'With', of: 'list', lines: 'Host: {{host}}' },
          { title: 'Supported by', of: 'supporters', lines: '' },
          { title: 'Moderated by', of: 'moderators', lines: '' },
          { title: 'In the chat', of: 'chatters', lines: '' },
        ],
      };
    case 'title':
      return { of, look: 'plate' };
    case 'poll':
    case 'readOut':
    case 'speaking':
      return { of };
  }
}
