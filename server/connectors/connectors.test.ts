import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { sampleConnector } from '../../core/connectors/sample-connector';
import { openDatabase, type Database } from '../db/database';
import { Connectors } from './connectors';

let folder: string;
let database: Database;
let connectors: Connectors;
const shipped = { ...sampleConnector(), id: 'cairn', name: 'Cairn' };
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-connectors-'));
  database = openDatabase(path.join(folder, 'dolomite.sqlite'), path.resolve('db/migrations'));
  connectors = new Connectors(database, [shipped]);
});
afterEach(() => {
  database.close();
  rmSync(folder, { recursive: true, force: true });
});
const add = (more: object = {}) => connectors.add(JSON.stringify({ ...sampleConnector(), ...more }), 5);
const names = () => connectors.list().map(({ connector, removable }) => [connector.name, removable]);

test('a file is kept, found again, replaced by one of its id, and removed', () => {
  expect(add()).toEqual(sampleConnector());
  expect(names()).toEqual([
    ['Cairn', false],
    ['Larch', true],
  ]);
  add({ name: 'Bigger larch' });
  expect(names()).toEqual([
    ['Bigger larch', true],
    ['Cairn', false],
  ]);
  expect(connectors.find('larch')?.name).toBe('Bigger larch');
  expect([connectors.find('cairn'), connectors.find('other'), connectors.find(null)]).toEqual([
    shipped,
    null,
    null,
  ]);
  connectors.remove('larch');
  expect(names()).toEqual([['Cairn', false]]);
  expect(() => connectors.remove('larch')).toThrow(/not here any more/);
});

test('nobody takes the place of what came with the demonstration; nothing of a wrong file is kept', () => {
  expect(() => add({ id: 'cairn' })).toThrow(/give the connector another id/);
  expect(() => add({ ingest: {} })).toThrow(/cannot be used/);
  expect(() => connectors.remove('cairn')).toThrow(/not here any more/);
  expect(names()).toEqual([['Cairn', false]]);
  // One that was brought in before the demonstration came.
  add({ id: 'marmot', name: 'Marmot' });
  expect(new Connectors(database, [{ ...shipped, id: 'marmot' }]).list()).toHaveLength(1);
});
