/**
 * The door: what strangers reach, a process of its own. On the studio's computer it listens there alone, for other programs,
 * and on the local network when the owner opens it; elsewhere it listens under a name, with TLS. It has a folder of its own
 * and knows nothing of the studio's. Composition root.
 */
import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import http from 'node:http';
import https from 'node:https';
import path from 'node:path';
import { DOOR } from '../../core/access/limits';
import { Fault, messageOf } from '../../core/fault';
import { DOOR_VERSION, type DoorAddress } from '../../protocol/door';
import { readToken } from '../access/token-file';
import { createLog } from '../log';
import { AcmeCertificate } from './acme';
import {
  fingerprintOf,
  givenCertificate,
  ownNames,
  selfMadeCertificate,
  type Certificate,
} from '../tls/certificate';
import { Door, type Entrance } from './door';
import { House } from './house';
import { doorPages } from './pages';
import { StudioLine } from './studio-line';

const log = createLog('door');
const root = process.env.DOLOMITE_ROOT ?? process.cwd();
const folder = process.env.DOLOMITE_DOOR_FOLDER ?? path.join(root, 'data', 'door');
const port = Number(process.env.DOLOMITE_DOOR_PORT ?? 0);
/** The name it is called by when it stands elsewhere; empty beside the studio. */
const name = process.env.DOLOMITE_DOOR_NAME ?? '';
const {
  DOLOMITE_DOOR_CERT: certFile,
  DOLOMITE_DOOR_KEY: keyFile,
  DOLOMITE_DOOR_ACME: directoryUrl,
} = process.env;

/** Somebody who sends slowly holds a connection no longer than this. */
const REQUEST_MS = 20_000;
const HEADERS_MS = 10_000;
/** How often it is looked whether this computer has another address. */
const LOOK_MS = 5000;
/** A certificate is good for weeks after it is time to renew it. */
const RENEWAL_SECONDS = 6 * 3600;

const script = (name: string) => readFileSync(path.join(root, `build/server/${name}.js`), 'utf8');

async function start(): Promise<void> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const icon = path.join(root, 'build/app/client/favicon.svg');
  const door: Door = new Door({
    say: (message) => line.say(message),
    page: doorPages(
      existsSync(icon) ? readFileSync(icon, 'utf8') : '<svg xmlns="http://www.w3.org/2000/svg"/>',
      { pad: script('pad'), guest: script('guest') },
    ),
    now: () => performance.now(),
  });
  const line: StudioLine = new StudioLine({
    token: readToken(folder, 'door'),
    log,
    greet: () => ({
      type: 'hello',
      version: DOOR_VERSION,
      addresses: addresses(),
      house: house !== null,
      problem: house?.problem ?? null,
    }),
    take: (message) => {
      if (message.type !== 'listen') return door.hear(message);
      void house?.set(message.house).then(() => line.say(line.parts.greet()));
    },
    lost: () => door.lost(),
  });
  /** @param studio whether the studio may call here */
  const attach = (server: http.Server | https.Server, entrance: () => Entrance, studio: boolean) => {
    server.on('request', (request: http.IncomingMessage, response: http.ServerResponse) =>
      door.request(request, response, entrance()),
    );
    server.on('upgrade', (request: http.IncomingMessage, socket, head) => {
      if (studio && request.url === '/studio') {
        if (line.knows(request)) return line.accept(request, socket, head);
        log.warn('somebody called as the studio without its token');
        socket.end('HTTP/1.1 401 Unauthorized\r\nConnection: close\r\n\r\n');
      } else door.upgrade(request, socket, head, entrance());
    });
    server.requestTimeout = REQUEST_MS;
    server.headersTimeout = HEADERS_MS;
    server.maxConnections = DOOR.connections;
    server.on('clientError', (_, socket) => socket.destroy());
  };
  let acme: AcmeCertificate | null = null;
  let certificate: Certificate | null = null;
  if (name) {
    const renew = (fresh: Certificate) => (main as https.Server).setSecureContext(fresh);
    if (directoryUrl) {
      acme = new AcmeCertificate(
        {
          folder,
          name,
          email: process.env.DOLOMITE_DOOR_EMAIL ?? '',
          directoryUrl,
          challengePort: Number(process.env.DOLOMITE_DOOR_CHALLENGE_PORT ?? 80),
          lookMs: Number(process.env.DOLOMITE_DOOR_LOOK_SECONDS ?? RENEWAL_SECONDS) * 1000,
          log,
          now: Date.now,
        },
        renew,
      );
      certificate = await acme.begin();
    } else if (certFile && keyFile) certificate = givenCertificate(certFile, keyFile, Date.now());
    else certificate = await selfMadeCertificate(folder, [name, ...ownNames()], Date.now());
  }
  const main = certificate ? https.createServer(certificate) : http.createServer();
  const host = name ? undefined : '127.0.0.1';
  attach(main, () => ({ secure: certificate !== null, port: portOf(main) }), true);
  await listen(main, port, host);
  const house = name ? null : new House(folder, log, attach);

  function addresses(): DoorAddress[] {
    const bound = portOf(main);
    if (!name)
      return [...(house?.addresses() ?? []), { url: `http://127.0.0.1:${bound}/`, fingerprint: null }];
    const vouched = directoryUrl !== undefined || certFile !== undefined;
    return [
      {
        url: `https://${name.includes(':') ? `[${name}]` : name}${bound === 443 ? '' : `:${bound}`}/`,
        fingerprint: vouched ? null : fingerprintOf(certificate!),
      },
    ];
  }

  // A computer that changes its network is found at another address, which links and codes must name.
  let told = '';
  const watch = setInterval(() => {
    const now = JSON.stringify(addresses());
    if (now !== told && told !== '') line.say(line.parts.greet());
    told = now;
  }, LOOK_MS);
  watch.unref();

  log.info({ port: portOf(main) }, 'door listens');
  process.send?.({ ready: true, port: portOf(main), addresses: addresses() });

  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
    door.close();
    line.close();
    acme?.close();
    house?.close();
    main.close();
    main.closeAllConnections();
    setTimeout(() => process.exit(0), 200);
  };
  for (const signal of ['SIGTERM', 'SIGINT', 'disconnect'] as const) process.on(signal, stop);
}

function portOf(server: http.Server | https.Server): number {
  const address = server.address();
  return address && typeof address === 'object' ? address.port : 0;
}

function listen(server: http.Server | https.Server, at: number, host: string | undefined): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'EADDRINUSE'
          ? new Fault('door.port', `port ${at} is taken: choose another for the door`)
          : error.code === 'EACCES'
            ? new Fault(
                'door.port',
                `port ${at} needs more rights than this program has: choose one above 1023, or let it bind low ports`,
              )
            : error,
      ),
    );
    server.listen(at, host, resolve);
  });
}

start().catch((error: unknown) => {
  process.send?.({ failed: messageOf(error) });
  log.error(messageOf(error));
  process.exit(1);
});
