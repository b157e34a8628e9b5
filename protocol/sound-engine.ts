/** What the page says to the sound thread and to the workers that play and listen. */
import type { ChainSettings } from '../core/sound/chain/chain-settings';
import type { EchoFinding } from '../core/sound/analysis/echo-finder';
import type { SpectrumMatch } from '../core/sound/analysis/spectrum-match';
import type { SoundcheckResult, SoundcheckTakes } from '../core/sound/analysis/soundcheck';
import type { ChannelSource } from '../core/show/channel-kinds';
import type { ReturnSend } from '../core/sound/return-mix';
import type { StripSettings } from '../core/sound/strip';

/** Outputs of the sound thread before the first guest's return: the monitor and clean windows. */
export const FIRST_RETURN = 2;

export interface StripOrder {
  index: number;
  source:
    | { type: 'made'; sound: ChannelSource }
    | { type: 'graph'; input: number }
    | { type: 'file'; ring: SharedArrayBuffer }
    | { type: 'effects' }
    | { type: 'speech' };
  settings: StripSettings;
}

/** What belongs to the desk and not to the show. Strips are named by their number, −1 for none. */
export interface DeskSound {
  ceilingDb: number;
  allMuted: boolean;
  /** Bits of the strips heard alone in the monitor. */
  solo: number;
  /** Linear. */
  monitorGain: number;
  /** Clean windows are heard, without this strip (−1: with all); null when they are not. */
  windows: { without: number } | null;
  /** Bits of the strips whose people wait in the wings and are heard in the monitor alone. */
  wings: number;
  /** What each guest hears, by the place of their return: how each strip is sent there; null where nobody is. */
  returns: (readonly ReturnSend[] | null)[];
  /** Heard as it is before its chain, in the monitor. */
  compare: number;
  /** Whose chain is drawn. */
  focus: number;
  /** Which microphone the echo finder listens to. */
  echo: number;
}

export type ToMixer =
  /** `atSeconds`: of the programme, when faders, mutes and scenes change; null for now */
  | { type: 'strips'; put: StripOrder[]; removed: number[]; atSeconds: number | null }
  | { type: 'desk'; desk: DeskSound }
  | { type: 'resetProgramme' }
  /** transfers both buffers */
  | { type: 'loadEffect'; id: string; left: Float32Array; right: Float32Array }
  /** transfers both buffers; ends what is still being said */
  | { type: 'speak'; left: Float32Array; right: Float32Array }
  | { type: 'unloadEffect'; id: string }
  /** `atSeconds`: of the programme, when it begins; null for now */
  | { type: 'playEffect'; id: string; gain: number; restart: boolean; atSeconds: number | null }
  /** null stops all */
  | { type: 'stopEffect'; id: string | null; seconds: number };

/** To the worker that plays a list of sound files into shared memory. */
export type ToMusic =
  | {
      type: 'files';
      files: { name: string; url: string }[];
      order: 'listed' | 'shuffled';
      loop: boolean;
      seed: number;
    }
  | { type: 'play'; ring: SharedArrayBuffer; clock: SharedArrayBuffer }
  | { type: 'skip' }
  | { type: 'stop' };

/** `place` counts from 0 in the list. */
export type FromMusic =
  | { type: 'now'; place: number; name: string }
  /** Of the file that has just begun. */
  | { type: 'length'; seconds: number }
  | { type: 'ended' }
  | { type: 'problem'; message: string };

/** To the worker that takes the sound of the studio's computer into shared memory. */
export interface ToComputerSound {
  type: 'take';
  url: string;
  ring: SharedArrayBuffer;
  clock: SharedArrayBuffer;
}

/** Why it is not heard, in words; null while it is. */
export interface FromComputerSound {
  type: 'state';
  problem: string | null;
}

/** To the worker that listens: soundcheck, matching, the echo finder. `call` comes back with the answer. */
export type ToListener =
  | {
      type: 'soundcheck';
      call: number;
      takes: SoundcheckTakes;
      targetLufs: number;
      noise: ArrayBuffer | null;
    }
  | {
      type: 'match';
      call: number;
      reference: Float32Array;
      voice: Float32Array;
      chain: ChainSettings;
      trimDb: number;
      noise: ArrayBuffer | null;
    }
  | { type: 'measure'; call: number; left: Float32Array; right: Float32Array }
  /** Begins to watch the probe for echoes; the finding comes by itself. */
  | { type: 'watchEcho'; probe: SharedArrayBuffer };

export interface TakeFigures {
  integratedLufs: number;
  rangeLu: number;
  truePeakDbtp: number;
  maxMomentaryLufs: number;
}

export type FromListener =
  | { type: 'soundcheck'; call: number; result: SoundcheckResult }
  | { type: 'match'; call: number; result: SpectrumMatch }
  | { type: 'measure'; call: number; figures: TakeFigures }
  | { type: 'failed'; call: number; message: string }
  | { type: 'echo'; finding: EchoFinding | null };
