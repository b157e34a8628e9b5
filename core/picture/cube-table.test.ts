import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { lookUp, readCube, writeCube, type CubeTable } from './cube-table';

const identity = (size: number): string => {
  const lines = [`TITLE "As it is"`, `# made for a test`, `LUT_3D_SIZE ${size}`];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) lines.push([r, g, b].map((v) => (v / (size - 1)).toFixed(6)).join(' '));
  return lines.join('\n');
};
const through = (table: CubeTable, colour: readonly number[]) => {
  const out = new Float32Array(3);
  lookUp(table, colour[0], colour[1], colour[2], out, 0);
  return [...out];
};
const share = fc.double({ min: 0, max: 1, noNaN: true });

describe('reading', () => {
  test('a 3D table, with title, comments, Windows line ends and a byte order mark', () => {
    const table = readCube(`\uFEFF${identity(3).replaceAll('\n', '\r\n')}\r\n\r\n`);
    expect(table).toMatchObject({ title: 'As it is', dimensions: 3, size: 3 });
    expect(table.values).toHaveLength(81);
    expect([...table.values.subarray(3, 6)]).toEqual([0.5, 0, 0]);
  });

  test('a 1D table with a domain of its own', () => {
    const table = readCube('LUT_1D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n0 0 0\n1 0.5 0\n');
    expect(through(table, [1, 1, 1])).toEqual([0.5, 0.25, 0]);
    expect(through(table, [3, -1, 2])).toEqual([1, 0, 0]);
    expect(readCube('LUT_1D_SIZE 2\nLUT_1D_INPUT_RANGE 0 2\n0 0 0\n1 1 1').domain.max).toEqual([2, 2, 2]);
  });

  test.each([
    ['nothing', '', 'line 1: the file ends without LUT_1D_SIZE or LUT_3D_SIZE'],
    ['a text', 'Hello there\n', 'line 1: "Hello" is no word of a .cube file'],
    ['no size', '0 0 0\n', 'line 1: entries come before'],
    [
      'a size that is no number',
      'LUT_3D_SIZE many',
      'line 1: LUT_3D_SIZE must be followed by one whole number',
    ],
    ['a size of one', 'LUT_3D_SIZE 1', 'line 1: LUT_3D_SIZE must'],
    [
      'a huge size',
      '\n\nLUT_3D_SIZE 256',
      'line 3: a 3D table of 256 is too large: export one of at most 129',
    ],
    ['two sizes', 'LUT_3D_SIZE 2\nLUT_1D_SIZE 2', 'line 2: the size of the table is given a second time'],
    [
      'two numbers in an entry',
      'LUT_1D_SIZE 2\n0 0 0\n1 1',
      'line 3: an entry has three numbers, this line has 2',
    ],
    ['a word for a number', 'LUT_1D_SIZE 2\n0 0 0\n1 1 x', 'line 3: "x" is no number'],
    ['infinity', 'LUT_1D_SIZE 2\n0 0 0\n1 1 1e99', 'line 3: "1e99" is no number'],
    [
      'a keyword among entries',
      'LUT_1D_SIZE 2\n0 0 0\nTITLE "x"\n1 1 1',
      'line 3: TITLE stands among the entries',
    ],
    ['too few entries', 'LUT_1D_SIZE 3\n0 0 0\n1 1 1', 'line 3: the file ends after 2 of 3 entries'],
    ['too many entries', 'LUT_1D_SIZE 2\n0 0 0\n1 1 1\n1 1 1', 'line 4: there are more entries than the 2'],
    ['a domain upside down', 'LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1', 'DOMAIN_MAX must be above'],
    [
      'a broken domain',
      'DOMAIN_MIN 1 1\nLUT_1D_SIZE 2',
      'line 1: DOMAIN_MIN must be followed by three numbers',
    ],
    ['binary', `\u0000\u0001PNG${'x'.repeat(400)}`, 'line 1: longer than a line'],
  ])('%s is refused, with the line and what should be there', (_name, text, message) =>
    expect(() => readCube(text)).toThrow(message),
  );

  test('any text at all ends in a table or a clear refusal', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc
            .tuple(
              fc.integer({ min: -2, max: 5 }),
              fc.array(fc.array(fc.double(), { maxLength: 4 }), { maxLength: 30 }),
            )
            .map(([n, rows]) => `LUT_3D_SIZE ${n}\n${rows.map((r) => r.join(' ')).join('\n')}`),
        ),
        (text) => {
          try {
            expect(readCube(text).values.every(Number.isFinite)).toBe(true);
          } catch (error) {
            expect((error as Error).message).toMatch(/^(line \d+: |DOMAIN_MAX)/);
          }
        },
      ),
    );
  });

  test('what is written is read again', () => {
    const table = readCube(identity(5));
    expect(readCube(writeCube(table))).toEqual(table);
  });
});

describe('looking up', () => {
  test('a table of what comes in gives that back, anywhere', () => {
    const table = readCube(identity(9));
    fc.assert(
      fc.property(fc.tuple(share, share, share), (colour) => {
        through(table, colour).forEach((v, i) => expect(v).toBeCloseTo(colour[i], 5));
      }),
    );
  });

  test('entries are given exactly, greys lie on the line between grey entries, and nothing jumps', () => {
    const values = Float32Array.from({ length: 81 }, (_, i) => ((i * 7919) % 101) / 100);
    const table: CubeTable = { ...readCube(identity(3)), values };
    for (let n = 0; n < 27; n++) {
      const at = [n % 3, Math.floor(n / 3) % 3, Math.floor(n / 9)].map((v) => v / 2);
      expect(through(table, at)).toEqual([...values.subarray(n * 3, n * 3 + 3)]);
    }
    const entry = (n: number, c: number) => values[n * 3 + c];
    expect(through(table, [0.25, 0.25, 0.25])[0]).toBeCloseTo((entry(0, 0) + entry(13, 0)) / 2);
    fc.assert(
      fc.property(fc.tuple(share, share, share), (colour) => {
        const near = through(
          table,
          colour.map((v) => Math.min(1, v + 1e-5)),
        );
        through(table, colour).forEach((v, i) => expect(Math.abs(v - near[i])).toBeLessThan(1e-3));
      }),
    );
  });
});

test('entries far out of the picture’s range count as eight', () => {
  const { values } = readCube('LUT_1D_SIZE 2\n-9 8 65536\n1.5 -65536 7.9');
  expect([...values].map((v) => Math.round(v * 10) / 10)).toEqual([-8, 8, 8, 1.5, -8, 7.9]);
});
