/** The web process: pages, loaders and actions, the bus, files. Composition root. */
import { readFileSync } from 'node:fs';
import http from 'node:http';
import https from 'node:https';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { ServerBuild } from 'react-router';
import { Fault, messageOf } from '../../core/fault';
import { DEMONSTRATION, seedNightSignalBox, type SeedPlatform } from '../../db/seed/night-signal-box';
import { createLog } from '../log';
import { fingerprintOf, givenCertificate, ownNames, selfMadeCertificate } from '../tls/certificate';
import { attachSockets, studioApp } from './app';
import { Guard } from './guard';
import { lockFolder } from '../db/folder-lock';
import { readToken } from '../access/token-file';
import { Studio } from './studio';

const log = createLog('web');
const root = process.env.DOLOMITE_ROOT ?? process.cwd();
const port = Number(process.env.DOLOMITE_PORT ?? 0);
const host = '127.0.0.1';
/** Where the owner wants their side to be reached from other computers; it does not leave this one without. */
const {
  DOLOMITE_OWNER_HOST: ownerHost,
  DOLOMITE_OWNER_CERT: certFile,
  DOLOMITE_OWNER_KEY: keyFile,
} = process.env;
const dataFolder = process.env.DOLOMITE_DATA ?? path.join(root, 'data');
const relayPort = Number(process.env.DOLOMITE_RELAY_PORT ?? 0);
const doorPort = Number(process.env.DOLOMITE_DOOR_PORT ?? 0);
const uplinkUrl = `ws://${host}:${relayPort}/uplink`;
const standIns = process.env.DOLOMITE_STANDINS
  ? (JSON.parse(readFileSync(process.env.DOLOMITE_STANDINS, 'utf8')) as StandInFile)
  : { platforms: [] };

interface StandInFile {
  platforms: SeedPlatform[];
}

async function main(): Promise<void> {
  const letGo = lockFolder(dataFolder);
  const studio = new Studio({
    dataFolder,
    migrations: path.join(root, 'db', 'migrations'),
    relayUrl: `http://${host}:${relayPort}`,
    relayToken: readToken(dataFolder, 'relay'),
    ownerToken: readToken(dataFolder, 'sign-in'),
    door:
      doorPort > 0
        ? { url: `http://${host}:${doorPort}/`, token: readToken(path.join(dataFolder, 'door'), 'door') }
        : null,
    uplinkUrl,
    ownPorts: [port, relayPort, doorPort, Number(process.env.DOLOMITE_OWNER_PORT ?? 0)],
    connectors: standIns.platforms.map(({ connector }) => connector),
    rehearsalUrl: standIns.platforms[0]?.servers[0].url ?? null,
    version: (JSON.parse(readFileSync(path.join(root, 'package.json'), 'utf8')) as { version: string })
      .version,
    updatesAddress: process.env.DOLOMITE_UPDATES ?? null,
    rewrapScript: path.join(root, 'build/server/rewrap.mjs'),
    log,
  });
  // With its stand-ins; one's own studio begins with nothing.
  if (process.env.DOLOMITE_STANDINS)
    seedNightSignalBox(studio.shows, studio.secrets, standIns.platforms, Date.now());
  studio.begin();
  for (const { connector } of standIns.platforms)
    // Stand-ins have other ports each time they start.
    if (connector.chat && studio.shows.has(DEMONSTRATION)) {
      const { channel, ...server } = connector.chat;
      studio.open.get(DEMONSTRATION).audience.putChatServer(
        {
          ...{ id: `chat-${connector.id}`, name: connector.id, ...server },
          ...{ nick: 'night_signal_box', channels: [channel, '#dispatch'] },
        },
        null,
      );
    }

  await studio.inputs.listen(
    Number(process.env.DOLOMITE_FEED_PORT ?? 0),
    process.env.DOLOMITE_FEED_HOST ?? host,
  );

  const build = (await import(
    pathToFileURL(path.join(root, 'build/app/server/index.js')).href
  )) as ServerBuild;
  /** One side of it: who may call it how, and what answers. */
  const side = async (server: http.Server, at: string, wanted: number, secure: boolean): Promise<number> => {
    server.listen(wanted, at);
    await new Promise<void>((resolve, reject) => {
      server.once('listening', resolve);
      server.once('error', (error: NodeJS.ErrnoException) =>
        reject(
          error.code === 'EADDRINUSE'
            ? new Fault('web.port', `port ${wanted} of ${at} is taken: choose another with --port`)
            : error.code === 'EADDRNOTAVAIL'
              ? new Fault(
                  'web.host',
                  `${at} is no address of this computer: give --owner-host one that it has`,
                )
              : error,
        ),
      );
    });
    const address = server.address();
    const bound = address && typeof address === 'object' ? address.port : wanted;
    const guard = new Guard({
      hosts: [`${at.includes(':') ? `[${at}]` : at}:${bound}`],
      port: bound,
      secure,
      uplinkUrl: secure ? null : uplinkUrl,
      access: studio.access,
    });
    server.on('request', studioApp(studio, guard, root, build));
    attachSockets(server, studio, guard, relayPort);
    return bound;
  };
  const servers = [http.createServer()];
  const bound = await side(servers[0], host, port, false);
  // Beyond this computer over TLS only, and only when its owner asked for it.
  let owner: { url: string; fingerprint: string | null } | null = null;
  if (ownerHost) {
    const given = certFile !== undefined && keyFile !== undefined;
    const certificate = given
      ? givenCertificate(certFile, keyFile, Date.now())
      : await selfMadeCertificate(path.join(dataFolder, 'tls'), [ownerHost, ...ownNames()], Date.now());
    servers.push(https.createServer(certificate));
    const ownerPort = await side(servers[1], ownerHost, Number(process.env.DOLOMITE_OWNER_PORT ?? 0), true);
    const name = ownerHost.includes(':') ? `[${ownerHost}]` : ownerHost;
    owner = { url: `https://${name}:${ownerPort}/`, fingerprint: given ? null : fingerprintOf(certificate) };
  }
  log.info({ port: bound }, 'web listens');
  process.send?.({ ready: true, port: bound, owner });

  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
    studio.close();
    letGo();
    for (const server of servers) {
      server.close();
      server.closeAllConnections();
    }
    setTimeout(() => process.exit(0), 200);
  };
  process.on('SIGTERM', stop);
  // Whoever started this process is gone: nobody would start it again, and a second studio must not find it here.
  process.on('disconnect', stop);
  process.on('SIGINT', stop);
}

main().catch((error: unknown) => {
  process.send?.({ failed: messageOf(error) });
  log.error(messageOf(error));
  process.exit(1);
});
