import type { FeedInput } from '~/core/show/inputs/feed';
import { FeedFields } from '../address-fields';
import type { InputPart } from '../input-parts';

export const part: InputPart<FeedInput> = {
  type: 'feed',
  Fields: ({ failed: _, ...props }) => <FeedFields key={props.input.id} {...props} />,
  offers: [
    {
      rank: 8,
      words: (t) => t('addInput.feed'),
      bring: ({ addAddressed }) => addAddressed('Network feed', { type: 'feed', way: 'sent' }),
    },
  ],
};
