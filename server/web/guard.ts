import { randomBytes } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { NextFunction, Request, Response } from 'express';
import { bodyProblem, mayGo, ruleFor, type AccessRule } from '../../core/access/access-table';
import { isFromOwnPage } from '../../core/access/own-origin';
import type { Access, Visitor } from '../access/access';
import { cookieOf } from '../access/cookie';

const NONCE_BYTES = 16;

/** Why somebody is turned away. */
export interface Refusal {
  status: 401 | 403 | 411 | 413 | 421;
  message: string;
}

declare module 'http' {
  interface IncomingMessage {
    /** Whoever asks, when they are known. */
    visitor?: Visitor;
  }
}

export interface GuardOptions {
  /** host:port under which the studio may be called. */
  hosts: readonly string[];
  /** Port that pages' cookies are named by: cookies do not tell ports apart. */
  port: number;
  /** Over TLS. */
  secure: boolean;
  /** Where the desk's pictures and sound go; null when that is the same address. */
  uplinkUrl: string | null;
  access: Pick<Access, 'who'>;
}

/**
 * Before everything else: a name that is not ours in Host means DNS rebinding; a foreign Origin means cross-site forgery,
 * also from another port of this computer; then who asks, and whether they may.
 */
export class Guard {
  readonly cookieName: string;
  readonly #hosts: ReadonlySet<string>;
  readonly #origins: ReadonlySet<string>;
  readonly #headers: (nonce: string) => Readonly<Record<string, string>>;

  constructor(readonly options: GuardOptions) {
    const { hosts, port, secure, uplinkUrl } = options;
    this.cookieName = `dolomite-${port}`;
    this.#hosts = new Set(hosts);
    this.#origins = new Set(hosts.map((host) => `${secure ? 'https' : 'http'}://${host}`));
    this.#headers = headersOf(hosts, secure, uplinkUrl);
  }

  /** Why this request is turned away; null when it may go on. Notes who asks. */
  refusal(request: IncomingMessage, how: AccessRule['how'], path: string): Refusal | null {
    if (!this.#hosts.has((request.headers.host ?? '').toLowerCase()))
      return {
        status: 421,
        message: 'This address is not served here. Open the studio under the address it printed.',
      };
    request.visitor = this.options.access.who(cookieOf(request, this.cookieName)) ?? undefined;
    const rule = ruleFor(how, path);
    if (how !== 'read' && !this.#originAllowed(request, path))
      return { status: 403, message: 'Another page tried to change your studio. Nothing was done.' };
    if (rule && mayGo(rule, request.visitor?.role ?? null))
      return how === 'write' ? tooMuch(request, rule) : null;
    return request.visitor
      ? {
          status: 403,
          message: `This is not for you as ${request.visitor.role}: ask the owner of the studio.`,
        }
      : {
          status: 401,
          message:
            'Sign in first: open the address that Dolomite printed, or type "npm run sign-in" where it runs.',
        };
  }

  #originAllowed(request: IncomingMessage, path: string): boolean {
    // A file that is opened at the start has no origin; what it carries is a token that only the owner can read.
    if (request.headers.origin === 'null') return path === '/sign-in';
    return isFromOwnPage(request.headers, this.#origins);
  }

  readonly middleware = (request: Request, response: Response, next: NextFunction): void => {
    const how = request.method === 'GET' || request.method === 'HEAD' ? 'read' : 'write';
    const nonce = randomBytes(NONCE_BYTES).toString('base64');
    response.locals.nonce = nonce;
    response.set(this.#headers(nonce));
    // The same computer by another name: cookies know one of them.
    if (
      !this.options.secure &&
      how === 'read' &&
      request.headers.host?.toLowerCase() === `localhost:${this.options.port}`
    )
      return response.redirect(307, `http://${this.options.hosts[0]}${request.originalUrl}`);
    const refusal = this.refusal(request, how, request.path);
    if (!refusal) return next();
    // A person gets the page that says what to do, and then the one they asked for.
    if (refusal.status === 401 && how === 'read' && request.accepts(['json', 'html']) === 'html')
      return response.redirect(
        303,
        `/sign-in?${new URLSearchParams({ next: request.originalUrl }).toString()}`,
      );
    response.status(refusal.status).json({ code: `access.${refusal.status}`, message: refusal.message });
  };
}

/** A body is refused by its length, before anything of it is read. */
function tooMuch({ headers }: IncomingMessage, rule: AccessRule): Refusal | null {
  const length = headers['transfer-encoding'] === undefined ? Number(headers['content-length'] ?? 0) : null;
  const problem = bodyProblem(rule, length);
  if (problem === 'unknown') return { status: 411, message: 'Say how long it is: send a Content-Length.' };
  return problem && { status: 413, message: 'This is more than is taken at once: send less.' };
}

function headersOf(
  hosts: readonly string[],
  secure: boolean,
  uplinkUrl: string | null,
): (nonce: string) => Record<string, string> {
  const sockets = hosts.map((host) => `${secure ? 'wss' : 'ws'}://${host}`);
  if (uplinkUrl !== null) sockets.push(new URL(uplinkUrl).origin);
  return (nonce) => ({
    // Cross-origin isolation: shared memory between page, workers and worklet needs it.
    'Cross-Origin-Opener-Policy': 'same-origin',
    'Cross-Origin-Embedder-Policy': 'require-corp',
    'Cross-Origin-Resource-Policy': 'same-origin',
    'X-Content-Type-Options': 'nosniff',
    // Without one to itself a browser would say of a form's file that it came from nowhere (Fetch, "Origin header").
    'Referrer-Policy': 'same-origin',
    'X-Frame-Options': 'DENY',
    'Content-Security-Policy': [
      "default-src 'self'",
      // Inline scripts are the router's and the theme's, by their number; WebAssembly is the sound encoder.
      `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`,
      "style-src 'self' 'unsafe-inline'",
      "img-src 'self' blob: data:",
      "media-src 'self' blob:",
      // The build puts the smallest font subsets into the style sheet.
      "font-src 'self' data:",
      "worker-src 'self' blob:",
      // The bus is the page's own; the desk sends to the relay, and nowhere else.
      `connect-src 'self' ${sockets.join(' ')}`,
      "frame-ancestors 'none'",
      "base-uri 'none'",
      "object-src 'none'",
      "form-action 'self'",
    ].join('; '),
  });
}
