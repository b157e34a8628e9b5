import { randomBytes, randomUUID } from 'node:crypto';
import { Webhook } from 'standardwebhooks';
import { Fault } from '../../core/fault';
import type { Database } from '../db/database';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';

export interface Hook {
  id: string;
  name: string;
  createdMs: number;
}

/** Secrets of 24 to 64 bytes, in base64 after this (Standard Webhooks, "Signature scheme"). */
const SECRET_PREFIX = 'whsec_';
const SECRET_BYTES = 32;
const MAX_HOOKS = 50;

/** Addresses that others may send events to. The secret is shown once, when it is made. */
export class HookRepository {
  constructor(
    readonly database: Database,
    readonly secrets: SecretRepository,
  ) {}

  list(): Hook[] {
    return this.database
      .prepare('SELECT id, name, created_ms AS createdMs FROM hook ORDER BY created_ms, id')
      .all() as Hook[];
  }

  find(id: string): Hook | null {
    return this.list().find((hook) => hook.id === id) ?? null;
  }

  /** @throws Fault `hook.tooMany` */
  create(name: string, nowMs: number): { hook: Hook; secret: string } {
    if (this.list().length >= MAX_HOOKS)
      throw new Fault('hook.tooMany', `there are ${MAX_HOOKS} hooks already: remove one that is not used`);
    const hook = { id: randomUUID(), name, createdMs: nowMs };
    const secret = this.#newSecret(hook.id, nowMs);
    this.database
      .prepare('INSERT INTO hook (id, name, created_ms) VALUES (@id, @name, @createdMs)')
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
