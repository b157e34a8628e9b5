import { randomBytes, randomUUID } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { Fault } from '../../core/fault';
import type { Database } from '../db/database';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';

export interface Hook {
  id: string;
  /** The show its events go to. */
  showId: string;
  name: string;
  createdMs: number;
}

/** Secrets of 24 to 64 bytes, in base64 after this (Standard Webhooks, "Signature scheme"). */
const SECRET_PREFIX = 'whsec_';
const SECRET_BYTES = 32;
const MAX_HOOKS = 50;
const COLUMNS = 'id, show_id AS showId, name, created_ms AS createdMs';

/** Addresses that others may send events to. The secret is shown once, when it is made. */
export class HookRepository {
  constructor(
    readonly database: Database,
    readonly secrets: SecretRepository,
  ) {}

  list(showId: string): Hook[] {
    return this.database
      .prepare(`SELECT ${COLUMNS} FROM hook WHERE show_id = ? ORDER BY created_ms, id`)
      .all(showId) as Hook[];
  }

  /** Null also for one of a show that was deleted. */
  find(id: string): Hook | null {
    const hook = this.database
      .prepare(
        `SELECT ${COLUMNS} FROM hook WHERE id = ? AND show_id IN (SELECT id FROM show WHERE removed_ms IS NULL)`,
      )
      .get(id);
    return (hook as Hook | undefined) ?? null;
  }

  /** @throws Fault `hook.tooMany` */
  create(showId: string, name: string, nowMs: number): { hook: Hook; secret: string } {
    if (this.list(showId).length >= MAX_HOOKS)
      throw new Fault('hook.tooMany', `there are ${MAX_HOOKS} hooks already: remove one that is not used`);
    const hook = { id: randomUUID(), showId, name, createdMs: nowMs };
    const secret = this.#newSecret(hook.id, nowMs);
    this.database
      .prepare('INSERT INTO hook (id, show_id, name, created_ms) VALUES (@id, @showId, @name, @createdMs)')
      .run(hook);
    return { hook, secret };
  }

  /** The old secret is worth nothing from now on. */
  renew(id: string, nowMs: number): string {
    if (!this.find(id)) throw new Fault('hook.missing', 'this hook was removed');
    return this.#newSecret(id, nowMs);
  }

  remove(id: string): void {
    this.database.prepare('DELETE FROM hook WHERE id = ?').run(id);
    this.secrets.remove(subjects.hook(id));
  }

  #newSecret(id: string, nowMs: number): string {
    const secret = SECRET_PREFIX + randomBytes(SECRET_BYTES).toString('base64');
    this.secrets.set(subjects.hook(id), secret, nowMs);
    return secret;
  }

  /**
   * Whether a call was signed with the hook's secret within the last five minutes (Standard Webhooks, "Verifying").
   * @throws Error with the reason
   */
  verify(id: string, body: string, headers: Record<string, string>): void {
    const secret = this.secrets.get(subjects.hook(id));
    if (secret === null) throw new Error('this hook has no secret any more: make a new one');
    new Webhook(secret).verify(body, headers);
  }
}
