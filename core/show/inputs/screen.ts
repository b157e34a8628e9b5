import { PLAIN_INPUT_KIND, simulated, type InputKind } from '../input-kind';
import { choice } from '../shape';

const SCREEN_SURFACES = ['screen', 'window', 'region'] as const;

/** A region is a screen whose `crop` was drawn by the user. */
export interface ScreenSource {
  type: 'screen';
  surface: (typeof SCREEN_SURFACES)[number];
}

export const screen: InputKind<ScreenSource> = {
  ...PLAIN_INPUT_KIND,
  name: 'screen',
  shape: { surface: choice(SCREEN_SURFACES) },
  role: () => 'screen',
  opaque: () => true,
  ...{ ground: true, sound: 'commonly', previewed: simulated('switchback') },
};
