import { PassThrough } from 'node:stream';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { createReadableStreamFromReadable } from '@react-router/node';
import { renderToPipeableStream } from 'react-dom/server';
import { ServerRouter, type AppLoadContext, type EntryContext } from 'react-router';
import { NonceContext } from './server/nonce';

/** Past this a page is sent without what its loaders still wait for. */
export const streamTimeout = 5_000;

/** Renders a page; its scripts carry the number that the page's security policy names, so that no other script runs. */
export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  routerContext: EntryContext,
  { nonce }: AppLoadContext,
): Promise<Response> | Response {
  if (request.method === 'HEAD') return new Response(null, { status, headers });
  return new Promise((resolve, reject) => {
    const { pipe, abort } = renderToPipeableStream(
      // One for a page: without it each button brings all its styles along once more.
      <CacheProvider value={createCache({ key: 'css' })}>
        <NonceContext.Provider value={nonce}>
          <ServerRouter context={routerContext} url={request.url} nonce={nonce} />
        </NonceContext.Provider>
      </CacheProvider>,
      {
        nonce,
        onShellReady() {
          const body = new PassThrough();
          headers.set('Content-Type', 'text/html');
          resolve(new Response(createReadableStreamFromReadable(body), { status, headers }));
          pipe(body);
        },
        onShellError: reject,
        onError(error) {
          // One inside the shell is told by `onShellError`.
          console.error(error);
        },
      },
    );
    setTimeout(abort, streamTimeout + 1000).unref();
  });
}
