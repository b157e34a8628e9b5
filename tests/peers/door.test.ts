/** The door as it is started elsewhere, and certificates: one's own, one that was given, and one from an authority we did not write. */
import { execFile, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import type { X509Certificate } from 'node:crypto';
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import tls from 'node:tls';
import { promisify } from 'node:util';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { readPairing } from '../../core/access/pairing';
import { StudioClient } from '../../scripts/lib/studio-client.mjs';
import { freePort } from '../../scripts/lib/studio.mjs';
import { selfMadeCertificate } from '../../server/tls/certificate';
import { createLog } from '../../server/log';
import { DoorLine } from '../../server/visitors/door-line';
import type { VisitorParts } from '../../server/visitors/visitors';
import { eventually } from '../lib/relay-process';

const root = path.resolve(import.meta.dirname, '../..');
const log = createLog('door test', 'silent');
const NAME = 'door.example.test';

let folder: string;
const children: ChildProcess[] = [];
const lines: DoorLine[] = [];
beforeEach(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-door-'));
});
afterEach(async () => {
  for (const line of lines.splice(0)) line.close();
  await Promise.all(
    children.splice(0).map(
      (child) =>
        new Promise<void>((resolve) => {
          if (child.exitCode !== null || child.signalCode !== null) return resolve();
          child.once('exit', () => resolve());
          child.kill('SIGTERM');
        }),
    ),
  );
  rmSync(folder, { recursive: true, force: true });
});

interface RunningDoor {
  child: ChildProcess;
  port: number;
  /** What it printed so far. */
  said: () => string;
  /** The line that is to be entered in the studio. */
  word: string;
}

async function startDoor(
  args: string[],
  env: Record<string, string> = {},
  port?: number,
): Promise<RunningDoor> {
  const at = port ?? (await freePort());
  const child = spawn(
    process.execPath,
    [path.join(root, 'scripts/door.mjs'), '--port', String(at), '--data', path.join(folder, 'door'), ...args],
    { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] },
  );
  children.push(child);
  let said = '';
  for (const out of [child.stdout, child.stderr])
    out.on('data', (data: Buffer) => (said += data.toString('utf8')));
  await eventually(() => Boolean(/^https:\S+#\S+$/m.test(said) || child.exitCode !== null));
  return { child, port: at, said: () => said, word: /^https:\S+#\S+$/m.exec(said)?.[0] ?? '' };
}

const visitors: VisitorParts = {
  forPads: () => null,
  wings: () => null,
  padsChanged: () => undefined,
  access: {
    who: () => ({ id: 'w', role: 'watcher', name: 'Ida', seatId: null }),
    program: () => null,
    comeIn: () => ({
      cookie: 'cookie-of-the-link',
      visitor: { id: 'w', role: 'watcher', name: 'Ida', seatId: null },
    }),
    leave: () => undefined,
  },
  hooks: {
    call: () => ({ status: 202, body: { taken: 1, problems: [] } }),
    opening: () => null,
    connected: () => () => undefined,
    message: () => undefined,
    tooLarge: () => undefined,
  },
  pad: () => null,
  press: () => Promise.resolve(null),
  standing: () => ({
    ...{ show: 'The Night Signal Box', onAir: 'off', scene: null, startedAtMs: null },
    ...{ nowMs: 1, destinations: [], desk: false },
  }),
};
function connect(word: string, port: number): DoorLine {
  const { token, fingerprint } = readPairing(word);
  // The name leads nowhere here: what it would lead to is this computer.
  const line = new DoorLine({ url: `https://127.0.0.1:${port}/`, token, fingerprint, log, visitors });
  lines.push(line);
  return line;
}

/** The certificate that answers, and whether an authority vouches for it. */
function certificateAt(port: number, ca?: string): Promise<{ x509: X509Certificate; authorized: boolean }> {
  return new Promise((resolve, reject) => {
    const socket = tls.connect(
      { host: '127.0.0.1', port, servername: NAME, rejectUnauthorized: false, ...(ca && { ca }) },
      () => {
        resolve({ x509: socket.getPeerX509Certificate()!, authorized: socket.authorized });
        socket.destroy();
      },
    );
    socket.on('error', reject);
  });
}

/** As a browser does that was told to accept it: curl, which is not ours. */
async function curl(
  port: number,
  at: string,
  ...more: string[]
): Promise<{ status: string; body: string; headers: string }> {
  const { stdout } = await promisify(execFile)('curl', [
    ...['-s', '-k', '-i', '--resolve', `${NAME}:${port}:127.0.0.1`, `https://${NAME}:${port}${at}`],
    ...more,
  ]);
  const [headers, body = ''] = stdout.split('\r\n\r\n');
  return { status: / (\d{3})/.exec(headers)?.[1] ?? '', body, headers };
}

describe('a door elsewhere', () => {
  test('is paired by the line it prints, known by its fingerprint, and lets a link in over TLS', async () => {
    const door = await startDoor(['--name', NAME]);
    expect(door.said()).toContain(`ready https://${NAME}:${door.port}/`);
    const { fingerprint } = readPairing(door.word);
    expect(fingerprint).toBe((await certificateAt(door.port)).x509.fingerprint256);
    const line = connect(door.word, door.port);
    await eventually(() => Boolean(line.connected));
    expect(line.addresses).toEqual([{ url: `https://${NAME}:${door.port}/`, fingerprint }]);
    expect(line.canHouse).toBe(false);
    const post = ['-X', 'POST', '-H', 'content-type: application/json', '-d'];
    const cameIn = await curl(door.port, '/come-in', ...post, '{"token":"a-link-of-twenty-letters"}');
    expect(cameIn.status).toBe('200');
    expect(cameIn.headers).toMatch(
      new RegExp(
        `set-cookie: dolomite-door-${door.port}=cookie-of-the-link; .*SameSite=Strict; .*Secure`,
        'i',
      ),
    );
    expect((await curl(door.port, '/')).body).toContain('Come in');
    expect(JSON.parse((await curl(door.port, '/standing')).body)).toMatchObject({
      show: 'The Night Signal Box',
    });
    expect(statSync(path.join(folder, 'door/door.token')).mode & 0o077).toBe(0);
  });

  test('with another certificate than the one that was entered gets no token', async () => {
    const door = await startDoor(['--name', NAME]);
    const line = connect(door.word.replace(/\.[0-9a-f]{64}$/, `.${'ab'.repeat(32)}`), door.port);
    await eventually(() => Boolean(line.problem));
    expect(line.problem).toMatch(/Another certificate answers/);
    expect(line.connected).toBe(false);
    expect(door.said()).not.toMatch(/without its token/);
  });

  test('whose certificate nobody vouches for is not trusted without its fingerprint', async () => {
    const door = await startDoor(['--name', NAME]);
    const line = connect(door.word.replace(/\.[0-9a-f]{64}$/, ''), door.port);
    await eventually(() => Boolean(line.problem));
    expect(line.problem).toMatch(/cannot be reached: .*certificate/);
    expect(line.connected).toBe(false);
  });

  test('is the same after it was started again, and the studio comes by itself', async () => {
    const door = await startDoor(['--name', NAME]);
    const line = connect(door.word, door.port);
    await eventually(() => Boolean(line.connected));
    door.child.kill('SIGTERM');
    await eventually(() => Boolean(!line.connected));
    const again = await startDoor(['--name', NAME], {}, door.port);
    expect(again.word).toBe(door.word);
    await eventually(() => Boolean(line.connected));
    // A new token shuts out whoever has the old one.
    again.child.kill('SIGTERM');
    await eventually(() => Boolean(!line.connected));
    const renewed = await startDoor(['--name', NAME, '--new-token'], {}, door.port);
    expect(renewed.word).not.toBe(door.word);
    await eventually(() => Boolean(/does not know this studio/.test(line.problem ?? '')));
  });

  test('with a certificate that was given is known by its authority', async () => {
    const given = path.join(folder, 'given');
    const { cert } = await selfMadeCertificate(given, [NAME], Date.now());
    const files = ['--cert', path.join(given, 'own.cert.pem'), '--key', path.join(given, 'own.key.pem')];
    const door = await startDoor(['--name', NAME, ...files]);
    expect(readPairing(door.word).fingerprint).toBeNull();
    expect((await certificateAt(door.port, cert)).authorized).toBe(true);
  });

  test.each([
    [['--name', 'no name'], /--name is what people call/],
    [['--name', NAME, '--port', '99999'], /A port is a number/],
    [['--name', NAME, '--cert', '/none'], /go together/],
    [['--name', NAME, '--cert', '/none', '--key', '/none'], /certificate .* cannot be used/],
    [['--name', NAME, '--acme', 'http://somewhere/'], /begins with https/],
    [['--unheard-of'], /Options: --name/],
  ])('%j is refused with words', async (args, words) => {
    const door = await startDoor(args);
    expect(door.said()).toMatch(words);
    expect(door.child.exitCode).toBe(1);
  });

  test('is not put into a studio’s own folder', async () => {
    const data = path.join(folder, 'door');
    spawnSync('mkdir', ['-p', data]);
    writeFileSync(path.join(data, 'dolomite-data.json'), '{}');
    expect((await startDoor(['--name', NAME])).said()).toMatch(/a studio’s own folder/);
  });
});

describe('a certificate from an authority (Pebble)', () => {
  /** @param seconds how long its certificates are good for */
  async function startAuthority(
    seconds: number,
  ): Promise<{ directory: string; root: () => Promise<string>; challenge: number; ca: string }> {
    const [api, management, challenge, dns, dnsManagement] = await Promise.all(
      Array.from({ length: 5 }, () => freePort()),
    );
    const own = path.join(folder, 'authority');
    await selfMadeCertificate(own, ['localhost', '127.0.0.1'], Date.now());
    const ca = path.join(own, 'own.cert.pem');
    writeFileSync(
      path.join(own, 'pebble.json'),
      JSON.stringify({
        pebble: {
          listenAddress: `127.0.0.1:${api}`,
          managementListenAddress: `127.0.0.1:${management}`,
          certificate: ca,
          privateKey: path.join(own, 'own.key.pem'),
          httpPort: challenge,
          tlsPort: challenge,
          ocspResponderURL: '',
          externalAccountBindingRequired: false,
          certificateValidityPeriod: seconds,
        },
      }),
    );
    children.push(
      spawn(
        'pebble-challtestsrv',
        [
          '-dns01',
          `127.0.0.1:${dns}`,
          '-http01',
          '',
          '-https01',
          '',
          '-tlsalpn01',
          '',
          '-management',
          `127.0.0.1:${dnsManagement}`,
          '-defaultIPv6',
          '',
        ],
        { stdio: 'ignore' },
      ),
      spawn('pebble', ['-config', path.join(own, 'pebble.json'), '-dnsserver', `127.0.0.1:${dns}`], {
        env: { ...process.env, PEBBLE_VA_NOSLEEP: '1' },
        stdio: 'ignore',
      }),
    );
    const answers = () =>
      spawnSync('curl', ['-sf', '--cacert', ca, `https://localhost:${api}/dir`]).status === 0;
    await eventually(answers);
    return {
      directory: `https://localhost:${api}/dir`,
      root: async () =>
        spawnSync('curl', ['-sf', '--cacert', ca, `https://localhost:${management}/roots/0`], {
          encoding: 'utf8',
        }).stdout,
      challenge,
      ca,
    };
  }

  test('is fetched for a name, kept, and everything else on the port of the challenge is led to TLS', async () => {
    const authority = await startAuthority(90 * 86_400);
    const args = [
      '--name',
      NAME,
      '--acme',
      authority.directory,
      '--challenge-port',
      String(authority.challenge),
    ];
    const env = { NODE_EXTRA_CA_CERTS: authority.ca };
    const door = await startDoor(args, env);
    expect(door.said()).toContain(`ready https://${NAME}:${door.port}/`);
    expect(readPairing(door.word).fingerprint).toBeNull();
    const { x509, authorized } = await certificateAt(door.port, await authority.root());
    expect([authorized, x509.checkHost(NAME)]).toEqual([true, NAME]);
    const plain = new StudioClient(`http://127.0.0.1:${authority.challenge}`);
    const led = await plain.ask('/some/place', { redirect: 'manual' });
    expect([led.status, led.headers.get('location')]).toEqual([308, `https://${NAME}/some/place`]);
    expect((await plain.ask('/.well-known/acme-challenge/unknown')).status).toBe(404);
    door.child.kill('SIGTERM');
    await eventually(() => Boolean(door.child.exitCode !== null));
    const again = await startDoor(args, env);
    expect((await certificateAt(again.port)).x509.fingerprint256).toBe(x509.fingerprint256);
  });

  test('is renewed by itself while the door is open, and nobody is cut off', async () => {
    // Good for ten days: it is time to renew from the beginning.
    const authority = await startAuthority(10 * 86_400);
    const door = await startDoor(
      ['--name', NAME, '--acme', authority.directory, '--challenge-port', String(authority.challenge)],
      { NODE_EXTRA_CA_CERTS: authority.ca, DOLOMITE_DOOR_LOOK_SECONDS: '1' },
    );
    const first = (await certificateAt(door.port)).x509.fingerprint256;
    const staying = tls.connect({ host: '127.0.0.1', port: door.port, rejectUnauthorized: false });
    let cut = false;
    staying.on('close', () => (cut = true));
    let now = first;
    await eventually(async () => {
      now = (await certificateAt(door.port)).x509.fingerprint256;
      return now !== first;
    });
    expect(cut).toBe(false);
    staying.destroy();
    expect(statSync(path.join(folder, 'door/acme.account.json')).mode & 0o077).toBe(0);
  });

  test('that cannot be had is said, with what must be right', async () => {
    const authority = await startAuthority(90 * 86_400);
    const elsewhere = await freePort();
    const door = await startDoor(
      ['--name', NAME, '--acme', authority.directory, '--challenge-port', String(elsewhere)],
      { NODE_EXTRA_CA_CERTS: authority.ca },
    );
    expect(door.said()).toMatch(
      new RegExp(`no certificate for ${NAME} could be had.*port ${elsewhere}`, 's'),
    );
    expect(door.child.exitCode).toBe(1);
  });
});
