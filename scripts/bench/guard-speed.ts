/** What it costs to ask, before every request, who asks and whether they may. */
import type { IncomingMessage } from 'node:http';
import path from 'node:path';
import { Access } from '../../server/access/access';
import { AccessRepository } from '../../server/access/access-repository';
import { openDatabase } from '../../server/db/database';
import { Guard } from '../../server/web/guard';

const REQUESTS = 20_000;
/** The bound, milliseconds a request. */
const MOST_MS = 0.2;
/** As many browsers as a studio may have seen in a year. */
const BROWSERS = 200;

export function guardSpeed(say: (line: object) => void): void {
  const database = openDatabase(':memory:', path.resolve('db/migrations'));
  const access = new Access({
    repository: new AccessRepository(database),
    writes: { do: (write) => write() },
    ownerToken: 'a-token-of-forty-and-more-characters-for-this',
    now: Date.now,
    onRevoked: () => undefined,
  });
  let cookie = '';
  for (let i = 0; i < BROWSERS; i++)
    ({ cookie } = access.signIn('a-token-of-forty-and-more-characters-for-this', `browser ${i}`));
  const host = '127.0.0.1:4800';
  const guard = new Guard({
    hosts: [host],
    port: 4800,
    secure: false,
    uplinkUrl: 'ws://127.0.0.1:4801/uplink',
    access,
  });
  const request = () =>
    ({
      headers: {
        ...{ host, origin: `http://${host}`, 'content-length': '100' },
        cookie: `other=1; dolomite-4800=${cookie}`,
      },
    }) as unknown as IncomingMessage;
  const started = performance.now();
  let refused = 0;
  for (let i = 0; i < REQUESTS; i++)
    if (guard.refusal(request(), 'write', '/show/night-signal-box/event-sources')) refused += 1;
  const ms = (performance.now() - started) / REQUESTS;
  database.close();
  if (refused > 0) throw new Error('the owner was turned away');
  say({
    name: 'guard: who asks, and may they, a request',
    value: ms,
    unit: 'ms',
    reference: MOST_MS,
    ratio: ms / MOST_MS,
    goal: '< 1',
  });
}
