import { describe, expect, test } from 'vitest';
import { CHANNEL_KINDS } from '../core/show/channel-kinds';
import { INPUT_KINDS } from '../core/show/input-kinds';
import {
  choice,
  colour,
  fields,
  files,
  flag,
  idOr,
  list,
  number,
  optional,
  whole,
  words,
  type Field,
} from '../core/show/shape';
import { kindSchema } from './shape-schemas';

const schema = kindSchema('type', {
  lamp: {
    shape: {
      on: flag,
      tint: colour,
      of: choice(['oil', 'arc']),
      share: number(0, 1),
      count: whole(1, 9),
      name: words(5, 1),
      says: words(5),
      next: idOr(null),
      parts: list(fields({ at: number(0, 1) }), 2, 1),
      pictures: optional(files(2)),
      turns: { is: 'named', names: ['left', 'right'], of: number(-1, 1) },
      time: {
        is: 'words',
        min: 0,
        max: 5,
        like: { pattern: /^\d\d:\d\d$/, say: 'a time is written like 20:00' },
      },
    },
  },
  signal: { shape: [{ arm: flag }, { light: flag }] },
});
const LAMP = {
  type: 'lamp',
  on: true,
  tint: '#102030',
  of: 'oil',
  share: 0.5,
  count: 3,
  name: 'one',
  says: '',
  next: null,
  parts: [{ at: 0 }],
  turns: { left: 1 },
  time: '20:00',
};
const problem = (value: unknown) => schema.validate(value, { convert: false }).error?.message;

describe('settings as data become a border', () => {
  test('what is as described comes through, also what need not be there', () => {
    expect(problem(LAMP)).toBeUndefined();
    expect(problem({ ...LAMP, pictures: [{ assetId: 'a1', name: 'Roof' }], next: 'n-1' })).toBeUndefined();
    expect(problem({ type: 'signal', arm: true })).toBeUndefined();
    expect(problem({ type: 'signal', light: false })).toBeUndefined();
  });

  test.each([
    ['a switch that is none', { on: 1 }],
    ['a colour that is none', { tint: 'red' }],
    ['another choice', { of: 'gas' }],
    ['a number out of its range', { share: 1.01 }],
    ['a part of a whole number', { count: 1.5 }],
    ['no name', { name: '' }],
    ['too long a name', { name: 'abcdef' }],
    ['an id that is none', { next: 'a b' }],
    ['a list with too few', { parts: [] }],
    ['a list with too many', { parts: [{ at: 0 }, { at: 1 }, { at: 1 }] }],
    ['something in a list that does not belong there', { parts: [{ at: 0, by: 1 }] }],
    ['a name nobody knows', { turns: { up: 1 } }],
    ['more than is described', { glow: 1 }],
    ['nothing where something must be', { share: undefined }],
    ['both looks at once', { type: 'signal', arm: true, light: true }],
    ['no such kind', { type: 'bell' }],
  ])('not: %s', (_, wrong) => {
    expect(problem({ ...LAMP, ...wrong })).toBeDefined();
  });

  test('a text that has to look like something says how', () => {
    expect(problem({ ...LAMP, time: '8 pm' })).toContain('a time is written like 20:00');
  });
});

/** The least that each field takes. */
function least(field: Field): unknown {
  switch (field.is) {
    case 'flag':
      return false;
    case 'choice':
      return field.of[0];
    case 'number':
      return field.min;
    case 'words':
      return 'x'.repeat(field.min);
    case 'colour':
      return '#000000';
    case 'id':
      return 'some-id';
    case 'list':
      return Array.from({ length: field.min }, () => least(field.of));
    case 'fields':
      return Object.fromEntries(Object.entries(field.of).map(([name, of]) => [name, least(of)]));
    case 'named':
      return {};
  }
}

describe.each([
  ['input', INPUT_KINDS],
  ['channel', CHANNEL_KINDS],
])('kinds of %s', (_, kinds) => {
  test.each(Object.entries(kinds))(
    '%s: the least it can be set to, and nothing beside it',
    (type, { shape }) => {
      const border = kindSchema('type', kinds);
      for (const one of Array.isArray(shape) ? shape : [shape]) {
        const source = {
          type,
          ...Object.fromEntries(Object.entries(one).map(([name, field]) => [name, least(field as never)])),
        };
        expect(border.validate(source, { convert: false }).error).toBeUndefined();
        expect(border.validate({ ...source, more: 1 }, { convert: false }).error).toBeDefined();
      }
    },
  );
});
