import type { PageInput } from '~/core/show/inputs/page';
import { PageFields } from '../address-fields';
import type { InputPart } from '../input-parts';

export const part: InputPart<PageInput> = {
  type: 'page',
  Fields: ({ failed: _, ...props }) => <PageFields key={props.input.id} {...props} />,
  offers: [
    {
      rank: 7,
      words: (t) => t('addInput.page'),
      bring: ({ addAddressed }) =>
        addAddressed('Web page', { type: 'page', width: 1280, height: 720, fps: 10, allowed: [] }),
    },
  ],
};
