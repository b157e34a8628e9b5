import type { ChannelKind } from '../channel-kind';

/** Where the effect buttons sound. */
export interface EffectsChannel {
  type: 'effects';
}

export const effects: ChannelKind<EffectsChannel> = { name: 'Effect buttons', shape: {}, spoken: false };
