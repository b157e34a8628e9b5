import { createCipheriv, createDecipheriv, randomBytes, scryptSync } from 'node:crypto';
import { Fault } from '../../core/fault';
import type { SealedKeys } from '../../core/show/archive';

const COST = { n: 1 << 15, r: 8, p: 1 } as const;
/** scrypt needs 128 · n · r bytes (RFC 7914, section 2), and a little more. */
const MOST_MEMORY = 256 * 1024 * 1024;
const KEY_BYTES = 32;
const TAG_BYTES = 16;
export const LEAST_PASSPHRASE = 8;

const keyOf = (passphrase: string, salt: Buffer, { n, r, p }: { n: number; r: number; p: number }) =>
  scryptSync(passphrase.normalize('NFC'), salt, KEY_BYTES, { N: n, r, p, maxmem: MOST_MEMORY });

/** @throws Fault `archive.passphrase` when it is too short */
export function sealKeys(secrets: Record<string, string>, passphrase: string): SealedKeys {
  if (passphrase.length < LEAST_PASSPHRASE)
    throw new Fault('archive.passphrase', `Choose a passphrase of at least ${LEAST_PASSPHRASE} letters.`);
  const salt = randomBytes(16);
  const nonce = randomBytes(12);
  const cipher = createCipheriv('aes-256-gcm', keyOf(passphrase, salt, COST), nonce);
  const sealed = Buffer.concat([
    cipher.update(JSON.stringify(secrets), 'utf8'),
    cipher.final(),
    cipher.getAuthTag(),
  ]);
  return {
    kdf: 'scrypt',
    ...COST,
    salt: salt.toString('base64'),
    nonce: nonce.toString('base64'),
    sealed: sealed.toString('base64'),
  };
}

/** @throws Fault `archive.passphrase` when it is another one, or the keys were changed by somebody */
export function openKeys(keys: SealedKeys, passphrase: string): Record<string, string> {
  const wrong = new Fault(
    'archive.passphrase',
    'The passphrase does not open the keys in this archive: try it again.',
  );
  const { n, r, p } = keys;
  // A stranger's archive must not make this computer work for minutes.
  const sane =
    keys.kdf === 'scrypt' && [n, r, p].every(Number.isInteger) && n <= 1 << 17 && r <= 16 && p <= 4;
  if (!sane) throw new Fault('archive.damaged', 'The keys in this archive cannot be read: it is damaged.');
  try {
    const sealed = Buffer.from(keys.sealed, 'base64');
    const key = keyOf(passphrase, Buffer.from(keys.salt, 'base64'), keys);
    const decipher = createDecipheriv('aes-256-gcm', key, Buffer.from(keys.nonce, 'base64'));
    decipher.setAuthTag(sealed.subarray(sealed.length - TAG_BYTES));
    const text =
      decipher.update(sealed.subarray(0, sealed.length - TAG_BYTES), undefined, 'utf8') +
      decipher.final('utf8');
    const opened = JSON.parse(text) as unknown;
    if (typeof opened !== 'object' || opened === null) throw wrong;
    return Object.fromEntries(
      Object.entries(opened).filter((entry): entry is [string, string] => typeof entry[1] === 'string'),
    );
  } catch {
    throw wrong;
  }
}
