import { STATUS_CODES, type IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import express, { type Express } from 'express';
import { WebSocketServer } from 'ws';
import { MAX_HOOK_BYTES, type HookDoor } from '../audience/hook-door';
import type { Guard } from './guard';

const PATH = /^\/hooks\/([\w-]{1,64})$/;

const headerOf = (request: IncomingMessage) => (name: string) => {
  const value = request.headers[name];
  return Array.isArray(value) ? value[0] : value;
};

/**
 * Doors for other programs: signed calls (POST), and a WebSocket whose opening is signed like a call with an empty body, for
 * CloudEvents one per message (CloudEvents WebSockets protocol binding v1.0.2, subprotocol `cloudevents.json`).
 * They come from no page and carry no cookie; what lets them in is the signature.
 */
export function attachHooks(
  app: Express,
  door: HookDoor,
  guard: Pick<Guard, 'refusal'>,
): { upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): boolean } {
  app.post('/hooks/:id', (request, response) => {
    express.text({ type: () => true, limit: MAX_HOOK_BYTES })(request, response, (problem?: unknown) => {
      if (problem) {
        door.tooLarge(request.params.id);
        response
          .status(413)
          .json({ code: 'hook.large', message: 'The call is larger than 256 kB: send less at once.' });
        return;
      }
      const body = typeof request.body === 'string' ? request.body : '';
      const answer = door.call(request.params.id, headerOf(request), body);
      response.status(answer.status).json(answer.body);
    });
  });

  const sockets = new WebSocketServer({
    noServer: true,
    maxPayload: MAX_HOOK_BYTES,
    handleProtocols: (offered) => (offered.has('cloudevents.json') ? 'cloudevents.json' : false),
  });
  return {
    upgrade(request, socket, head) {
      const id = PATH.exec(request.url ?? '')?.[1];
      if (id === undefined) return false;
      const refused =
        guard.refusal(request, 'socket', request.url!)?.status ?? door.opening(id, headerOf(request))?.status;
      if (refused !== undefined) {
        socket.end(`HTTP/1.1 ${refused} ${STATUS_CODES[refused]}\r\nConnection: close\r\n\r\n`);
        return true;
      }
      sockets.handleUpgrade(request, socket, head, (ws) => {
        const connection = { close: (why: string) => ws.close(1008, why) };
        const left = door.connected(id, connection);
        ws.on('close', left);
        ws.on('error', () => ws.terminate());
        ws.on('message', (data: Buffer) => {
          // One that was told to go may still have messages on the way.
          if (ws.readyState === ws.OPEN) door.message(id, connection, data.toString('utf8'));
        });
      });
      return true;
    },
  };
}
