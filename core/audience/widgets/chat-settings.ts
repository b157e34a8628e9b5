/** How chat stands on the picture. */
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
