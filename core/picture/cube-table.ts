/**
 * Colour tables in the open `.cube` format ("Cube LUT Specification", version 1.0): 1D and 3D, the red value changing
 * fastest.
 */
import { Fault } from '../fault';

export interface CubeTable {
  title: string;
  dimensions: 1 | 3;
  /** Entries along each axis. */
  size: number;
  /** Least and greatest input of each channel. */
  domain: { min: [number, number, number]; max: [number, number, number] };
  /** Red, green, blue for each entry, −`MAX_ENTRY`…`MAX_ENTRY`; `size` or `size`³ entries. */
  values: Float32Array;
}

export const MAX_CUBE_BYTES = 32 * 1024 * 1024;
/** As the format allows for 1D; 3D tables above 129 would be 2 million entries, which no camera or film needs. */
const MAX_SIZE = { 1: 65_536, 3: 129 };
const MAX_VALUE = 65_536;
/** What is further from the picture's 0…1 is taken as this far: it is cut in any case, and only its neighbours tell. */
const MAX_ENTRY = 8;

const wrong = (line: number, what: string) => new Fault('cube.damaged', `line ${line}: ${what}`);

/**
 * @param text the file's text
 * @throws Fault `cube.damaged` naming the line and what should be there; `cube.large` when it is too large
 */
export function readCube(text: string): CubeTable {
  if (text.length > MAX_CUBE_BYTES)
    throw new Fault(
      'cube.large',
      `the table is larger than ${MAX_CUBE_BYTES / 1024 / 1024} MB: export one with fewer entries`,
    );
  let title = '';
  let dimensions: 1 | 3 | null = null;
  let size = 0;
  const domain: CubeTable['domain'] = { min: [0, 0, 0], max: [1, 1, 1] };
  let values: Float32Array | null = null;
  let filled = 0;
  let number = 0;
  let dataLine = 0;
  let at = text.charCodeAt(0) === 0xfeff ? 1 : 0;
  while (at < text.length) {
    let end = text.indexOf('\n', at);
    if (end < 0) end = text.length;
    const line = text.slice(at, end).trim();
    at = end + 1;
    number += 1;
    if (line === '' || line.startsWith('#')) continue;
    if (line.length > 250) throw wrong(number, 'longer than a line of a table can be: this is no .cube file');
    const first = line.charCodeAt(0);
    // Keywords begin with a letter; entries with a digit, a sign or a point.
    if ((first >= 65 && first <= 90) || (first >= 97 && first <= 122)) {
      const [word, ...rest] = line.split(/\s+/);
      if (values && filled > 0)
        throw wrong(number, `${word} stands among the entries, where only numbers may stand`);
      switch (word) {
        case 'TITLE':
          title = line.slice(5).trim().replace(/^"|"$/g, '').slice(0, 120);
          break;
        case 'LUT_1D_SIZE':
        case 'LUT_3D_SIZE': {
          if (dimensions !== null) throw wrong(number, 'the size of the table is given a second time');
          dimensions = word === 'LUT_1D_SIZE' ? 1 : 3;
          size = Number(rest[0]);
          if (rest.length !== 1 || !Number.isInteger(size) || size < 2)
            throw wrong(number, `${word} must be followed by one whole number from 2 on`);
          if (size > MAX_SIZE[dimensions])
            throw new Fault(
              'cube.large',
              `line ${number}: a ${dimensions}D table of ${size} is too large: export one of at most ${MAX_SIZE[dimensions]}`,
            );
          values = new Float32Array((dimensions === 1 ? size : size ** 3) * 3);
          break;
        }
        case 'DOMAIN_MIN':
        case 'DOMAIN_MAX': {
          const three = rest.map(Number);
          if (three.length !== 3 || !three.every(Number.isFinite))
            throw wrong(number, `${word} must be followed by three numbers`);
          domain[word === 'DOMAIN_MIN' ? 'min' : 'max'] = three as [number, number, number];
          break;
        }
        case 'LUT_1D_INPUT_RANGE':
        case 'LUT_3D_INPUT_RANGE': {
          const [low, high] = rest.map(Number);
          if (rest.length !== 2 || !Number.isFinite(low) || !Number.isFinite(high))
            throw wrong(number, `${word} must be followed by two numbers`);
          domain.min = [low, low, low];
          domain.max = [high, high, high];
          break;
        }
        default:
          throw wrong(number, `"${word.slice(0, 40)}" is no word of a .cube file`);
      }
      continue;
    }
    if (!values)
      throw wrong(number, 'entries come before LUT_1D_SIZE or LUT_3D_SIZE says how many there are');
    if (filled === values.length)
      throw wrong(
        number,
        `there are more entries than the ${values.length / 3} that a ${dimensions}D table of ${size} has`,
      );
    const parts = line.split(/\s+/);
    if (parts.length !== 3) throw wrong(number, `an entry has three numbers, this line has ${parts.length}`);
    for (const part of parts) {
      const value = Number(part);
      if (!Number.isFinite(value) || Math.abs(value) > MAX_VALUE)
        throw wrong(number, `"${part.slice(0, 40)}" is no number a table can hold`);
      values[filled++] = Math.max(-MAX_ENTRY, Math.min(MAX_ENTRY, value));
    }
    dataLine = number;
  }
  if (dimensions === null || !values)
    throw new Fault(
      'cube.damaged',
      `line ${Math.max(1, number)}: the file ends without LUT_1D_SIZE or LUT_3D_SIZE: this is no .cube file`,
    );
  if (filled < values.length)
    throw wrong(
      dataLine || number,
      `the file ends after ${Math.floor(filled / 3)} of ${values.length / 3} entries: it is cut off, copy it again`,
    );
  for (const i of [0, 1, 2] as const)
    if (!(domain.max[i] > domain.min[i]))
      throw new Fault('cube.damaged', 'DOMAIN_MAX must be above DOMAIN_MIN in every channel');
  return { title, dimensions, size, domain, values };
}

/** The table as text, for export and tests. */
export function writeCube({ title, dimensions, size, domain, values }: CubeTable): string {
  const lines = [`TITLE "${title.replaceAll('"', "'")}"`, `LUT_${dimensions}D_SIZE ${size}`];
  lines.push(`DOMAIN_MIN ${domain.min.join(' ')}`, `DOMAIN_MAX ${domain.max.join(' ')}`);
  for (let i = 0; i < values.length; i += 3)
    lines.push(`${values[i].toFixed(6)} ${values[i + 1].toFixed(6)} ${values[i + 2].toFixed(6)}`);
  return `${lines.join('\n')}\n`;
}

/**
 * One colour through the table: linear between entries of a 1D table; in a 3D table by the tetrahedron of its cell that
 * holds the colour (Kang, "Computational Color Technology", 2006, section 4.3).
 *
 * @param out three numbers are written from `to` on
 */
export function lookUp(
  table: CubeTable,
  r: number,
  g: number,
  b: number,
  out: Float32Array | Float64Array,
  to: number,
): void {
  const { size, values, domain } = table;
  const last = size - 1;
  const at = (v: number, i: 0 | 1 | 2) => {
    const share = (v - domain.min[i]) / (domain.max[i] - domain.min[i]);
    return (share <= 0 ? 0 : share >= 1 ? 1 : share) * last;
  };
  const [x, y, z] = [at(r, 0), at(g, 1), at(b, 2)];
  const x0 = Math.min(Math.floor(x), last - 1);
  const y0 = Math.min(Math.floor(y), last - 1);
  const z0 = Math.min(Math.floor(z), last - 1);
  const [fx, fy, fz] = [x - x0, y - y0, z - z0];
  if (table.dimensions === 1) {
    out[to] = values[x0 * 3] + (values[x0 * 3 + 3] - values[x0 * 3]) * fx;
    out[to + 1] = values[y0 * 3 + 1] + (values[y0 * 3 + 4] - values[y0 * 3 + 1]) * fy;
    out[to + 2] = values[z0 * 3 + 2] + (values[z0 * 3 + 5] - values[z0 * 3 + 2]) * fz;
    return;
  }
  const dx = 3;
  const dy = size * 3;
  const dz = size * size * 3;
  const p = x0 * dx + y0 * dy + z0 * dz;
  const far = p + dx + dy + dz;
  // From the near corner to the far one along the axes in the order of their parts, greatest first.
  let first: number, second: number, high: number, middle: number, low: number;
  if (fx >= fy) {
    if (fy >= fz) [first, second, high, middle, low] = [p + dx, p + dx + dy, fx, fy, fz];
    else if (fx >= fz) [first, second, high, middle, low] = [p + dx, p + dx + dz, fx, fz, fy];
    else [first, second, high, middle, low] = [p + dz, p + dz + dx, fz, fx, fy];
  } else if (fz >= fy) [first, second, high, middle, low] = [p + dz, p + dz + dy, fz, fy, fx];
  else if (fz >= fx) [first, second, high, middle, low] = [p + dy, p + dy + dz, fy, fz, fx];
  else [first, second, high, middle, low] = [p + dy, p + dy + dx, fy, fx, fz];
  for (let c = 0; c < 3; c++)
    out[to + c] =
      values[p + c] * (1 - high) +
      values[first + c] * (high - middle) +
      values[second + c] * (middle - low) +
      values[far + c] * low;
}
