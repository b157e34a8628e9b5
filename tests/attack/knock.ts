/** Ways of calling on somebody that no proper client has. */
import net from 'node:net';
import { WebSocket } from 'ws';
import { pause } from '../lib/waits';

/** Opens a socket, says something, and goes. */
export async function knock(port: number, parts: readonly Buffer[], waitMs: number): Promise<void> {
  const socket = net.connect(port, '127.0.0.1');
  socket.on('error', () => undefined);
  for (const part of parts) {
    socket.write(part);
    await pause(2);
  }
  await pause(waitMs);
  socket.destroy();
}

export async function talk(
  url: string,
  headers: Record<string, string>,
  messages: readonly (string | Buffer)[],
  protocols: string[] = [],
): Promise<string[]> {
  const socket = new WebSocket(url, protocols, { headers });
  const said: string[] = [];
  socket.on('message', (data: Buffer) => said.push(data.toString('utf8').slice(0, 5000)));
  const opened = await new Promise<boolean>((resolve) => {
    socket.on('open', () => resolve(true));
    socket.on('error', () => resolve(false));
    socket.on('unexpected-response', () => resolve(false));
  });
  if (opened)
    for (const message of messages) {
      if (socket.readyState !== WebSocket.OPEN) break;
      socket.send(message);
      await pause(1);
    }
  await pause(20);
  socket.terminate();
  return said;
}
