import { timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { BODY_BYTES } from '../../core/access/limits';
import { messageOf } from '../../core/fault';
import type { Log } from '../log';

type Answer = Record<string, unknown> & { status?: number };
export type OrderHandlers = Record<string, (body: unknown) => Promise<Answer>>;

/** JSON over HTTP for local orders, with a bearer token and no cross-origin access. */
export class OrderServer {
  constructor(
    readonly token: string,
    readonly log: Log,
    readonly handlers: OrderHandlers,
  ) {}

  async handle(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const reply = (status: number, body: unknown) => {
      response.writeHead(status, { 'content-type': 'application/json' });
      response.end(JSON.stringify(body));
    };
    try {
      const given = Buffer.from(request.headers.authorization ?? '');
      const wanted = Buffer.from(`Bearer ${this.token}`);
      // A page's script cannot set this header across origins without asking first, and asking is never allowed.
      if (given.length !== wanted.length || !timingSafeEqual(given, wanted))
        return reply(401, { message: 'not allowed' });
      const handler = this.handlers[`${request.method} ${request.url}`];
      if (!handler) return reply(404, { message: 'no such order' });
      const body = request.method === 'POST' ? await readJson(request) : null;
      const { status = 200, ...answer } = await handler(body);
      reply(status, answer);
    } catch (error) {
      this.log.warn({ error: messageOf(error) }, 'order failed');
      reply(error instanceof SyntaxError || error instanceof RangeError ? 400 : 500, {
        message: messageOf(error),
      });
    }
  }
}

async function readJson(request: IncomingMessage): Promise<unknown> {
  const parts: Buffer[] = [];
  let length = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    length += part.length;
    if (length > BODY_BYTES.relayOrder) throw new RangeError('order too large');
    parts.push(part);
  }
  return JSON.parse(Buffer.concat(parts).toString('utf8'));
}
