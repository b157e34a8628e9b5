import { one, PLAIN_INPUT_KIND, type InputKind } from '../input-kind';
import { flag, id } from '../shape';

/** A still, or an animated picture, as the file says. */
export interface PictureInput {
  type: 'picture';
  assetId: string;
  loop: boolean;
}

export const picture: InputKind<PictureInput> = {
  ...PLAIN_INPUT_KIND,
  name: 'picture',
  shape: { assetId: id, loop: flag },
  role: () => 'graphic',
  files: one,
  ...{ fills: false, kept: true },
};
