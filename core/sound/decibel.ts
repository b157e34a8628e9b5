const NEPERS_PER_DB = Math.LN10 / 20;

/** Amplitude of a level in dB; −Infinity gives 0. By the exponential function: a power takes three times as long. */
export function amplitudeOfDb(db: number): number {
  return Math.exp(db * NEPERS_PER_DB);
}

/** Level in dB of an amplitude; 0 gives −Infinity. */
export function dbOfAmplitude(amplitude: number): number {
  return 20 * Math.log10(amplitude);
}

/** Faders reach from silence to this much above unity. */
export const FADER_MAX_DB = 10;
/** At and below this a fader is silent. */
export const FADER_MIN_DB = -60;

/** Gain of a fader position in dB; the bottom of the track is silence, not −60 dB. */
export function faderGain(db: number): number {
  return db <= FADER_MIN_DB ? 0 : amplitudeOfDb(Math.min(db, FADER_MAX_DB));
}

/** Peaks of a voice stand up to so much above the loudness aimed at: that is where it belongs. */
export const VOICE_BAND_DB = 10;
