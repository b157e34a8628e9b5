import net from 'node:net';
import tls from 'node:tls';
import { measureLine, type LineTestSample } from '../../core/delivery/line-measure';
import { sleep, type Clock } from '../../core/time/clock';
import { Fault, messageOf } from '../../core/fault';
import { RtmpPublisher } from '../../core/media/rtmp-publisher';
import type { LineTestOrder } from '../../protocol/relay-orders';
import type { LineTestResult } from '../../protocol/vault';
import { readSendQueues } from './send-queue';

const MESSAGE_BYTES = 16 * 1024;
/** So much waits in front of the kernel at most. */
const AHEAD_BYTES = 256 * 1024;
const SAMPLE_MS = 50;
const OPENING_MS = 8000;
const PROBE_EVERY_MS = 800;

/**
 * Measures what goes up to an RTMP server: an ordinary connection on which, without publishing anything, messages are
 * sent that every server throws away; a second connection's handshake tells the round trip meanwhile.
 * @throws Fault `line.test` when the server cannot be reached or hangs up
 */
export async function testLine(order: LineTestOrder, clock: Clock): Promise<LineTestResult> {
  const idle = await roundTrip(order.url, clock);
  const { socket, filler } = await open(order.url, clock);
  const samples: LineTestSample[] = [];
  const started = clock.nowMs();
  let handed = 0;
  let broken: Error | null = null;
  socket.on('error', (error) => (broken = error));
  socket.on('close', () => (broken ??= new Error('the server closed the connection')));
  const loaded: number[] = [];
  let probing = false;
  let nextProbe = 1200;
  try {
    while (clock.nowMs() - started < order.seconds * 1000) {
      if (broken) throw broken as Error;
      while (socket.writableLength < AHEAD_BYTES) {
        socket.write(filler);
        handed += filler.length;
      }
      await sleep(clock, SAMPLE_MS);
      const kernel = readSendQueues().get(socket.localPort ?? 0) ?? 0;
      const elapsed = clock.nowMs() - started;
      samples.push({ atMs: elapsed, deliveredBytes: handed - socket.writableLength - kernel });
      if (!probing && elapsed > nextProbe) {
        probing = true;
        nextProbe = elapsed + PROBE_EVERY_MS;
        void roundTrip(order.url, clock)
          .then((ms) => loaded.push(ms))
          // No answer under load is an answer too: the line is full, and that is said by the null.
          .catch(() => undefined)
          .finally(() => (probing = false));
      }
    }
  } catch (error) {
    throw new Fault('line.test', `the test was cut off: ${messageOf(error)}. Try another server.`);
  } finally {
    socket.destroy();
  }
  loaded.sort((a, b) => a - b);
  return {
    ...measureLine(samples),
    idleRoundTripMs: Math.round(idle * 10) / 10,
    loadedRoundTripMs: loaded.length === 0 ? null : Math.round(loaded[loaded.length >> 1] * 10) / 10,
  };
}

function connect(url: string): { socket: net.Socket; publisher: RtmpPublisher; ready: string } {
  const { protocol, hostname, port, host, pathname } = new URL(url);
  const secure = protocol === 'rtmps:';
  const name = hostname.replace(/^\[|\]$/g, '');
  const options = { host: name, port: Number(port) || (secure ? 443 : 1935) };
  const app = pathname.slice(1).split('/')[0];
  const publisher = new RtmpPublisher({ host, app, key: null, secure }, Math.random);
  const socket = secure
    ? tls.connect({ ...options, servername: net.isIP(name) ? undefined : name })
    : net.connect(options);
  socket.setNoDelay(true);
  return { socket, publisher, ready: secure ? 'secureConnect' : 'connect' };
}

/** Time from the greeting to its answer, milliseconds. */
function roundTrip(url: string, clock: Clock): Promise<number> {
  const { socket, publisher, ready } = connect(url);
  return within(socket, url, clock, (resolve) => {
    let sent = 0;
    socket.once(ready, () => {
      sent = clock.nowMs();
      socket.write(publisher.start());
    });
    socket.once('data', () => {
      resolve(clock.nowMs() - sent);
      socket.destroy();
    });
  });
}

/** A connection that is ready to take messages. */
function open(url: string, clock: Clock): Promise<{ socket: net.Socket; filler: Uint8Array }> {
  const { socket, publisher, ready } = connect(url);
  return within(socket, url, clock, (resolve) => {
    socket.once(ready, () => socket.write(publisher.start()));
    socket.on('data', (data) => {
      const { send, events } = publisher.receive(data);
      if (send.length > 0) socket.write(send);
      if (events.some((e) => e.type === 'state' && e.state === 'connected'))
        resolve({ socket, filler: publisher.filler(MESSAGE_BYTES) });
    });
  });
}

function within<T>(
  socket: net.Socket,
  url: string,
  clock: Clock,
  work: (resolve: (value: T) => void) => void,
): Promise<T> {
  const { host } = new URL(url);
  return new Promise((resolve, reject) => {
    const fail = (what: string) => {
      socket.destroy();
      reject(new Fault('line.test', `${host} ${what}: check the address and the network`));
    };
    const cancel = clock.after(OPENING_MS, () => fail(`did not answer within ${OPENING_MS / 1000} s`));
    socket.once('error', (error) => {
      cancel();
      fail(`cannot be reached (${error.message})`);
    });
    socket.once('close', () => {
      cancel();
      fail('closed the connection');
    });
    work((value) => {
      cancel();
      resolve(value);
    });
  });
}
