import { createHash, randomBytes } from 'node:crypto';
import http from 'node:http';
import type { AddressInfo } from 'node:net';

export interface Comeback {
  /** Where the browser is sent back to: an address of this computer, for this one sign-in. */
  redirectUri: string;
  state: string;
  /** The proof that whoever asks for the token is who began (RFC 7636), and what is told of it beforehand. */
  verifier: string;
  challenge: string;
  /** What the browser brings back. Rejects with what the service said, in words. */
  code: Promise<string>;
  close: () => void;
}

/** Waits on a port of this computer for the browser to come back from a service's page (RFC 8252 §7.3). */
export async function awaitComeback(title: string): Promise<Comeback> {
  const state = randomBytes(24).toString('base64url');
  const verifier = randomBytes(48).toString('base64url');
  let settle: { resolve: (code: string) => void; reject: (error: Error) => void };
  const code = new Promise<string>((resolve, reject) => (settle = { resolve, reject }));
  // Nobody may be waiting for it any more.
  code.catch(() => undefined);
  const server = http.createServer((request, response) => {
    const url = new URL(request.url ?? '/', 'http://127.0.0.1');
    const say = (status: number, words: string) => {
      response.writeHead(status, {
        'content-type': 'text/plain; charset=utf-8',
        'cache-control': 'no-store',
        connection: 'close',
      });
      response.end(words);
    };
    // Another page that found the port has not the state.
    if (request.method !== 'GET' || url.pathname !== '/' || url.searchParams.get('state') !== state)
      return say(404, 'There is nothing here.');
    const found = url.searchParams.get('code');
    if (found) {
      say(200, `Signed in to ${title}. Close this page and go back to the studio.`);
      settle.resolve(found);
    } else {
      const why = url.searchParams.get('error') ?? 'no code came back';
      say(200, `Not signed in to ${title}. Close this page and go back to the studio.`);
      settle.reject(
        new Error(
          why === 'access_denied'
            ? 'It was refused on the service’s page.'
            : `The service said no (${why.slice(0, 60)}).`,
        ),
      );
    }
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(0, '127.0.0.1', resolve);
  });
  return {
    redirectUri: `http://127.0.0.1:${(server.address() as AddressInfo).port}/`,
    state,
    verifier,
    challenge: createHash('sha256').update(verifier).digest('base64url'),
    code,
    close: () => {
      settle.reject(new Error('given up'));
      server.close();
    },
  };
}
