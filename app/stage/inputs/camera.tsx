import type { CameraSource } from '~/core/show/inputs/camera';
import { CameraFields } from '../camera-fields';
import type { InputPart } from '../input-parts';

export const part: InputPart<CameraSource> = {
  type: 'camera',
  Fields: ({ input, ...props }) => <CameraFields inputId={input.id} {...props} />,
  offers: [
    { rank: 0, words: (t) => t('addInput.camera'), stays: true, bring: (ways) => ways.chooseCamera() },
  ],
};
