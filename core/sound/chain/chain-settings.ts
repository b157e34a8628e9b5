/**
 * What a voice chain can hold: the processors, their parameters with ranges and units, and what each starts with.
 * One table serves the sound thread, the border that checks what comes in, and the interface.
 */

export const PROCESSOR_TYPES = [
  'noise',
  'gate',
  'expander',
  'dehum',
  'deesser',
  'compressor',
  'equaliser',
  'limiter',
] as const;
export type ProcessorType = (typeof PROCESSOR_TYPES)[number];

export type Unit = 'dB' | 'dBTP' | 'ms' | 'Hz' | ':1' | '%' | 'Q' | '';

export interface ParameterRange {
  min: number;
  max: number;
  /** What a new processor starts with. */
  start: number;
  unit: Unit;
  label: string;
  /** Sliders of frequencies and times move by ratio. */
  logarithmic?: boolean;
}

const range = (
  label: string,
  min: number,
  max: number,
  start: number,
  unit: Unit,
  logarithmic = false,
): ParameterRange => ({ label, min, max, start, unit, ...(logarithmic && { logarithmic }) });

/** In the order they are shown. */
export const PARAMETERS = {
  noise: { amount: range('Amount', 0, 100, 80, '%') },
  gate: {
    openDb: range('Open threshold', -80, 0, -42, 'dB'),
    closeDb: range('Close threshold', -90, 0, -47, 'dB'),
    attackMs: range('Attack', 0.1, 100, 1, 'ms', true),
    holdMs: range('Hold', 0, 2000, 100, 'ms'),
    releaseMs: range('Release', 5, 2000, 250, 'ms', true),
    rangeDb: range('Range', 0, 80, 60, 'dB'),
    keyHz: range('Sidechain high-pass', 20, 500, 120, 'Hz', true),
  },
  expander: {
    thresholdDb: range('Threshold', -80, 0, -45, 'dB'),
    ratio: range('Ratio', 1, 10, 2, ':1'),
    rangeDb: range('Range', 0, 60, 20, 'dB'),
    attackMs: range('Attack', 0.1, 100, 5, 'ms', true),
    releaseMs: range('Release', 5, 2000, 150, 'ms', true),
  },
  dehum: {
    frequencyHz: range('Frequency', 20, 400, 50, 'Hz', true),
    harmonics: range('Harmonics', 1, 10, 5, ''),
    q: range('Q', 5, 60, 25, 'Q', true),
  },
  deesser: {
    frequencyHz: range('Frequency', 2000, 12_000, 6500, 'Hz', true),
    thresholdDb: range('Threshold', -60, 0, -30, 'dB'),
    rangeDb: range('Range', 0, 24, 8, 'dB'),
  },
  compressor: {
    thresholdDb: range('Threshold', -60, 0, -18, 'dB'),
    ratio: range('Ratio', 1, 20, 4, ':1'),
    kneeDb: range('Knee', 0, 24, 6, 'dB'),
    attackMs: range('Attack', 0.1, 200, 1, 'ms', true),
    releaseMs: range('Release', 5, 2000, 60, 'ms', true),
    makeUpDb: range('Make-up gain', -12, 36, 0, 'dB'),
  },
  equaliser: {},
  limiter: {
    ceilingDb: range('Ceiling', -24, 0, -1, 'dBTP'),
    releaseMs: range('Release', 10, 1000, 80, 'ms', true),
  },
} as const satisfies Record<ProcessorType, Record<string, ParameterRange>>;

export const PROCESSOR_NAMES: Record<ProcessorType, string> = {
  noise: 'Noise reduction',
  gate: 'Gate',
  expander: 'Expander',
  dehum: 'De-hum',
  deesser: 'De-esser',
  compressor: 'Compressor',
  equaliser: 'Equaliser',
  limiter: 'Limiter',
};

export const BAND_SHAPES = ['high-pass', 'low-pass', 'low-shelf', 'high-shelf', 'bell', 'notch'] as const;
export type BandShape = (typeof BAND_SHAPES)[number];

export interface EqualiserBand {
  on: boolean;
  shape: BandShape;
  frequencyHz: number;
  /** Bells and shelves only. */
  gainDb: number;
  /** Quality; of shelves it sets how steep the step is. */
  q: number;
}

export const BAND_RANGES = {
  frequencyHz: range('Frequency', 20, 20_000, 1000, 'Hz', true),
  gainDb: range('Gain', -18, 18, 0, 'dB'),
  q: range('Q', 0.1, 30, 1, 'Q', true),
} as const;
export const MAX_BANDS = 12;
export const MAX_PROCESSORS = 12;

export type Values<T extends ProcessorType> = { -readonly [P in keyof (typeof PARAMETERS)[T]]: number };

type Own<T extends ProcessorType> = T extends 'equaliser'
  ? { bands: EqualiserBand[] }
  : T extends 'compressor'
    ? { autoMakeUp: boolean }
    : unknown;

export type ProcessorOf<T extends ProcessorType> = {
  id: string;
  type: T;
  on: boolean;
  values: Values<T>;
} & Own<T>;

export type Processor = { [T in ProcessorType]: ProcessorOf<T> }[ProcessorType];

export interface ChainSettings {
  /** All of it is passed by. */
  bypassed: boolean;
  processors: Processor[];
}

export const EMPTY_CHAIN: ChainSettings = { bypassed: false, processors: [] };

/** Five bands of practice: high-pass against thumps, body, boxiness, harshness, air; all flat but the first. */
export const START_BANDS: readonly EqualiserBand[] = [
  { on: true, shape: 'high-pass', frequencyHz: 80, gainDb: 0, q: 0.71 },
  { on: true, shape: 'low-shelf', frequencyHz: 200, gainDb: 0, q: 0.71 },
  { on: true, shape: 'bell', frequencyHz: 1000, gainDb: -2.5, q: 0.7 },
  { on: true, shape: 'bell', frequencyHz: 3000, gainDb: 0, q: 1 },
  { on: true, shape: 'high-shelf', frequencyHz: 9000, gainDb: 0, q: 0.71 },
];

/** A processor as it starts. */
export function newProcessor(type: ProcessorType, id: string): Processor {
  const values = Object.fromEntries(Object.entries(PARAMETERS[type]).map(([name, r]) => [name, r.start]));
  const own =
    type === 'equaliser'
      ? { bands: START_BANDS.map((band) => ({ ...band })) }
      : type === 'compressor'
        ? { autoMakeUp: false }
        : {};
  return { id, type, on: true, values, ...own } as unknown as Processor;
}

/** The order that practice recommends for a voice. */
export const VOICE_ORDER: readonly ProcessorType[] = ['noise', 'gate', 'compressor', 'equaliser', 'limiter'];

export function voiceChain(id: () => string): ChainSettings {
  const processors = VOICE_ORDER.map((type) => newProcessor(type, id()));
  // What it takes away on an ordinary voice it gives back.
  for (const processor of processors) if (processor.type === 'compressor') processor.values.makeUpDb = 6;
  return { bypassed: false, processors };
}

/** A value inside its range; nonsense gives the start value. */
export function inRange(value: number, { min, max, start }: ParameterRange): number {
  return Number.isFinite(value) ? Math.min(max, Math.max(min, value)) : start;
}
