/** The web process: pages, loaders and actions, the bus, files. Composition root. */
import { readFileSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { createRequestHandler } from '@react-router/express';
import express from 'express';
import type { ServerBuild } from 'react-router';
import { WebSocketServer } from 'ws';
import { Fault, messageOf } from '../../core/fault';
import { DEMONSTRATION, seedNightSignalBox, type SeedPlatform } from '../../db/seed/night-signal-box';
import { createLog } from '../log';
import { Guard } from './guard';
import { lockFolder } from '../db/folder-lock';
import { readToken } from '../access/token-file';
import { attachSignIn } from './sign-in-routes';
import type { PlatformAddress } from '../audience/platform-feed';
import { Studio } from './studio';

const log = createLog('web');
const root = process.env.DOLOMITE_ROOT ?? process.cwd();
const port = Number(process.env.DOLOMITE_PORT ?? 0);
/** The owner's side never leaves this computer. */
const host = '127.0.0.1';
const dataFolder = process.env.DOLOMITE_DATA ?? path.join(root, 'data');
const relayPort = Number(process.env.DOLOMITE_RELAY_PORT ?? 0);
const doorPort = Number(process.env.DOLOMITE_DOOR_PORT ?? 0);
const uplinkUrl = `ws://${host}:${relayPort}/uplink`;
const standIns = process.env.DOLOMITE_STANDINS
  ? (JSON.parse(readFileSync(process.env.DOLOMITE_STANDINS, 'utf8')) as StandInFile)
  : { platforms: [] };

interface StandInFile {
  platforms: (PlatformAddress & SeedPlatform & { chatPort: number | null; apiUrl: string })[];
}

const BUS = /^\/bus\/([\w-]{1,64})$/;

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
    platforms: standIns.platforms.map(({ name, title, feedUrl, watchUrl, accountUrl, emoteUrl }) => ({
      name,
      title,
      feedUrl,
      watchUrl,
      accountUrl,
      emoteUrl,
    })),
    rehearsalUrl: standIns.platforms[0]?.ingestUrl ?? null,
    apiUrls: new Map(standIns.platforms.map(({ name, apiUrl }) => [name, apiUrl])),
    rewrapScript: path.join(root, 'build/server/rewrap.mjs'),
    log,
  });
  // With its stand-ins; one's own studio begins with nothing.
  if (process.env.DOLOMITE_STANDINS)
    seedNightSignalBox(studio.shows, studio.secrets, standIns.platforms, Date.now());
  studio.begin();
  for (const { name, chatPort } of standIns.platforms)
    // Stand-ins have other ports each time they start.
    if (chatPort !== null && studio.shows.has(DEMONSTRATION))
      studio.open.get(DEMONSTRATION).audience.putChatServer(
        {
          id: `chat-${name}`,
          name,
          host: '127.0.0.1',
          port: chatPort,
          tls: false,
          nick: 'night_signal_box',
          channels: ['#night-signal-box', '#dispatch'],
        },
        null,
      );

  await studio.inputs.listen(
    Number(process.env.DOLOMITE_FEED_PORT ?? 0),
    process.env.DOLOMITE_FEED_HOST ?? host,
  );

  const build = (await import(
    pathToFileURL(path.join(root, 'build/app/server/index.js')).href
  )) as ServerBuild;
  const app = express();
  app.disable('x-powered-by');
  const server = http.createServer(app);
  server.listen(port, host);
  await new Promise<void>((resolve, reject) => {
    server.once('listening', resolve);
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'EADDRINUSE'
          ? new Fault('web.port', `port ${port} is taken: choose another with --port`)
          : error,
      ),
    );
  });
  const address = server.address();
  const bound = address && typeof address === 'object' ? address.port : port;
  const guard = new Guard({
    hosts: [`${host}:${bound}`],
    port: bound,
    uplinkUrl,
    access: studio.access,
  });

  app.use(guard.middleware);
  attachSignIn(app, studio.access, guard.cookieName);
  app.use(
    '/assets',
    express.static(path.join(root, 'build/app/client/assets'), {
      immutable: true,
      maxAge: '1y',
      fallthrough: false,
    }),
  );
  app.use(express.static(path.join(root, 'build/app/client'), { maxAge: '1h', index: false }));
  app.get('/files/assets/:id', (request, response, next) => {
    const asset = studio.assets.find(request.params.id);
    if (!asset) return next();
    response.type(asset.mime);
    response.sendFile(studio.assets.pathOf(asset.id), {
      cacheControl: true,
      immutable: true,
      maxAge: '1y',
      dotfiles: 'allow',
    });
  });
  app.get('/files/pictures/:showId', (request, response, next) => {
    const file = studio.pictures.find(request.params.showId);
    if (file === null) return next();
    // Its address names the moment it was made.
    response.type('image/jpeg').sendFile(file, { maxAge: '1y', immutable: true, dotfiles: 'allow' });
  });
  app.get('/files/emotes/:platform/:id', (request, response) => {
    studio.emotes.find(request.params.platform, request.params.id).then(
      ({ file, mime }) =>
        response.sendFile(file, {
          maxAge: '1d',
          dotfiles: 'allow',
          headers: { 'content-type': mime },
        }),
      () => response.sendStatus(404),
    );
  });
  app.get('/files/speech', (request, response) => {
    const words = typeof request.query.words === 'string' ? request.query.words : '';
    studio.speech.file(words).then(
      (file) => response.type('audio/wav').sendFile(file, { dotfiles: 'allow' }),
      (error: unknown) => response.status(503).type('text').send(messageOf(error)),
    );
  });
  app.get('/files/inputs/:id', (request, response, next) => {
    if (!studio.inputs.attach(request.params.id, response)) next();
  });
  app.get('/files/recordings/:id', (request, response, next) => {
    const recording = studio.recordings.find(request.params.id);
    if (!recording) return next();
    response.type(recording.file.endsWith('.mp4') ? 'video/mp4' : 'video/x-matroska');
    if (request.query.download !== undefined) {
      response.attachment(path.basename(recording.file));
      studio.access.audit(request.visitor!, 'exported', path.basename(recording.file));
    }
    response.sendFile(studio.recordings.pathOf(recording), { dotfiles: 'allow' });
  });
  app.all(
    '/{*rest}',
    createRequestHandler({
      build,
      mode: 'production',
      getLoadContext: ({ visitor }, response) => {
        // The guard lets nobody come here whom it does not know.
        if (!visitor) throw new Fault('access.stranger', 'nobody is signed in');
        return { studio, visitor, nonce: response.locals.nonce as string };
      },
    }),
  );

  const sockets = new WebSocketServer({ noServer: true, maxPayload: 64 * 1024 });
  server.on('upgrade', (request, socket, head) => {
    const refusal = guard.refusal(request, 'socket', request.url ?? '');
    const showId = BUS.exec(request.url ?? '')?.[1];
    if (refusal || showId === undefined || !studio.shows.has(showId)) {
      const status = refusal?.status ?? 404;
      socket.end(`HTTP/1.1 ${status} ${http.STATUS_CODES[status]}\r\nConnection: close\r\n\r\n`);
      return;
    }
    const { id } = request.visitor!;
    sockets.handleUpgrade(request, socket, head, (ws) =>
      studio.open.use(showId, Date.now()).bus.accept(ws, id),
    );
  });
  log.info({ port: bound }, 'web listens');
  process.send?.({ ready: true, port: bound });

  let stopping = false;
  const stop = () => {
    if (stopping) return;
    stopping = true;
    studio.close();
    letGo();
    server.close();
    server.closeAllConnections();
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
