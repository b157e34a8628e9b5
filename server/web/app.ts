/** What the web process answers on one side of it: pages, loaders and actions, files, and sockets. */
import http, { type IncomingMessage } from 'node:http';
import net from 'node:net';
import path from 'node:path';
import type { Duplex } from 'node:stream';
import { createRequestHandler } from '@react-router/express';
import express, { type Express } from 'express';
import type { ServerBuild } from 'react-router';
import { WebSocketServer, type WebSocket } from 'ws';
import { MESSAGE_BYTES } from '../../core/access/limits';
import { Fault, messageOf } from '../../core/fault';
import { seatsOf } from '../../core/guests/seats';
import { COME_AGAIN } from '../../protocol/door';
import { GONE_FOR_GOOD } from '../../protocol/guest';
import { cameraSocket } from '../camera/camera-socket';
import { guestConnection } from '../visitors/guest-connection';
import type { Guard } from './guard';
import type { OpenShow } from './open-show';
import { attachSignIn } from './sign-in-routes';
import type { Studio } from './studio';

const BUS = /^\/bus\/([\w-]{1,64})$/;

/** Pages and files behind a guard. @param root where the program lies @param build the pages */
export function studioApp(studio: Studio, guard: Guard, root: string, build: ServerBuild): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(guard.middleware);
  attachSignIn(app, studio.access, guard);
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
  app.get('/files/sounds/:id', (request, response, next) => {
    if (!studio.computerSound.attach(request.params.id, response)) next();
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
  return app;
}

/** Made-up guests of this page's own, by number: the same wings as for those who come by a door. */
const STAND_IN = /^\/stand-in-guest\/([\w-]{1,64})\/([1-8])$/;

/** The bus of each show, its made-up guests, and, for a desk on another computer, the way to the relay. @param relayPort on this computer */
export function attachSockets(server: http.Server, studio: Studio, guard: Guard, relayPort: number): void {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: MESSAGE_BYTES.bus });
  const cameras = new WebSocketServer({ noServer: true, maxPayload: MESSAGE_BYTES.camera });
  server.on('upgrade', (request, socket, head) => {
    const path = request.url ?? '';
    const refusal = guard.refusal(request, 'socket', path);
    if (!refusal && path === '/uplink') return passOn(request, socket, head, relayPort);
    if (!refusal && path === '/camera')
      return cameras.handleUpgrade(request, socket, head, (ws) => cameraSocket(ws, studio.cameras));
    const standIn = STAND_IN.exec(path);
    const showId = (standIn ?? BUS.exec(path))?.[1];
    if (refusal || showId === undefined || !studio.shows.has(showId)) {
      const status = refusal?.status ?? 404;
      socket.end(`HTTP/1.1 ${status} ${http.STATUS_CODES[status]}\r\nConnection: close\r\n\r\n`);
      return;
    }
    const { id } = request.visitor!;
    sockets.handleUpgrade(request, socket, head, (ws) => {
      const show = studio.open.use(showId, Date.now());
      if (standIn) madeUpGuest(ws, show, Number(standIn[2]));
      else show.bus.accept(ws, id);
    });
  });
}

/** @param number from 1: they sit on the seat of that number, if there is one */
function madeUpGuest(ws: WebSocket, show: OpenShow, number: number): void {
  const seatId = seatsOf(show.document)[number - 1]?.id ?? null;
  const id = `stand-in-${number}`;
  const guest = guestConnection(
    show.wings,
    { id, seatId },
    { say: (text) => ws.send(text), shut: (why) => ws.close(why === COME_AGAIN ? 1013 : 1008, why) },
  );
  ws.on('message', (data: Buffer) => guest.said(data.toString('utf8')));
  ws.on('error', () => ws.terminate());
  ws.on('close', (code) => {
    guest.left();
    if (code === GONE_FOR_GOOD) show.wings.order(id, { do: 'remove' });
  });
}

/** Headers that a WebSocket's opening is made of (RFC 6455 §4.1); nothing else is told to the relay, least of all a cookie. */
const OPENING = /^(connection|upgrade|sec-websocket-.*)$/i;

/** The relay listens on this computer alone: a desk elsewhere reaches it through here, byte by byte. */
function passOn(request: IncomingMessage, socket: Duplex, head: Buffer, relayPort: number): void {
  const relay = net.connect(relayPort, '127.0.0.1');
  const lines = [`GET /uplink HTTP/1.1`, `host: 127.0.0.1:${relayPort}`];
  for (let i = 0; i + 1 < request.rawHeaders.length; i += 2)
    if (OPENING.test(request.rawHeaders[i]))
      lines.push(`${request.rawHeaders[i]}: ${request.rawHeaders[i + 1]}`);
  relay.write(`${lines.join('\r\n')}\r\n\r\n`);
  relay.write(head);
  relay.pipe(socket).pipe(relay);
  for (const [one, other] of [
    [relay, socket],
    [socket, relay],
  ] as const) {
    one.on('error', () => other.destroy());
    one.on('close', () => other.destroy());
  }
}
