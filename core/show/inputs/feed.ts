import { PLAIN_INPUT_KIND, simulated, type InputKind } from '../input-kind';
import { choice } from '../shape';

const FEED_WAYS = ['sent', 'fetched'] as const;

/** Sent to the server by another encoder, or fetched by it; key and address are kept outside the show. */
export interface FeedInput {
  type: 'feed';
  way: (typeof FEED_WAYS)[number];
}

export const feed: InputKind<FeedInput> = {
  ...PLAIN_INPUT_KIND,
  name: 'network feed',
  shape: { way: choice(FEED_WAYS) },
  role: () => 'screen',
  opaque: () => true,
  ...{ ground: true, sound: 'commonly', live: true, addressed: true, previewed: simulated('lever-camera') },
};
