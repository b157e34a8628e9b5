import type { ChannelKind } from '../channel-kind';
import { choice, flag, number } from '../shape';

/** A sine, noise with as much in each octave, or a sine that goes from low to high again and again. */
export const TONE_SIGNALS = ['sine', 'pink', 'sweep'] as const;
export type ToneSignal = (typeof TONE_SIGNALS)[number];
export const TONE_RANGES = {
  levelDb: { min: -60, max: -3 },
  /** Peaks of noise stand up to 14 dB above its mean: louder, they would be cut. */
  noiseDb: { min: -60, max: -15 },
  hz: { min: 20, max: 20_000 },
} as const;

export interface ToneChannel {
  type: 'tone';
  signal: ToneSignal;
  /** Peak of a sine, mean of noise, dBFS. */
  levelDb: number;
  /** Of the sine. */
  hz: number;
  /** The left side stops for a quarter of a second every three (EBU R 49): tells the sides apart. */
  ident: boolean;
}

/** Alignment level (EBU R 68): 1 kHz, 18 dB below full scale. */
export const LINE_UP: ToneChannel = { type: 'tone', signal: 'sine', levelDb: -18, hz: 1000, ident: false };

export const tone: ChannelKind<ToneChannel> = {
  name: 'Test tone',
  shape: {
    signal: choice(TONE_SIGNALS),
    levelDb: number(TONE_RANGES.levelDb.min, TONE_RANGES.levelDb.max),
    hz: number(TONE_RANGES.hz.min, TONE_RANGES.hz.max),
    ident: flag,
  },
  spoken: false,
};
