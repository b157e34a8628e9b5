/**
 * The made-up voice as a script: when it speaks, how loud, which sound of speech. Picture and sound both ask here.
 * It goes round every 40 s: talk, a pause, talk, something quiet, a shout, a pause with thumps on the desk.
 */
import { hash01 } from './random';

export const ROUND_SECONDS = 40;

const PARTS: readonly { until: number; level: number }[] = [
  { until: 11, level: 0.62 },
  { until: 13, level: 0 },
  { until: 22, level: 0.66 },
  { until: 23, level: 0 },
  { until: 28, level: 0.25 },
  { until: 29, level: 0 },
  { until: 31.5, level: 1.6 },
  { until: 34, level: 0 },
  { until: 38.5, level: 0.6 },
  { until: 40, level: 0 },
];

/** Length of one syllable, seconds. */
export const SYLLABLE_SECONDS = 0.19;

export interface Syllable {
  index: number;
  /** 0…1 within the syllable. */
  phase: number;
  /** 0 for silence. */
  level: number;
  /** Which vowel, 0…4. */
  vowel: number;
  /** Pitch against the speaker's mean. */
  pitch: number;
  /** Starts with a hiss (s, sh, f). */
  hiss: boolean;
}

export function syllableAt(seconds: number): Syllable {
  const index = Math.floor(seconds / SYLLABLE_SECONDS);
  const phase = seconds / SYLLABLE_SECONDS - index;
  const inRound = seconds - Math.floor(seconds / ROUND_SECONDS) * ROUND_SECONDS;
  const part = PARTS.find((p) => inRound < p.until) ?? PARTS[0];
  const pause = hash01(index * 13 + 5) < 0.16;
  const phrase = Math.floor(index / 9);
  return {
    index,
    phase,
    level: pause ? 0 : part.level * (0.75 + 0.5 * hash01(index * 7)),
    vowel: Math.floor(hash01(index * 11 + 1) * 5),
    pitch:
      1.12 -
      0.3 * ((index % 9) / 9) +
      0.14 * (hash01(index * 3 + 2) - 0.5) +
      0.1 * (hash01(phrase) - 0.5) +
      (part.level > 1 ? 0.35 : 0),
    hiss: hash01(index * 5 + 9) < 0.3,
  };
}

/** How far the mouth is open, 0…1. */
export function voiceLevelAt(seconds: number): number {
  const { level, phase } = syllableAt(seconds);
  return Math.min(1, level) * Math.sin(Math.PI * Math.min(1, phase * 1.05)) ** 0.8;
}
