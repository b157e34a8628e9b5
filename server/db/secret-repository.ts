import { createCipheriv, createDecipheriv, randomBytes } from 'node:crypto';
import { chmodSync, existsSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Fault, messageOf } from '../../core/fault';
import type { Database } from './database';
import { orphanedSubjects, readSubject, subjects } from './secret-subjects';

const KEY_BYTES = 32;
const NONCE_BYTES = 12; // AES-GCM, NIST SP 800-38D §8.2
const TAG_BYTES = 16;

/** Secrets at rest: AES-256-GCM with a key file beside the database. They go in and are used here; no page gets them back. */
export class SecretRepository {
  readonly #key: Buffer;
  /** Stored with a key file that is gone: to be entered again. */
  readonly #lost = new Set<string>();

  /**
   * @param keyFile made with mode 0600 when missing
   * @param warn told what is wrong with the key file, in words for the user
   * @throws Fault `secret.keyFile` when it can neither be read nor made
   */
  constructor(
    readonly database: Database,
    keyFile: string,
    readonly warn: (message: string) => void = () => {},
  ) {
    this.#key = this.#openKey(keyFile);
    for (const subject of this.#stored()) if (this.#open(subject) === null) this.#lost.add(subject);
    if (this.#lost.size > 0)
      warn(
        `the key file ${keyFile} does not open ${this.#lost.size} of the stored stream keys and passwords: put back the file they were stored with, or enter them again`,
      );
    this.#nameKeys();
  }

  #openKey(file: string): Buffer {
    try {
      if (existsSync(file) && statSync(file).size !== KEY_BYTES) {
        renameSync(file, `${file}.damaged`);
        this.warn(`the key file ${file} was damaged: it is kept as ${path.basename(file)}.damaged`);
      }
      if (!existsSync(file)) writeFileSync(file, randomBytes(KEY_BYTES), { mode: 0o600, flag: 'wx' });
      else if (process.platform !== 'win32' && (statSync(file).mode & 0o077) !== 0) {
        chmodSync(file, 0o600);
        this.warn(
          `the key file ${file} could be read by others on this computer: its mode is 0600 now; if somebody may have read it, renew your stream keys`,
        );
      }
      return readFileSync(file);
    } catch (error) {
      throw new Fault('secret.keyFile', `the key file ${file} cannot be used: ${messageOf(error)}`);
    }
  }

  /** Stream keys of earlier versions were named by their destination alone. */
  #nameKeys(): void {
    for (const subject of this.#stored()) {
      if (subject === subjects.broadcast || readSubject(subject) !== null) continue;
      const value = this.get(subject);
      const changedMs = this.changedMs(subject);
      if (value !== null && changedMs !== null) this.set(subjects.streamKey(subject), value, changedMs);
      this.remove(subject);
    }
  }

  /** Subjects that had a secret and have lost it with the key file. */
  get lost(): ReadonlySet<string> {
    return this.#lost;
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
    this.#lost.delete(subject);
  }

  /** Null when there is none, or when it was lost with the key file. */
  get(subject: string): string | null {
    return this.#lost.has(subject) ? null : this.#open(subject);
  }

  /** Null also when it was not sealed with this key file, or for another subject. */
  #open(subject: string): string | null {
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
    } catch {
      // Another key, or bytes that somebody changed: either way it says nothing any more.
      return null;
    }
  }

  remove(subject: string): void {
    this.#lost.delete(subject);
    this.database.prepare('DELETE FROM secret WHERE subject = ?').run(subject);
  }

  /** When it was stored, milliseconds since 1970; null when there is none. */
  changedMs(subject: string): number | null {
    if (this.#lost.has(subject)) return null;
    const row = this.database
      .prepare('SELECT changed_ms AS at FROM secret WHERE subject = ?')
      .get(subject) as { at: number } | undefined;
    return row?.at ?? null;
  }

  /** Subjects that have a secret. */
  subjects(): string[] {
    return this.#stored().filter((subject) => !this.#lost.has(subject));
  }

  /** Forgets the secrets of what is gone. */
  sweep(): void {
    for (const subject of orphanedSubjects(this.database, this.#stored())) this.remove(subject);
  }

  #stored(): string[] {
    return (this.database.prepare('SELECT subject FROM secret').all() as { subject: string }[]).map(
      (r) => r.subject,
    );
  }
}
