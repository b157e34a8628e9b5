import type { PictureInput } from '~/core/show/inputs/picture';
import { Toggle } from '../../studio/toggle';
import type { InputPart } from '../input-parts';

export const part: InputPart<PictureInput> = {
  type: 'picture',
  Fields: ({ source, set }) => (
    <Toggle
      label="Loop, if it moves"
      on={source.loop}
      onChange={(loop) => set('Loop', { ...source, loop })}
    />
  ),
};
