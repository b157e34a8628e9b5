import type { ChannelKind } from '../channel-kind';

/** Alerts read aloud. */
export interface SpeechChannel {
  type: 'speech';
}

export const speech: ChannelKind<SpeechChannel> = { name: 'Alerts read aloud', shape: {}, spoken: false };
