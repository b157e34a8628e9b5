import { createHash, randomBytes } from 'node:crypto';

/** Seconds until a code is worth nothing, and a token must be renewed. */
const CODE_SECONDS = 600;
const TOKEN_SECONDS = 3600;
/** Letters that are not mistaken for each other. */
const LETTERS = 'BCDFGHJKLMNPQRSTVWXZ';

interface Waiting {
  userCode: string;
  expiresMs: number;
  answer: 'open' | 'allowed' | 'denied';
}

/** A sign-in in the browser that was allowed, until the program has its token. */
interface Allowed {
  challenge: string;
  redirectUri: string;
  clientId: string;
  expiresMs: number;
}

/** Programs of this computer only: the address a browser is sent back to (RFC 8252 §7.3). */
const LOOPBACK = /^http:\/\/127\.0\.0\.1:\d{1,5}\/$/;

/**
 * A platform's side of OAuth 2.0: the device flow (RFC 8628), the flow in the browser with its proof (RFC 6749 §4.1, RFC 7636),
 * and refresh tokens (RFC 6749 §6).
 */
export class OAuthDoor {
  readonly #waiting = new Map<string, Waiting>();
  readonly #allowed = new Map<string, Allowed>();
  readonly #tokens = new Map<string, number>();
  readonly #refresh = new Set<string>();

  constructor(
    readonly now: () => number,
    readonly interval = 1,
  ) {}

  device(verificationUrl: string): Record<string, unknown> {
    const code = Array.from(randomBytes(8), (b) => LETTERS[b % LETTERS.length]).join('');
    const userCode = `${code.slice(0, 4)}-${code.slice(4)}`;
    const deviceCode = randomBytes(24).toString('hex');
    this.#waiting.set(deviceCode, { userCode, expiresMs: this.now() + CODE_SECONDS * 1000, answer: 'open' });
    return {
      device_code: deviceCode,
      user_code: userCode,
      verification_uri: verificationUrl,
      expires_in: CODE_SECONDS,
      interval: this.interval,
    };
  }

  /** The user has entered a code. @returns whether it is one */
  answer(userCode: string, allow: boolean): boolean {
    const wanted = userCode.trim().toUpperCase();
    const waiting = [...this.#waiting.values()].find((w) => w.userCode === wanted && w.answer === 'open');
    if (waiting) waiting.answer = allow ? 'allowed' : 'denied';
    return waiting !== undefined;
  }

  /** What is wrong with a request to sign in in the browser; null when it can be shown to the user. */
  problemOf(query: URLSearchParams): string | null {
    if (query.get('response_type') !== 'code') return 'response_type must be code';
    if (!LOOPBACK.test(query.get('redirect_uri') ?? ''))
      return 'redirect_uri must be an address of this computer';
    if (
      query.get('code_challenge_method') !== 'S256' ||
      !/^[\w-]{43}$/.test(query.get('code_challenge') ?? '')
    )
      return 'code_challenge must be there, by S256';
    return query.get('client_id') && query.get('state') ? null : 'client_id and state must be there';
  }

  /** The user has answered. @returns where the browser goes back to */
  authorize(query: URLSearchParams, allow: boolean): string {
    const back = new URL(query.get('redirect_uri')!);
    back.searchParams.set('state', query.get('state')!);
    if (!allow) back.searchParams.set('error', 'access_denied');
    else {
      const code = randomBytes(24).toString('base64url');
      this.#allowed.set(code, {
        challenge: query.get('code_challenge')!,
        redirectUri: query.get('redirect_uri')!,
        clientId: query.get('client_id')!,
        expiresMs: this.now() + CODE_SECONDS * 1000,
      });
      back.searchParams.set('code', code);
    }
    return back.href;
  }

  /** @returns status and answer of the token endpoint */
  token(form: URLSearchParams): { status: number; body: Record<string, unknown> } {
    const no = (error: string) => ({ status: 400, body: { error } });
    if (form.get('grant_type') === 'refresh_token')
      return this.#refresh.delete(form.get('refresh_token') ?? '') ? this.#grant() : no('invalid_grant');
    if (form.get('grant_type') === 'authorization_code') {
      const allowed = this.#allowed.get(form.get('code') ?? '');
      this.#allowed.delete(form.get('code') ?? '');
      const proof = createHash('sha256')
        .update(form.get('code_verifier') ?? '')
        .digest('base64url');
      return allowed &&
        allowed.expiresMs >= this.now() &&
        allowed.redirectUri === form.get('redirect_uri') &&
        allowed.clientId === form.get('client_id') &&
        allowed.challenge === proof
        ? this.#grant()
        : no('invalid_grant');
    }
    const code = form.get('device_code') ?? '';
    const waiting = this.#waiting.get(code);
    if (!waiting) return no('invalid_grant');
    if (waiting.expiresMs < this.now()) return no('expired_token');
    if (waiting.answer === 'open') return no('authorization_pending');
    this.#waiting.delete(code);
    return waiting.answer === 'denied' ? no('access_denied') : this.#grant();
  }

  allows(authorization: string | undefined): boolean {
    const token = /^Bearer (\S+)$/.exec(authorization ?? '')?.[1] ?? '';
    return (this.#tokens.get(token) ?? 0) > this.now();
  }

  /** Everybody is signed out. */
  revokeAll(): void {
    this.#tokens.clear();
    this.#refresh.clear();
  }

  #grant(): { status: number; body: Record<string, unknown> } {
    const access = randomBytes(24).toString('hex');
    const refresh = randomBytes(24).toString('hex');
    this.#tokens.set(access, this.now() + TOKEN_SECONDS * 1000);
    this.#refresh.add(refresh);
    return {
      status: 200,
      body: { access_token: access, refresh_token: refresh, token_type: 'bearer', expires_in: TOKEN_SECONDS },
    };
  }
}
