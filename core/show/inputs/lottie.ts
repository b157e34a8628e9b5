import { one, PLAIN_INPUT_KIND, type InputKind } from '../input-kind';
import { flag, id, number } from '../shape';

export interface LottieInput {
  type: 'lottie';
  assetId: string;
  loop: boolean;
  speed: number;
}

export const lottie: InputKind<LottieInput> = {
  ...PLAIN_INPUT_KIND,
  name: 'animation',
  shape: { assetId: id, loop: flag, speed: number(0.05, 20) },
  role: () => 'graphic',
  files: one,
  ...{ fills: false, kept: true },
};
