/** The door, as strangers knock at it: its pages, its sockets, and those who say they are the studio. */
import { DOOR_TABLE } from '../../core/access/door-table';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { knock, talk } from './knock';
import { tryIt, type Border } from './target';

const METHODS = ['GET', 'POST', 'PUT', 'DELETE', 'OPTIONS', 'HEAD'];

export const door: Border = {
  name: 'the door',
  async burst(target, dice) {
    const { doorPort } = target.studio;
    const at = `http://127.0.0.1:${doorPort}`;
    const cookie = () =>
      `dolomite-door-${doorPort}=${encodeURIComponent(dice.text().toWellFormed()).slice(0, 2000)}`;
    for (let i = 0; i < 30; i++) {
      const { path } = dice.pick(DOOR_TABLE);
      const method = dice.pick(METHODS);
      const where = dice.chance(0.8)
        ? path.replace(':hookId', () => encodeURIComponent(dice.text().toWellFormed()).slice(0, 200) || 'x')
        : `/${encodeURIComponent(dice.text().toWellFormed()).slice(0, 300)}`;
      const stranger = new StudioClient(at, {
        ...(dice.chance(0.5) && { cookie: cookie() }),
        ...(dice.chance(0.3) && { origin: dice.pick(['http://evil.example', 'null', at]) }),
      });
      const body = JSON.stringify(dice.spoiled({ token: dice.text() })) ?? '';
      await tryIt(target, () =>
        stranger.ask(where, {
          method,
          redirect: 'manual',
          ...(!['GET', 'HEAD'].includes(method) && { body, headers: { 'content-type': 'application/json' } }),
        }),
      );
    }
    for (let i = 0; i < 6; i++)
      target.answers.push(
        ...(await talk(
          `ws://127.0.0.1:${doorPort}${dice.pick(['/standing', '/studio', '/hooks/x', '/bus/x'])}`,
          {
            ...(dice.chance(0.6) && { cookie: cookie() }),
            ...(dice.chance(0.4) && {
              authorization: `Bearer ${encodeURIComponent(dice.text().toWellFormed()).slice(0, 500)}`,
            }),
          },
          [
            JSON.stringify({ type: 'answer', id: dice.int(50), status: 200, cookie: 'x=y', body: '{}' }),
            dice.bytes(200),
          ],
        )),
      );
    // One that begins and never ends, one that says more than it brings, and one that is no HTTP.
    await Promise.all([
      knock(
        doorPort,
        [Buffer.from('POST /come-in HTTP/1.1\r\nhost: x\r\ncontent-length: 4000\r\n\r\n{')],
        60,
      ),
      knock(
        doorPort,
        [
          Buffer.from('POST /hooks/x HTTP/1.1\r\nhost: x\r\ntransfer-encoding: chunked\r\n\r\nfffffff\r\n'),
          dice.bytes(4000),
        ],
        60,
      ),
      knock(doorPort, [dice.bytes(3000)], 20),
    ]);
  },
};
