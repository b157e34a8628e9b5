/** Kits that come with the program. */
import type { Kit } from '../parts/kit';
import { fellLines } from './fell-lines';
import { signalCards } from './signal-cards';

export const SHIPPED_KITS: readonly { id: string; make: () => Kit }[] = [
  { id: 'fell-lines', make: fellLines },
  { id: 'signal-cards', make: signalCards },
];
