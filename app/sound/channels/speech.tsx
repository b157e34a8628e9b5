import type { SpeechChannel } from '~/core/show/channels/speech';
import type { ChannelPart } from '../channel-parts';

export const part: ChannelPart<SpeechChannel> = {
  type: 'speech',
  offer: {
    words: (t) => t('addChannel.speech'),
    once: true,
    make: (t) => ({
      ...{ name: t('addChannel.speechName'), source: { type: 'speech' } },
      ...{ gainDb: -8, tracks: [1, 6] },
    }),
  },
};
