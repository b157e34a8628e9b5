import { newSeat } from '~/core/guests/guest-scene';
import type { SeatSource } from '~/core/show/inputs/seat';
import { guessedPlacements } from '~/core/show/guessed-place';
import { SeatFields } from '../../guests/seat-fields';
import type { InputPart } from '../input-parts';

export const part: InputPart<SeatSource> = {
  type: 'seat',
  Fields: ({ failed: _, ...props }) => <SeatFields {...props} />,
  offers: [
    {
      rank: 9,
      words: (t) => t('addInput.seat'),
      bring({ document, sceneId, addInput }) {
        const [{ name, source }] = newSeat(document, () => crypto.randomUUID());
        addInput(name, source, guessedPlacements(document, sceneId, source, { width: 16, height: 9 }, 0.5));
      },
    },
  ],
};
