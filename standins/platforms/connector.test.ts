import { readFileSync } from 'node:fs';
import path from 'node:path';
import Ajv from 'ajv/dist/2020';
import { expect, test } from 'vitest';
import { readConnector } from '../../protocol/connector-schema';
import { connectorOf } from './connector';
import { PLATFORMS } from './platform';

test('what the stand-ins say of themselves are files like any other', () => {
  const schema = path.resolve(import.meta.dirname, '../../docs/schemas/connector.schema.json');
  const published = new Ajv({ strictTypes: false, strictRequired: false }).compile(
    JSON.parse(readFileSync(schema, 'utf8')) as object,
  );
  const servers = [{ name: 'Valley', url: 'rtmp://127.0.0.1:1935/larch' }];
  for (const facts of PLATFORMS) {
    const connector = connectorOf(facts, servers, 4000, facts.irc ? 6667 : null);
    expect(readConnector(JSON.stringify(connector))).toEqual(connector);
    expect(published(connector), JSON.stringify(published.errors)).toBe(true);
  }
});
