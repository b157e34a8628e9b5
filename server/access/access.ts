import { randomBytes, randomUUID, timingSafeEqual } from 'node:crypto';
import { SIGN_IN } from '../../core/access/limits';
import { Fault } from '../../core/fault';
import type { Audited, Role } from '../../core/access/roles';
import type { AccessEntry, AuditEntry } from '../../protocol/access';
import type { LateWrites } from '../db/late-writes';
import { hashOf, type AccessRepository, type AccessRow, type NewLink } from './access-repository';

/** Somebody who is known here. */
export interface Visitor {
  id: string;
  role: Role;
  name: string;
  /** A guest's: the seat that their link is for. */
  seatId: string | null;
}

const TOKEN_BYTES = 32;
/** A browser that was not seen for so long must sign in again. */
const BROWSER_DAYS = 400;
const DAY_MS = 86_400_000;
/** That somebody was seen is written down this often at most. */
const SEEN_EVERY_MS = 60_000;
const AUDIT_SHOWN = 200;

const newToken = () => randomBytes(TOKEN_BYTES).toString('base64url');

function sameHash(a: string, b: string): boolean {
  return timingSafeEqual(Buffer.from(a, 'hex'), Buffer.from(b, 'hex'));
}

/**
 * Who may come in: the owner by the token that the studio prints at each start, others by links that the owner makes; then
 * each by a cookie of the browser's own.
 */
export class Access {
  /** By the hash of what they carry. */
  #known = new Map<string, AccessRow>();
  #wrong = { count: 0, lastMs: -Infinity };
  readonly #ownerHash: string;

  constructor(
    readonly parts: {
      repository: AccessRepository;
      writes: Pick<LateWrites, 'do'>;
      /** Makes a browser the owner's; good as long as this start of the studio. */
      ownerToken: string;
      now: () => number;
      /** These may not do anything any more: what they have open is closed. */
      onRevoked: (ids: readonly string[]) => void;
    },
  ) {
    this.#ownerHash = hashOf(parts.ownerToken);
    this.#load();
  }

  /**
   * Makes a browser the owner's.
   * @param browser what it says it is, for the list
   * @returns what its cookie holds from now on
   * @throws Fault `access.token` when the token is not good, `access.slow` after too many wrong ones
   */
  signIn(token: string, browser: string): { cookie: string; visitor: Visitor } {
    return this.#letIn(token, browser, true);
  }

  /**
   * Lets a browser in that comes by a link. The owner's token is none, so that nobody becomes the owner at the door.
   * @throws as `signIn`
   */
  comeIn(token: string, browser: string): { cookie: string; visitor: Visitor } {
    return this.#letIn(token, browser, false);
  }

  #letIn(token: string, browser: string, asOwner: boolean): { cookie: string; visitor: Visitor } {
    const { now, repository, writes } = this.parts;
    const nowMs = now();
    const hash = hashOf(token);
    const link = asOwner ? undefined : this.#known.get(hash);
    const owner = asOwner && sameHash(hash, this.#ownerHash);
    if (!owner && !(link?.kind === 'link' && this.#isGood(link, nowMs) && repository.use(link.id))) {
      // The right one is always taken: tokens are too long to be guessed, and nobody may lock the owner out by guessing.
      this.#slowDown(nowMs);
      this.#wrong = { count: this.#wrong.count + 1, lastMs: nowMs };
      writes.do(() => repository.note(nowMs, 'a stranger', 'signInRefused', browser));
      throw new Fault(
        'access.token',
        asOwner
          ? 'This token is not good, or not any more. Take the address that the studio printed at its last start.'
          : 'This link is not good, or not any more. Ask for a new one.',
      );
    }
    this.#wrong = { count: 0, lastMs: -Infinity };
    const cookie = newToken();
    const row: AccessRow = {
      id: randomUUID(),
      kind: 'browser',
      role: owner ? 'owner' : link!.role,
      name: owner ? browser : link!.name,
      tokenHash: hashOf(cookie),
      createdMs: nowMs,
      seenMs: nowMs,
      // Nobody stays longer than the link they came by.
      expiresMs: owner ? null : link!.expiresMs,
      usesLeft: null,
      linkId: owner ? null : link!.id,
      seatId: owner ? null : link!.seatId,
    };
    repository.add(row);
    this.#load();
    this.audit(row, 'signedIn', row.role === 'owner' ? browser : `${row.role}, ${browser}`);
    return { cookie, visitor: row };
  }

  /** Whoever carries this cookie; null for a stranger. Cheap: it is asked for every request. */
  who(cookie: string | null): Visitor | null {
    if (cookie === null || cookie.length > 200) return null;
    const row = this.#known.get(hashOf(cookie));
    const nowMs = this.parts.now();
    if (row?.kind !== 'browser' || !this.#isGood(row, nowMs)) return null;
    if (nowMs - (row.seenMs ?? 0) > SEEN_EVERY_MS) {
      row.seenMs = nowMs;
      this.parts.writes.do(() => this.parts.repository.seen(row.id, nowMs));
    }
    return row;
  }

  /** A program that carries an operator's link itself, in place of a cookie; null for a stranger. */
  program(token: string | null): Visitor | null {
    if (token === null || token.length > 200) return null;
    const row = this.#known.get(hashOf(token));
    return row?.kind === 'link' && row.role === 'operator' && this.#isGood(row, this.parts.now())
      ? row
      : null;
  }

  /** @returns the link's token, which is shown once */
  makeLink(
    by: Visitor,
    { role, name, expiresMs, usesLeft, seatId }: NewLink,
  ): { entry: AccessEntry; token: string } {
    const token = newToken();
    const nowMs = this.parts.now();
    const row: AccessRow = {
      ...{ id: randomUUID(), kind: 'link', role, name, tokenHash: hashOf(token) },
      ...{ createdMs: nowMs, seenMs: null, expiresMs, usesLeft, linkId: null, seatId },
    };
    this.parts.repository.add(row);
    this.#load();
    this.audit(by, 'linkMade', `${role}: ${name}`);
    return { entry: entryOf(row), token };
  }

  /** Somebody goes by themselves: what they carried lets nobody in any more. */
  leave(visitor: Visitor): void {
    const gone = this.parts.repository.revoke(visitor.id, this.parts.now());
    this.#load();
    this.audit(visitor, 'left', visitor.role);
    this.parts.onRevoked(gone);
  }

  /** @throws Fault `access.missing` when it lets nobody in any more */
  revoke(by: Pick<Visitor, 'name' | 'role'>, id: string): void {
    const row = [...this.#known.values()].find((one) => one.id === id);
    if (!row) throw new Fault('access.missing', 'This was revoked already, or has run out.');
    const gone = this.parts.repository.revoke(id, this.parts.now());
    this.#load();
    this.audit(by, 'revoked', `${row.role}: ${row.name}`);
    this.parts.onRevoked(gone);
  }

  list(): AccessEntry[] {
    const nowMs = this.parts.now();
    return this.parts.repository
      .list(nowMs)
      .filter((row) => this.#isGood(row, nowMs))
      .map(entryOf);
  }

  /** Writes down who did what; never what is secret about it. */
  audit(who: Pick<Visitor, 'name' | 'role'>, what: Audited, about = ''): void {
    const atMs = this.parts.now();
    this.parts.writes.do(() => this.parts.repository.note(atMs, who.name, what, about));
  }

  audited(): AuditEntry[] {
    return this.parts.repository.audit(AUDIT_SHOWN);
  }

  #load(): void {
    this.#known = new Map(this.parts.repository.list(this.parts.now()).map((row) => [row.tokenHash, row]));
  }

  #isGood({ expiresMs, seenMs, kind }: AccessRow, nowMs: number): boolean {
    if (expiresMs !== null && expiresMs <= nowMs) return false;
    return kind === 'link' || nowMs - (seenMs ?? 0) < BROWSER_DAYS * DAY_MS;
  }

  /** Wrong tries are counted over everybody: behind one address there may be many, and one may have many. */
  #slowDown(nowMs: number): void {
    const { count, lastMs } = this.#wrong;
    if (nowMs - lastMs > SIGN_IN.forgetMs) this.#wrong = { count: 0, lastMs: -Infinity };
    else if (count >= SIGN_IN.freeTries) {
      const wait =
        lastMs + Math.min(SIGN_IN.slowestMs, SIGN_IN.slowMs * 2 ** (count - SIGN_IN.freeTries)) - nowMs;
      if (wait > 0)
        throw new Fault(
          'access.slow',
          `Too many wrong tokens: wait ${Math.ceil(wait / 1000)} s, then try again.`,
        );
    }
  }
}

function entryOf({ tokenHash: _, ...entry }: AccessRow): AccessEntry {
  return entry;
}
