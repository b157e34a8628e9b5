import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from 'vitest';
import { ACCESS_TABLE, ruleFor } from '../../core/access/access-table';

const root = path.resolve(import.meta.dirname, '../..');

/** What the application answers, as its own files say it: a way that is new must be told who may take it. */
function waysIn(): { how: 'read' | 'write'; path: string }[] {
  const routes = readFileSync(path.join(root, 'app/routes.ts'), 'utf8');
  const found: { how: 'read' | 'write'; path: string }[] = [];
  let nested = '';
  for (const line of routes.split('\n')) {
    const [, address, file] = /route\('([^']+)', 'routes\/([^']+)'/.exec(line) ?? [];
    const index = /index\('routes\/([^']+)'\)/.exec(line)?.[1];
    if (/^ {2}\]\)/.test(line)) nested = '';
    const name = file ?? index;
    if (!name) continue;
    const full = index ? nested || '/' : `${nested}/${address}`;
    const source = readFileSync(path.join(root, 'app/routes', name), 'utf8');
    if (/export (async )?function loader|export default/.test(source))
      found.push({ how: 'read', path: full });
    if (/export (async )?function action/.test(source)) found.push({ how: 'write', path: full });
    if (/\[$/.test(line.trim())) nested = full;
  }
  const app = readFileSync(path.join(root, 'server/web/app.ts'), 'utf8');
  for (const [, address] of app.matchAll(/app\.get\('([^']+)'/g)) found.push({ how: 'read', path: address });
  return found;
}

test('every route of the application has its row, and every row its route', () => {
  const ways = waysIn();
  expect(ways.length).toBeGreaterThan(35);
  const example = (pattern: string) => pattern.replace(/:\w+/g, 'x1');
  for (const { how, path: address } of ways)
    expect([how, address, ruleFor(how, example(address)) !== null]).toEqual([how, address, true]);
  const known = new Set(ways.map(({ how, path: address }) => `${how} ${example(address)}`));
  const others = ACCESS_TABLE.filter(({ how, path: address }) => !known.has(`${how} ${example(address)}`));
  // Those that the server answers before the application does.
  expect(others.map(({ how, path: address }) => `${how} ${address}`).sort()).toEqual([
    'read /__manifest',
    'read /assets/*',
    'read /favicon.svg',
    'read /sign-in',
    'read /sign-in.js',
    'socket /bus/:showId',
    'socket /camera',
    'socket /stand-in-guest/:showId/:number',
    'socket /uplink',
    'write /sign-in',
  ]);
});

test('there is a file for every route', () => {
  const named = readFileSync(path.join(root, 'app/routes.ts'), 'utf8');
  for (const file of readdirSync(path.join(root, 'app/routes'))) expect(named).toContain(`routes/${file}`);
});
