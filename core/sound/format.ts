/** What the whole sound path works in. */
export const MIXER_SAMPLE_RATE = 48_000;
/** Samples worked on at once; the block of a browser's sound thread. */
export const BLOCK_FRAMES = 128;
/** Recording tracks; the first is the programme, what viewers hear. */
export const TRACK_COUNT = 6;
/** Sync offsets a channel may have, milliseconds. */
export const OFFSET_MIN_MS = -200;
export const OFFSET_MAX_MS = 2000;
/**
 * The programme is this much later than the channels' inputs, always: 200 ms so that a channel can be made earlier than the
 * picture by making everything else later, and 40 ms for the voice chains, which are all brought to the same delay.
 */
export const ALIGN_FRAMES = 11_520;
