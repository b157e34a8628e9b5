/**
 * The relay process: takes the desk's uplink, sends to the destinations, records. Orders come over loopback HTTP with a
 * token. It knows nothing of the database, so that it survives the web server.
 */
import http from 'node:http';
import { WebSocketServer } from 'ws';
import {
  beginOrderSchema,
  coverOrderSchema,
  cutOrderSchema,
  destinationOrderSchema,
  keepOrderSchema,
  lineTestOrderSchema,
} from '../../protocol/relay-orders';
import { MAX_PACKET_BYTES } from '../../protocol/uplink';
import { messageOf } from '../../core/fault';
import { createLog } from '../log';
import { readToken } from '../access/token-file';
import { systemClock } from '../system-clock';
import { testLine } from './line-test';
import { OrderServer } from './order-server';
import { Session } from './session';
import { UplinkServer } from './uplink-server';

const log = createLog('relay');
const port = Number(process.env.DOLOMITE_RELAY_PORT ?? 0);
const host = '127.0.0.1';
const token = ownToken();

/** What the web server shows with its orders. In a file, not in the environment: that is handed on to every program. */
function ownToken(): string {
  try {
    return readToken(process.env.DOLOMITE_DATA ?? 'data', 'relay');
  } catch (error) {
    log.error(messageOf(error));
    process.exit(2);
  }
}

let session: Session | null = null;
const uplink = new UplinkServer(() => session, log, systemClock);

async function endSession(): Promise<void> {
  const ending = session;
  session = null;
  uplink.end();
  await ending?.end();
}

const orders = new OrderServer(token, log, {
  'GET /status': async () => ({ session: session?.status() ?? null, pid: process.pid }),
  'POST /begin': async (body) => {
    const { error, value } = beginOrderSchema.validate(body);
    if (error) return { status: 400, message: error.message };
    if (session && session.order.sessionId !== value.sessionId) await endSession();
    session ??= new Session(value, systemClock, Math.random);
    log.info(
      { sessionId: value.sessionId, destinations: value.destinations.map((d) => d.name) },
      'broadcast begins',
    );
    return { session: session.status() };
  },
  'POST /end': async () => {
    const [ending, last] = [session, session?.status() ?? null];
    await endSession();
    log.info('broadcast ended');
    // How it stood; how long it was is only known now, when what had come in part has gone out too.
    const after = ending?.status();
    return {
      session: last && after ? { ...last, seconds: after.seconds, awaySeconds: after.awaySeconds } : null,
    };
  },
  'POST /finish': async () => {
    uplink.end();
    await session?.finish();
    log.info({ seconds: session?.status()?.secondsToFinish ?? 0 }, 'the last seconds go out');
    return { session: session?.status() ?? null };
  },
  'POST /destination': async (body) => {
    const { error, value } = destinationOrderSchema.validate(body);
    if (error) return { status: 400, message: error.message };
    if (!session) return { status: 409, message: 'nothing is on air' };
    session.addDestination(value);
    return { session: session.status() };
  },
  'POST /destination/remove': async (body) => {
    const id = (body as { id?: unknown } | null)?.id;
    if (typeof id !== 'string') return { status: 400, message: '"id" is required' };
    session?.removeDestination(id);
    return { session: session?.status() ?? null };
  },
  'POST /recording/pause': async (body) => {
    const paused = (body as { paused?: unknown } | null)?.paused;
    if (typeof paused !== 'boolean') return { status: 400, message: '"paused" is required' };
    if (!session) return { status: 409, message: 'nothing is on air' };
    session.pauseRecording(paused);
    return { session: session.status() };
  },
  'POST /keep': async (body) => {
    const { error, value } = keepOrderSchema.validate(body);
    if (error) return { status: 400, message: error.message };
    if (!session) return { status: 409, message: 'nothing is on air: there is nothing to look back on' };
    try {
      return { files: await session.keep(value) };
    } catch (fault) {
      return { status: 409, message: messageOf(fault) };
    }
  },
  'POST /cover': async (body) => {
    const { error, value } = coverOrderSchema.validate(body);
    if (error) return { status: 400, message: error.message };
    if (!session) return { status: 409, message: 'nothing is on air' };
    try {
      session.cover(value.on);
    } catch (fault) {
      return { status: 409, message: messageOf(fault) };
    }
    return { session: session.status() };
  },
  'POST /cut': async (body) => {
    const { error, value } = cutOrderSchema.validate(body);
    if (error) return { status: 400, message: error.message };
    if (!session) return { status: 409, message: 'nothing is on air' };
    return { seconds: session.cut(value.id, value.seconds) };
  },
  'POST /line-test': async (body) => {
    const { error, value } = lineTestOrderSchema.validate(body);
    if (error) return { status: 400, message: error.message };
    try {
      return { result: await testLine(value, systemClock) };
    } catch (fault) {
      return { status: 409, message: messageOf(fault) };
    }
  },
});

const server = http.createServer((request, response) => void orders.handle(request, response));
const sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_PACKET_BYTES });
server.on('upgrade', (request, socket, head) => {
  if (request.url !== '/uplink') {
    socket.end('HTTP/1.1 404 Not Found\r\nConnection: close\r\n\r\n');
    return;
  }
  sockets.handleUpgrade(request, socket, head, (ws) => uplink.accept(ws, request));
});
server.on('error', (error: NodeJS.ErrnoException) => {
  log.error(error.code === 'EADDRINUSE' ? `port ${port} is taken: choose another` : error.message);
  process.exit(1);
});
server.listen(port, host, () => {
  const address = server.address();
  if (address && typeof address === 'object') {
    log.info({ port: address.port }, 'relay listens');
    process.send?.({ ready: true, port: address.port });
  }
});

let stopping = false;
async function stop(): Promise<void> {
  if (stopping) return;
  stopping = true;
  await endSession();
  server.close();
  // Destinations get a moment for the goodbye.
  systemClock.after(300, () => process.exit(0));
}
process.on('SIGTERM', () => void stop());
// Whoever started this process is gone: nobody would start it again, and a second studio must not find it here.
process.on('disconnect', () => void stop());
process.on('SIGINT', () => void stop());
