import { createHash, createPrivateKey, X509Certificate } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { Fault, messageOf } from '../../core/fault';

export interface Certificate {
  /** PEM, with whatever chain came with it. */
  cert: string;
  key: string;
}

/** Browsers take no certificate that was made for longer (CA/Browser Forum baseline requirements 6.3.2, of 2020). */
const SELF_MADE_DAYS = 397;
/** One that is about to run out is made anew. */
const RENEW_DAYS = 30;
const DAY_MS = 86_400_000;

/** SHA-256 of the first certificate, as people compare it: pairs of hexadecimal digits with colons. */
export function fingerprintOf({ cert }: Pick<Certificate, 'cert'>): string {
  return createHash('sha256')
    .update(new X509Certificate(cert).raw)
    .digest('hex')
    .toUpperCase()
    .replace(/..(?!$)/g, '$&:');
}

/** Whether there is still enough time on it. */
export const isLasting = ({ cert }: Certificate, nowMs: number): boolean =>
  Date.parse(new X509Certificate(cert).validTo) - nowMs > RENEW_DAYS * DAY_MS;

/**
 * A certificate and key as they were given.
 * @throws Fault `tls.certificate` when they cannot be read, do not belong together, or have run out
 */
export function givenCertificate(certFile: string, keyFile: string, nowMs: number): Certificate {
  try {
    const given = { cert: readFileSync(certFile, 'utf8'), key: readFileSync(keyFile, 'utf8') };
    const x509 = new X509Certificate(given.cert);
    if (!x509.checkPrivateKey(createPrivateKey(given.key)))
      throw new Error('the key is not that of the certificate');
    if (Date.parse(x509.validTo) <= nowMs) throw new Error(`it ran out on ${x509.validTo}`);
    return given;
  } catch (error) {
    throw new Fault('tls.certificate', `the certificate ${certFile} cannot be used: ${messageOf(error)}`);
  }
}

/** Reads what was kept in a folder; null when there is nothing whole. */
export function keptCertificate(folder: string, name: string): Certificate | null {
  try {
    const read = (what: string) => readFileSync(path.join(folder, `${name}.${what}.pem`), 'utf8');
    const kept = { cert: read('cert'), key: read('key') };
    return new X509Certificate(kept.cert).checkPrivateKey(createPrivateKey(kept.key)) ? kept : null;
  } catch {
    return null;
  }
}

/** The key first: a certificate without its own key would be found as damaged, and made anew. */
export function keepCertificate(folder: string, name: string, { cert, key }: Certificate): void {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  for (const [what, text] of [
    ['key', key],
    ['cert', cert],
  ] as const) {
    const file = path.join(folder, `${name}.${what}.pem`);
    writeFileSync(`${file}.part`, text, { mode: 0o600 });
    renameSync(`${file}.part`, file);
  }
}

/**
 * One made here, for a network in which nobody else can vouch: kept as long as it lasts, so that its fingerprint stays.
 * @param names host names and addresses it is for
 */
export async function selfMadeCertificate(
  folder: string,
  names: readonly string[],
  nowMs: number,
): Promise<Certificate> {
  const kept = keptCertificate(folder, 'own');
  if (kept && isLasting(kept, nowMs)) return kept;
  const { generate } = await import('selfsigned');
  const made = await generate([{ name: 'commonName', value: 'Dolomite' }], {
    keyType: 'ec',
    curve: 'P-256',
    algorithm: 'sha256',
    // Clocks in a house differ.
    notBeforeDate: new Date(nowMs - DAY_MS),
    notAfterDate: new Date(nowMs + (SELF_MADE_DAYS - 1) * DAY_MS),
    extensions: [
      { name: 'basicConstraints', cA: false, critical: true },
      { name: 'keyUsage', digitalSignature: true, critical: true },
      { name: 'extKeyUsage', serverAuth: true },
      {
        name: 'subjectAltName',
        altNames: names.map((name) =>
          /^[\d.]+$|:/.test(name) ? { type: 7, ip: name } : { type: 2, value: name },
        ),
      },
    ],
  });
  const certificate = { cert: made.cert, key: made.private };
  keepCertificate(folder, 'own', certificate);
  return certificate;
}

/** How this computer is called in its own network, the address that others most likely reach first. */
export function ownNames(
  interfaces: ReturnType<typeof os.networkInterfaces> = os.networkInterfaces(),
  hostname = os.hostname(),
): string[] {
  const addresses = Object.values(interfaces)
    .flatMap((each) => each ?? [])
    // Addresses of a link need a zone that other computers do not know.
    .filter(({ internal, address }) => !internal && !address.startsWith('fe80:'))
    .sort((a, b) => Number(a.family === 'IPv6') - Number(b.family === 'IPv6'))
    .map(({ address }) => address);
  const name = /^[a-z0-9-]{1,63}$/i.test(hostname) ? [`${hostname.toLowerCase()}.local`] : [];
  return [...addresses, ...name];
}
