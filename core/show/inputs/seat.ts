import { PLAIN_INPUT_KIND, simulated, type InputKind } from '../input-kind';
import { choice, flag, idOr } from '../shape';

/** What a guest sees of the show: the picture on air in one of its frames, one input, or nothing. */
export const SEAT_SEES = ['wide', 'tall', 'input', 'nothing'] as const;

/**
 * A place for a guest, there before anybody comes. `sees`: what is sent back to whoever sits on it; `inputId` for `input`,
 * else null. `hearsProgramme`: also before they are brought on.
 */
export interface SeatSource {
  type: 'seat';
  sees: (typeof SEAT_SEES)[number];
  inputId: string | null;
  hearsProgramme: boolean;
}

export const seat: InputKind<SeatSource> = {
  ...PLAIN_INPUT_KIND,
  name: 'guest seat',
  shape: { sees: choice(SEAT_SEES), inputId: idOr(null), hearsProgramme: flag },
  role: () => 'person',
  opaque: () => true,
  ...{ ground: true, corner: true, sound: 'commonly', previewed: simulated('desk-camera') },
};
