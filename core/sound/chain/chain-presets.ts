/** Voice chains to start from. Each is practice for a kind of microphone and room; the soundcheck makes them one's own. */
import {
  EMPTY_CHAIN,
  newProcessor,
  voiceChain,
  type ChainSettings,
  type ProcessorType,
} from './chain-settings';

export interface ShippedChain {
  name: string;
  about: string;
  make: (newId: () => string) => ChainSettings;
}

function chainOf(
  newId: () => string,
  parts: readonly (readonly [ProcessorType, Record<string, number>])[],
): ChainSettings {
  const processors = parts.map(([type, values]) => {
    const processor = newProcessor(type, newId());
    return { ...processor, values: { ...processor.values, ...values } } as typeof processor;
  });
  return { bypassed: false, processors };
}

export const SHIPPED_CHAINS: readonly ShippedChain[] = [
  { name: 'Voice', about: 'the five that most voices need', make: voiceChain },
  {
    name: 'Quiet room',
    about: 'an expander in place of a gate',
    make: (id) =>
      chainOf(id, [
        ['expander', { thresholdDb: -50, ratio: 2, rangeDb: 14 }],
        ['compressor', { ratio: 3, attackMs: 5, releaseMs: 90, makeUpDb: 5 }],
        ['equaliser', {}],
        ['limiter', {}],
      ]),
  },
  {
    name: 'Noisy room',
    about: 'keyboard, fan, street',
    make: (id) =>
      chainOf(id, [
        ['noise', { amount: 100 }],
        ['gate', { openDb: -38, closeDb: -43, holdMs: 150 }],
        ['compressor', { ratio: 4, makeUpDb: 6 }],
        ['deesser', {}],
        ['equaliser', {}],
        ['limiter', {}],
      ]),
  },
  {
    name: 'Shouting at the game',
    about: 'holds loud moments down hard',
    make: (id) =>
      chainOf(id, [
        ['noise', {}],
        ['gate', {}],
        ['compressor', { ratio: 8, thresholdDb: -24, attackMs: 0.5, releaseMs: 50, makeUpDb: 10 }],
        ['equaliser', {}],
        ['limiter', { ceilingDb: -3 }],
      ]),
  },
  { name: 'Nothing', about: 'no processor at all', make: () => EMPTY_CHAIN },
];
