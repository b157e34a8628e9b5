import { randomBytes } from 'node:crypto';

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

/** A platform's side of OAuth 2.0's device flow (RFC 8628) with refresh tokens (RFC 6749 §6). */
export class OAuthDoor {
  readonly #waiting = new Map<string, Waiting>();
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

  /** @returns status and answer of the token endpoint */
  token(form: URLSearchParams): { status: number; body: Record<string, unknown> } {
    const no = (error: string) => ({ status: 400, body: { error } });
    if (form.get('grant_type') === 'refresh_token')
      return this.#refresh.delete(form.get('refresh_token') ?? '') ? this.#grant() : no('invalid_grant');
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
