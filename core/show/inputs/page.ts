import { PLAIN_INPUT_KIND, type InputKind } from '../input-kind';
import { list, number, whole, words } from '../shape';

/** Rendered by the server. Its address is kept like a key, outside the show: it often holds one. */
export interface PageInput {
  type: 'page';
  width: number;
  height: number;
  fps: number;
  /** Private places (`name:port`) it may reach. */
  allowed: string[];
}

export const page: InputKind<PageInput> = {
  ...PLAIN_INPUT_KIND,
  name: 'web page',
  shape: {
    width: whole(16, 3840),
    height: whole(16, 2160),
    fps: number(0.2, 30),
    allowed: list(words(300, 3), 50),
  },
  role: () => 'graphic',
  ...{ fills: false, sound: 'perhaps', addressed: true },
  // A page that nobody opens covers nothing.
  previewed: { type: 'background', look: 'plain', colour: '#00000000' },
};
