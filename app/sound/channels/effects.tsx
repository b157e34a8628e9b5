import type { EffectsChannel } from '~/core/show/channels/effects';
import type { ChannelPart } from '../channel-parts';

export const part: ChannelPart<EffectsChannel> = {
  type: 'effects',
  offer: {
    words: (t) => t('addChannel.effects'),
    once: true,
    make: (t) => ({ name: t('addChannel.effectsName'), source: { type: 'effects' }, gainDb: -6 }),
  },
};
