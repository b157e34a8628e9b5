import {
  PLAIN_INPUT_KIND,
  SIMULATED_PICTURES,
  type InputKind,
  type SimulatedPicture,
  type SimulatedSource,
} from '../input-kind';
import { choice } from '../shape';

/** The simulated pictures that stand for cameras; the others stand for screens. */
const PEOPLE: readonly SimulatedPicture[] = ['desk-camera', 'lever-camera'];

export const simulated: InputKind<SimulatedSource> = {
  ...PLAIN_INPUT_KIND,
  name: 'simulated',
  shape: { picture: choice(SIMULATED_PICTURES) },
  role: ({ picture }) => (PEOPLE.includes(picture) ? 'person' : 'screen'),
  opaque: () => true,
  ...{ ground: true, live: true, kept: true },
};
