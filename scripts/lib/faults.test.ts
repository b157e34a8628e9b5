import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from 'vitest';
import { FAULTS } from '../../tests/faults/faults.mjs';

const root = path.resolve(import.meta.dirname, '../..');

test.each(FAULTS.map((fault) => [fault.name, fault] as const))(
  '“%s” can still be made',
  (_, { file, from, to }) => {
    const source = readFileSync(path.join(root, file), 'utf8');
    // Code that moved on takes its fault with it: else `npm run break` would find out a month later.
    expect(source.split(from)).toHaveLength(2);
    expect(to).not.toBe(from);
  },
);
