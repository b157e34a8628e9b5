/** What a rendered web page plays: taken from all of its frames, mixed, and checked, since a page may say anything. */
import type { BrowserContext } from 'playwright-core';
import { sidesOf } from '../../core/sound/downmix';
import { MIXER_SAMPLE_RATE } from '../../core/sound/format';
import { StampedMix } from '../../core/sound/stamped-mix';
import { listenToPage, type EarSettings } from './page-ear';

/** 43 ms: less would be asked for by a page that is busy drawing. */
const FRAMES = 2048;
const BINDING = '__heardByTheStudio';
/** A second: a pause between two sounds is not torn out. */
const SILENT_PIECES = Math.ceil(MIXER_SAMPLE_RATE / FRAMES);
const TEXT_LENGTH = Math.ceil((FRAMES * 4) / 3) * 4;
/** A stamp further from now than this is none. */
const MOST_LATE_MS = 3000;
const MOST_EARLY_MS = 200;
/** Pieces a second that are listened to, of all frames together: sixteen that sound at once. */
const MOST_PIECES = 16 * SILENT_PIECES;
const FULL_SCALE = 32_768;

export interface HeardSound {
  /** When its first frame sounded, epoch ms. */
  atMs: number;
  /** Interleaved 16-bit samples of two channels at 48 kHz. */
  samples: Uint8Array;
}

/** To be called before the page is opened. @param onSound told in order; what is silent for a second is left out */
export async function listenTo(
  context: BrowserContext,
  onSound: (sound: HeardSound) => void,
  nowMs: () => number = () => Date.now(),
): Promise<void> {
  const heard = new PageSound(onSound, nowMs);
  await context.exposeBinding(BINDING, ({ frame }, samples: unknown, atMs: unknown) => {
    heard.take(frame, samples, atMs);
  });
  const settings: EarSettings = {
    binding: BINDING,
    rate: MIXER_SAMPLE_RATE,
    frames: FRAMES,
    silent: SILENT_PIECES,
  };
  await context.addInitScript(listenToPage, settings);
}

export class PageSound {
  readonly #mix = new StampedMix();
  #second = 0;
  #pieces = 0;

  constructor(
    readonly onSound: (sound: HeardSound) => void,
    readonly nowMs: () => number,
  ) {}

  /** A piece as a frame says it; what cannot be one is not listened to. */
  take(frame: unknown, samples: unknown, atMs: unknown): void {
    const now = this.nowMs();
    const second = Math.floor(now / 1000);
    if (second !== this.#second) [this.#second, this.#pieces] = [second, 0];
    if (++this.#pieces > MOST_PIECES) return;
    if (typeof samples !== 'string' || samples.length > TEXT_LENGTH || typeof atMs !== 'number') return;
    if (!(atMs > now - MOST_LATE_MS && atMs < now + MOST_EARLY_MS)) return;
    const bytes = Buffer.from(samples, 'base64');
    if (bytes.length === 0 || bytes.length % 4 !== 0) return;
    const [leftIn, rightIn] = sidesOf(bytes);
    for (const { seconds, left, right } of this.#mix.add(frame, {
      seconds: atMs / 1000,
      left: leftIn,
      right: rightIn,
    })) {
      const out = Buffer.alloc(left.length * 4);
      for (let i = 0; i < left.length; i++) {
        out.writeInt16LE(wholeSample(left[i]), 4 * i);
        out.writeInt16LE(wholeSample(right[i]), 4 * i + 2);
      }
      this.onSound({ atMs: seconds * 1000, samples: out });
    }
  }
}

const wholeSample = (value: number) =>
  Math.max(-FULL_SCALE, Math.min(FULL_SCALE - 1, Math.round(value * FULL_SCALE)));
