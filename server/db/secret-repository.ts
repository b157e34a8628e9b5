import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { Fault } from '../../core/fault';
import type { Database } from './database';

const KEY_BYTES = 32;
const NONCE_BYTES = 12; // AES-GCM, NIST SP 800-38D §8.2
const TAG_BYTES = 16;

/** Secrets at rest: AES-256-GCM with a key file beside the database. They go in and are used here; no page gets them back. */
export class SecretRepository {
  readonly #key: Buffer;

  /** @param keyFile made with mode 0600 when missing */
  constructor(
    readonly database: Database,
    keyFile: string,
  ) {
    if (!existsSync(keyFile)) writeFileSync(keyFile, randomBytes(KEY_BYTES), { mode: 0o600, flag: 'wx' });
    this.#key = readFileSync(keyFile);
    if (this.#key.length !== KEY_BYTES)
      throw new Fault(
        'secret.keyFile',
        `the key file ${keyFile} is damaged: stored stream keys must be entered again`,
      );
  }

  set(subject: string, value: string, nowMs: number): void {
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv('aes-256-gcm', this.#key, nonce);
    // The subject is bound in: a sealed key copied to another destination does not open.
    cipher.setAAD(Buffer.from(subject));
    const sealed = Buffer.concat([nonce, cipher.update(value, 'utf8'), cipher.final(), cipher.getAuthTag()]);
    this.database
      .prepare(
        'INSERT INTO secret (subject, sealed, changed_ms) VALUES (?, ?, ?) ON CONFLICT (subject) DO UPDATE SET sealed = excluded.sealed, changed_ms = excluded.changed_ms',
      )
      .run(subject, sealed, nowMs);
  }

  /** @throws Fault `secret.damaged` when it was not sealed with this key file */
  get(subject: string): string | null {
    const row = this.database.prepare('SELECT sealed FROM secret WHERE subject = ?').get(subject) as
      { sealed: Buffer } | undefined;
    if (!row) return null;
    const { sealed } = row;
    try {
      const decipher = createDecipheriv('aes-256-gcm', this.#key, sealed.subarray(0, NONCE_BYTES));
      decipher.setAAD(Buffer.from(subject));
      decipher.setAuthTag(sealed.subarray(sealed.length - TAG_BYTES));
      return (
        decipher.update(sealed.subarray(NONCE_BYTES, sealed.length - TAG_BYTES), undefined, 'utf8') +
        decipher.final('utf8')
      );
    } catch (error) {
      throw new Fault(
        'secret.damaged',
        'a stored stream key cannot be opened with the present key file: enter it again',
        { cause: error },
      );
    }
  }

  remove(subject: string): void {
    this.database.prepare('DELETE FROM secret WHERE subject = ?').run(subject);
  }

  /** When it was stored, milliseconds since 1970; null when there is none. */
  changedMs(subject: string): number | null {
    const row = this.database
      .prepare('SELECT changed_ms AS at FROM secret WHERE subject = ?')
      .get(subject) as { at: number } | undefined;
    return row?.at ?? null;
  }

  /** Subjects that have a secret. */
  subjects(): string[] {
    return (this.database.prepare('SELECT subject FROM secret').all() as { subject: string }[]).map(
      (r) => r.subject,
    );
  }
}
