import { describe, expect, test } from 'vitest';
import { PLAIN_CHANNEL, type ChannelRecord, type EffectRecord } from '../core/show/records';
import {
  MAX_PROCESSORS,
  newProcessor,
  PARAMETERS,
  PROCESSOR_TYPES,
  START_BANDS,
  voiceChain,
  type Processor,
} from '../core/sound/chain/chain-settings';
import { SHIPPED_CHAINS } from '../core/sound/chain/chain-presets';
import { recordSchemas } from './record-schemas';

let n = 0;
const newId = () => `p${n++}`;
const channel = (part: Partial<ChannelRecord> = {}): ChannelRecord => ({
  kind: 'channel',
  id: 'ch',
  showId: 's',
  name: 'Voice',
  position: 0,
  source: { type: 'microphone', deviceId: '', deviceLabel: 'Desk', processed: false },
  ...PLAIN_CHANNEL,
  gainDb: 0,
  ...part,
});
const errorOf = (record: ChannelRecord | EffectRecord) =>
  recordSchemas[record.kind].validate(record, { convert: false }).error?.message ?? null;
const withChain = (...processors: Processor[]) => channel({ chain: { bypassed: false, processors } });

describe('channels', () => {
  test('a plain one, one with everything, and every shipped chain pass', () => {
    expect(errorOf(channel())).toBeNull();
    expect(
      errorOf(
        channel({
          chain: voiceChain(newId),
          tracks: [1, 6],
          heard: 'scenes',
          sceneIds: ['a', 'gone'],
          ducking: {
            byChannelId: 'x',
            depthDb: 9,
            thresholdDb: -30,
            attackMs: 40,
            holdMs: 0,
            releaseMs: 500,
          },
        }),
      ),
    ).toBeNull();
    for (const { make } of SHIPPED_CHAINS) expect(errorOf(channel({ chain: make(newId) }))).toBeNull();
  });

  test.each([
    ['a track that does not exist', { tracks: [7] }],
    ['a track twice', { tracks: [2, 2] }],
    ['an offset beyond the longest', { offsetMs: 2001 }],
    ['an offset before the earliest', { offsetMs: -201 }],
    ['a fader above its top', { gainDb: 11 }],
    ['a level that is no number', { gainDb: Number.NaN }],
    ['a pan outside', { pan: 1.5 }],
    ['a way to listen nobody knows', { monitor: 'maybe' as never }],
    [
      'music without a file',
      { source: { type: 'music', files: [], order: 'listed', loop: true, playing: true } },
    ],
    ['ducking without a depth', { ducking: { byChannelId: 'x' } as never }],
  ] as [string, Partial<ChannelRecord>][])('%s is refused', (_what, part) => {
    expect(errorOf(channel(part))).not.toBeNull();
  });
});

describe('voice chains', () => {
  test.each(PROCESSOR_TYPES)('%s: start values pass, anything outside a range does not', (type) => {
    const processor = newProcessor(type, 'p');
    expect(errorOf(withChain(processor))).toBeNull();
    for (const [name, range] of Object.entries(PARAMETERS[type]) as [string, { min: number; max: number }][])
      for (const value of [range.min - 0.01, range.max + 0.01, Number.NaN, Number.POSITIVE_INFINITY, '3'])
        expect(
          errorOf(withChain({ ...processor, values: { ...processor.values, [name]: value } } as never)),
          `${name} = ${value}`,
        ).not.toBeNull();
    expect(
      errorOf(withChain({ ...processor, values: { ...processor.values, extra: 1 } } as never)),
    ).not.toBeNull();
  });

  test('too many processors, two of one id, an unknown one, too many bands are refused', () => {
    const gates = (count: number) => Array.from({ length: count }, () => newProcessor('gate', newId()));
    expect(errorOf(withChain(...gates(MAX_PROCESSORS)))).toBeNull();
    expect(errorOf(withChain(...gates(MAX_PROCESSORS + 1)))).not.toBeNull();
    expect(errorOf(withChain(newProcessor('gate', 'x'), newProcessor('limiter', 'x')))).not.toBeNull();
    expect(errorOf(withChain({ ...newProcessor('gate', 'x'), type: 'reverb' } as never))).not.toBeNull();
    const bands = Array.from({ length: 13 }, () => START_BANDS[0]);
    expect(errorOf(withChain({ ...newProcessor('equaliser', 'x'), bands } as never))).not.toBeNull();
  });
});

test('effects: a file or a made-up sound, one key at most', () => {
  const effect: EffectRecord = {
    kind: 'effect',
    id: 'fx',
    showId: 's',
    name: 'Bell',
    position: 0,
    source: { type: 'simulated', effect: 'bell' },
    gainDb: 0,
    repeat: 'overlap',
    fadeSeconds: 0.3,
    colour: 'larch',
    key: '1',
  };
  expect(errorOf(effect)).toBeNull();
  expect(errorOf({ ...effect, key: '' })).toBeNull();
  expect(errorOf({ ...effect, key: '12' })).not.toBeNull();
  expect(errorOf({ ...effect, source: { type: 'simulated', effect: 'siren' as never } })).not.toBeNull();
});
