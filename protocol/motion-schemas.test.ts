import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { GRADE_RANGES, NO_GRADE, START_KEY } from '../core/show/colour-records';
import { FADE, PLAIN_MOTION, TRANSITIONS, type Stinger, type Transition } from '../core/show/motion-records';
import type { GradeRecord, PoseRecord, RecordKind } from '../core/show/records';
import { sampleInput, sampleLayer, sampleScene, sampleShow } from '../core/show/sample-show';
import { recordSchemas } from './record-schemas';

const errorOf = (kind: RecordKind, record: unknown): string | null =>
  recordSchemas[kind].validate(record, { convert: false }).error?.message ?? null;
const stinger: Stinger = {
  assetId: 'abc',
  name: 'points',
  seconds: 1.5,
  coverSeconds: 0.75,
  sounds: true,
  gainDb: -6,
};
const scene = (transition: unknown) => ({ ...sampleScene('a'), transition });

describe('transitions', () => {
  test.each(TRANSITIONS)('%s passes, for a scene, a pair and the show', (type) => {
    const way: Transition = { ...FADE, type, stinger: type === 'stinger' ? stinger : null };
    expect(errorOf('scene', scene(way))).toBeNull();
    expect(errorOf('scene', { ...sampleScene('a'), transitionAfter: { b: way } })).toBeNull();
    expect(errorOf('show', { ...sampleShow, transition: way })).toBeNull();
  });
  test('a scene may say nothing, the show must', () => {
    expect(errorOf('scene', scene(null))).toBeNull();
    expect(errorOf('show', { ...sampleShow, transition: null })).not.toBeNull();
  });
  test.each<[string, object, RegExp]>([
    ['a way nobody knows', { type: 'explode' }, /must be/],
    ['a time below nothing', { seconds: -1 }, /greater than or equal to 0/],
    ['eleven seconds', { seconds: 11 }, /less than or equal to 10/],
    ['a course that is none', { easing: 'quickly' }, /write linear, ease/],
    ['a curve that runs backwards', { easing: 'cubic-bezier(2, 0, 0, 1)' }, /between 0 and 1/],
    ['a corner for a side', { side: 'top-left' }, /must be/],
    ['a colour in words', { colour: 'red' }, /written like #1c2229/],
    [
      'a stinger shorter than its cover point',
      { type: 'stinger', stinger: { ...stinger, coverSeconds: 2 } },
      /coverSeconds/,
    ],
    [
      'a stinger from another folder',
      { type: 'stinger', stinger: { ...stinger, assetId: '../../key' } },
      /pattern/,
    ],
    [
      'a deafening stinger',
      { type: 'stinger', stinger: { ...stinger, gainDb: 40 } },
      /less than or equal to 12/,
    ],
  ])('%s is refused', (_name, part, message) =>
    expect(errorOf('scene', scene({ ...FADE, ...part }))).toMatch(message),
  );
  test('glides and layers have the same limits', () => {
    const glide = { seconds: 0.5, easing: 'spring(0.4)', staggerSeconds: 0.1 };
    expect(errorOf('scene', { ...sampleScene('a'), glide })).toBeNull();
    expect(errorOf('scene', { ...sampleScene('a'), glide: { ...glide, staggerSeconds: 5 } })).not.toBeNull();
    const layer = (motion: object) => ({
      ...sampleLayer('l', 'a', 0),
      motion: { ...PLAIN_MOTION, ...motion },
    });
    expect(errorOf('layer', layer({ enter: 'wipe', timing: { seconds: 1, easing: 'ease' } }))).toBeNull();
    expect(errorOf('layer', layer({ enter: 'teleport' }))).not.toBeNull();
    expect(errorOf('layer', layer({ timing: { seconds: 1, easing: '' } }))).not.toBeNull();
  });
});

describe('poses', () => {
  const pose: PoseRecord = {
    kind: 'pose',
    id: 'p',
    showId: 'show',
    name: 'Host',
    position: 0,
    sceneId: 'a',
    key: '3',
    glide: { seconds: 1, easing: 'ease-out' },
    layers: {
      l: { visible: true, placements: sampleLayer('l', 'a', 0, { tall: {} }).placements, colour: '#ff0000' },
      m: { visible: false, placements: {}, colour: null },
    },
    standing: { badge: { hidden: true, placements: {} } },
  };
  test('one with both frames, a key and a timing passes; so does one without', () => {
    expect(errorOf('pose', pose)).toBeNull();
    expect(errorOf('pose', { ...pose, key: '', glide: null, layers: {} })).toBeNull();
  });
  test.each<[string, object]>([
    ['a key of two', { key: '12' }],
    ['a letter for a key', { key: 'a' }],
    ['no scene', { sceneId: '' }],
    ['a layer without a place', { layers: { l: { visible: true, colour: null } } }],
    ['a layer of no width', { layers: { l: { ...pose.layers.l, placements: { wide: { width: 0 } } } } }],
    ['a path for a layer', { layers: { '../l': pose.layers.l } }],
    ['something of its own', { more: true }],
  ])('%s is refused', (_name, part) => expect(errorOf('pose', { ...pose, ...part })).not.toBeNull());
});

describe('colour', () => {
  const grade: GradeRecord = {
    kind: 'grade',
    id: 'g',
    showId: 'show',
    name: 'Night',
    position: 0,
    values: NO_GRADE,
    table: { assetId: 'abc', name: 'night.cube', strength: 0.5 },
    smoothing: 0.4,
  };
  test('values pass within their ranges and are refused beyond them', () => {
    expect(errorOf('grade', grade)).toBeNull();
    expect(errorOf('grade', { ...grade, table: null })).toBeNull();
    fc.assert(
      fc.property(
        fc.constantFrom(...(Object.keys(GRADE_RANGES) as (keyof typeof GRADE_RANGES)[])),
        fc.double({ min: -10, max: 10, noNaN: true }),
        (name, value) => {
          const { min, max } = GRADE_RANGES[name];
          const error = errorOf('grade', { ...grade, values: { ...NO_GRADE, [name]: value } });
          expect(error === null).toBe(value >= min && value <= max);
        },
      ),
    );
  });
  test.each<[string, object]>([
    ['a value that is missing', { values: { brightness: 0 } }],
    ['a value that is no number', { values: { ...NO_GRADE, gamma: Number.NaN } }],
    ['smoothing beyond whole', { smoothing: 1.1 }],
    ['a table stronger than whole', { table: { ...grade.table, strength: 1.1 } }],
  ])('%s is refused', (_name, part) => expect(errorOf('grade', { ...grade, ...part })).not.toBeNull());
  test('a key has shares and a plain colour', () => {
    const input = (key: object | null) => ({ ...sampleInput('i'), key });
    expect(errorOf('input', input(START_KEY))).toBeNull();
    expect(errorOf('input', input({ ...START_KEY, colour: '#2f9e5b80' }))).not.toBeNull();
    for (const name of ['tolerance', 'softness', 'spill', 'edge'])
      for (const value of [-0.1, 1.1])
        expect(errorOf('input', input({ ...START_KEY, [name]: value }))).not.toBeNull();
  });
});
