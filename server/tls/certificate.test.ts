import { createHash, X509Certificate } from 'node:crypto';
import { mkdtempSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { fingerprintOf, givenCertificate, isLasting, ownNames, selfMadeCertificate } from './certificate';

const NOW = Date.now();
const DAY_MS = 86_400_000;
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-certificate-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

test('one that is made here names its addresses, and stays the same until it has run out', async () => {
  const made = await selfMadeCertificate(folder, ['192.0.2.7', 'fd00::2', 'studio.local'], NOW);
  const x509 = new X509Certificate(made.cert);
  for (const name of ['192.0.2.7', 'fd00::2']) expect(x509.checkIP(name)).toBe(name);
  expect(x509.checkHost('studio.local')).toBe('studio.local');
  expect(fingerprintOf(made)).toBe(x509.fingerprint256);
  expect(fingerprintOf(made).replaceAll(':', '').toLowerCase()).toBe(
    createHash('sha256').update(x509.raw).digest('hex'),
  );
  expect(isLasting(made, NOW)).toBe(true);
  expect(await selfMadeCertificate(folder, ['192.0.2.8'], NOW + 300 * DAY_MS)).toEqual(made);
  expect((await selfMadeCertificate(folder, ['192.0.2.8'], NOW + 380 * DAY_MS)).cert).not.toBe(made.cert);
  for (const file of readdirSync(folder)) expect(statSync(path.join(folder, file)).mode & 0o077).toBe(0);
});

test('one whose key was damaged is made anew', async () => {
  const made = await selfMadeCertificate(folder, ['192.0.2.7'], NOW);
  writeFileSync(path.join(folder, 'own.key.pem'), 'garbage');
  expect((await selfMadeCertificate(folder, ['192.0.2.7'], NOW)).cert).not.toBe(made.cert);
});

test('one that is given must be whole, belong to its key, and not have run out', async () => {
  const made = await selfMadeCertificate(folder, ['192.0.2.7'], NOW);
  const other = await selfMadeCertificate(path.join(folder, 'other'), ['192.0.2.7'], NOW);
  const [cert, key] = [path.join(folder, 'own.cert.pem'), path.join(folder, 'own.key.pem')];
  expect(givenCertificate(cert, key, NOW)).toEqual(made);
  expect(() => givenCertificate(cert, key, NOW + 400 * DAY_MS)).toThrow(/ran out/);
  writeFileSync(key, other.key);
  expect(() => givenCertificate(cert, key, NOW)).toThrow(/not that of the certificate/);
  writeFileSync(cert, '');
  expect(() => givenCertificate(cert, key, NOW)).toThrow(/cannot be used/);
  expect(() => givenCertificate(path.join(folder, 'none'), key, NOW)).toThrow(/cannot be used/);
});

test('a computer is called by what others reach first; addresses of a link and of itself are none', () => {
  const at = (address: string, family: 'IPv4' | 'IPv6', internal = false) =>
    ({ address, family, internal, netmask: '', mac: '', cidr: null, scopeid: 0 }) as os.NetworkInterfaceInfo;
  const interfaces = {
    lo: [at('127.0.0.1', 'IPv4', true), at('::1', 'IPv6', true)],
    eth0: [at('fe80::1', 'IPv6'), at('fd00::2', 'IPv6'), at('192.0.2.7', 'IPv4')],
  };
  expect(ownNames(interfaces, 'Studio')).toEqual(['192.0.2.7', 'fd00::2', 'studio.local']);
  expect(ownNames({}, 'a name with spaces')).toEqual([]);
});
