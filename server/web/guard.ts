import type { NextFunction, Request, Response } from 'express';
import type { IncomingMessage } from 'node:http';

/**
 * Keeps other web pages out: a name that is not ours in Host means DNS rebinding, a foreign Origin on a write means
 * cross-site forgery.
 */
export class Guard {
  /** @param hosts host:port under which the studio may be called */
  constructor(readonly hosts: ReadonlySet<string>) {}

  hostAllowed(request: IncomingMessage): boolean {
    return this.hosts.has((request.headers.host ?? '').toLowerCase());
  }

  originAllowed(request: IncomingMessage): boolean {
    const { origin } = request.headers;
    if (origin === undefined)
      return (
        request.headers['sec-fetch-site'] === undefined ||
        request.headers['sec-fetch-site'] === 'same-origin' ||
        request.headers['sec-fetch-site'] === 'none'
      );
    try {
      return this.hosts.has(new URL(origin).host.toLowerCase());
    } catch {
      return false;
    }
  }

  readonly middleware = (request: Request, response: Response, next: NextFunction): void => {
    if (!this.hostAllowed(request)) {
      response
        .status(421)
        .type('text')
        .send('This address is not served here. Open the studio under the address it printed.');
      return;
    }
    if (!['GET', 'HEAD'].includes(request.method) && !this.originAllowed(request)) {
      response.status(403).type('text').send('Another page tried to change your studio. Nothing was done.');
      return;
    }
    response.set({
      // Cross-origin isolation: shared memory between page, workers and worklet needs it.
      'Cross-Origin-Opener-Policy': 'same-origin',
      'Cross-Origin-Embedder-Policy': 'require-corp',
      'Cross-Origin-Resource-Policy': 'same-origin',
      'X-Content-Type-Options': 'nosniff',
      'Referrer-Policy': 'no-referrer',
      'X-Frame-Options': 'DENY',
      'Content-Security-Policy': [
        "default-src 'self'",
        // The router and the theme write small inline scripts and styles; WebAssembly is the sound encoder.
        "script-src 'self' 'unsafe-inline' 'wasm-unsafe-eval'",
        "style-src 'self' 'unsafe-inline'",
        "img-src 'self' blob: data:",
        "media-src 'self' blob:",
        // The build puts the smallest font subsets into the style sheet.
        "font-src 'self' data:",
        "worker-src 'self' blob:",
        "connect-src 'self' ws://127.0.0.1:* ws://localhost:* wss://*:*",
        "frame-ancestors 'none'",
        "base-uri 'none'",
        "form-action 'self'",
      ].join('; '),
    });
    next();
  };
}
