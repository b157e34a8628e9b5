/** What controllers say, byte by byte (MIDI 1.0 Detailed Specification), as moves of controls. */

/** Something on a controller was moved. */
export interface ControlMove {
  /** Which control: notes and controllers are counted apart. */
  of: 'note' | 'cc';
  /** 0…15 */
  channel: number;
  /** 0…127 */
  number: number;
  /** 0…127; of a note how hard it was struck, 0 when it was let go. */
  value: number;
}

/**
 * Reads a stream of bytes. Knows running status, system exclusives, real-time bytes in the middle of others, and lets
 * everything that it does not know go by.
 */
export class MidiReader {
  #status = 0;
  #first: number | null = null;
  #exclusive = false;

  read(bytes: Iterable<number>): ControlMove[] {
    const moves: ControlMove[] = [];
    for (const byte of bytes) {
      // Clock and its like may come anywhere, and belong to nothing.
      if (byte >= 0xf8) continue;
      if (byte >= 0x80) {
        this.#exclusive = byte === 0xf0;
        // System messages end running status.
        this.#status = byte < 0xf0 ? byte : 0;
        this.#first = null;
        continue;
      }
      if (this.#exclusive || this.#status === 0) continue;
      const kind = this.#status & 0xf0;
      // Programme changes and channel pressure have one byte: they are complete at once.
      if (kind === 0xc0 || kind === 0xd0) continue;
      if (this.#first === null) {
        this.#first = byte;
        continue;
      }
      const number = this.#first;
      this.#first = null;
      const channel = this.#status & 0x0f;
      if (kind === 0x90) moves.push({ of: 'note', channel, number, value: byte });
      else if (kind === 0x80) moves.push({ of: 'note', channel, number, value: 0 });
      else if (kind === 0xb0) moves.push({ of: 'cc', channel, number, value: byte });
    }
    return moves;
  }
}

/** How a control is meant. `relative`: an encoder without an end, that says how far it was turned. */
export const CONTROL_MODES = ['button', 'fader', 'relative'] as const;
export type ControlMode = (typeof CONTROL_MODES)[number];

/** Steps of an encoder: 1…63 to the right, 127…65 to the left (two's complement of seven bits). */
export const relativeSteps = (value: number): number => (value < 64 ? value : value - 128);

/**
 * What a control is, from how it moves while it is learnt: a note is a button; a controller that only says its ends is one
 * too; one that says small steps around its ends is an encoder; the rest are faders.
 */
export function modeOf(moves: readonly ControlMove[]): ControlMode {
  if (moves.length === 0 || moves[0].of === 'note') return 'button';
  const values = moves.map(({ value }) => value);
  if (values.every((value) => value === 0 || value === 127)) return 'button';
  const small = values.every((value) => Math.abs(relativeSteps(value)) <= 8 && value !== 0);
  // A fader that is moved passes through values that lie beside each other.
  const glides = values.some(
    (value, i) => i > 0 && value !== values[i - 1] && Math.abs(value - values[i - 1]) <= 16,
  );
  return small && !(glides && values.some((value) => value > 2 && value < 126)) ? 'relative' : 'fader';
}

/**
 * A fader of a controller that has no motor: it takes hold only once it has passed the value that is set, so that nothing
 * leaps when it is touched.
 */
export class PickUp {
  #held = false;
  #last: number | null = null;

  /**
   * @param at where it stands now, 0…1 @param set what is set, 0…1
   * @returns whether it moves what is set
   */
  moved(at: number, set: number): boolean {
    const before = this.#last;
    this.#last = at;
    if (this.#held && before !== null && Math.abs(before - set) < 0.05) return true;
    // Somebody else moved it meanwhile: it has to be picked up again.
    this.#held = Math.abs(at - set) < 0.02 || (before !== null && (before - set) * (at - set) <= 0);
    return this.#held;
  }
}

/** Lights a button up, or lets it go dark: as a note or controller of its own number comes back to the device. */
export const lightBytes = ({ of, channel, number }: Omit<ControlMove, 'value'>, value: number): number[] => [
  (of === 'note' ? 0x90 : 0xb0) | channel,
  number,
  value,
];
