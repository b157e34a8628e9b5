import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { Fault, messageOf } from '../../core/fault';
import type { Log } from '../log';
import { isLasting, keepCertificate, keptCertificate, type Certificate } from './certificate';

/** Looked after so often whether it is time to renew; a failure is tried again then, well before the old one runs out. */
const LOOK_MS = 6 * 3_600_000;

export interface AcmeOptions {
  /** Where account key, certificate and key are kept. */
  folder: string;
  /** The name it is for. */
  name: string;
  /** Told when something is wrong with the certificate; may be empty. */
  email: string;
  directoryUrl: string;
  /** Where the authority asks for the answer (RFC 8555 §8.3: port 80 of the name). */
  challengePort: number;
  log: Log;
  now: () => number;
}

/**
 * A certificate for a name of one's own, from an authority that speaks ACME (RFC 8555) by the challenge HTTP-01, renewed by
 * itself. While the challenge port is open, whatever else comes there is led to TLS.
 */
export class AcmeCertificate {
  readonly #answers = new Map<string, string>();
  #server: http.Server | null = null;
  #timer: NodeJS.Timeout | undefined;

  constructor(
    readonly options: AcmeOptions,
    /** There is a new one. */
    readonly renewed: (certificate: Certificate) => void,
  ) {}

  /**
   * The one that was kept, or a new one.
   * @throws Fault `door.acme` when there is none yet and none can be had
   */
  async begin(): Promise<Certificate> {
    await this.#listen();
    const { folder, now, log } = this.options;
    this.#timer = setInterval(() => void this.#look(), LOOK_MS);
    this.#timer.unref();
    const kept = keptCertificate(folder, 'acme');
    if (kept && isLasting(kept, now())) return kept;
    try {
      return await this.#fetch();
    } catch (error) {
      if (!kept) throw error;
      log.warn({ error: messageOf(error) }, 'the certificate could not be renewed; it is tried again');
      return kept;
    }
  }

  close(): void {
    clearInterval(this.#timer);
    this.#server?.close();
    this.#server?.closeAllConnections();
  }

  async #look(): Promise<void> {
    const { folder, now, log } = this.options;
    const kept = keptCertificate(folder, 'acme');
    if (kept && isLasting(kept, now())) return;
    try {
      this.renewed(await this.#fetch());
    } catch (error) {
      log.warn({ error: messageOf(error) }, 'the certificate could not be renewed; it is tried again');
    }
  }

  async #fetch(): Promise<Certificate> {
    const { folder, name, email, directoryUrl, log } = this.options;
    try {
      // Most doors need it never: it is loaded where it is used.
      const { default: acme } = await import('acme-client');
      const client = new acme.Client({
        directoryUrl,
        accountKey: await this.#accountKey(() => acme.crypto.createPrivateEcdsaKey()),
      });
      const key = await acme.crypto.createPrivateEcdsaKey();
      const [, csr] = await acme.crypto.createCsr({ altNames: [name] }, key);
      const cert = await client.auto({
        csr,
        ...(email && { email }),
        termsOfServiceAgreed: true,
        challengePriority: ['http-01'],
        // Whether the name leads here is the authority's to find out: from inside, it often cannot be seen.
        skipChallengeVerification: true,
        challengeCreateFn: async (_, { token }, answer) => void this.#answers.set(token, answer),
        challengeRemoveFn: async (_, { token }) => void this.#answers.delete(token),
      });
      const certificate = { cert, key: key.toString() };
      keepCertificate(folder, 'acme', certificate);
      log.info({ name }, 'there is a new certificate');
      return certificate;
    } catch (error) {
      throw new Fault(
        'door.acme',
        `no certificate for ${name} could be had: ${messageOf(error)}. The name must lead to this computer, and port ${this.options.challengePort} must be open from outside`,
      );
    }
  }

  async #accountKey(make: () => Promise<Buffer>): Promise<Buffer> {
    const file = path.join(this.options.folder, 'acme.account.pem');
    if (existsSync(file)) return readFileSync(file);
    const key = await make();
    mkdirSync(this.options.folder, { recursive: true, mode: 0o700 });
    writeFileSync(file, key, { mode: 0o600 });
    return key;
  }

  #listen(): Promise<void> {
    const { challengePort, name } = this.options;
    const server = http.createServer((request, response) => {
      const token = /^\/\.well-known\/acme-challenge\/([\w-]{1,200})$/.exec(request.url ?? '')?.[1];
      const answer = token && this.#answers.get(token);
      if (answer) return void response.writeHead(200, { 'content-type': 'text/plain' }).end(answer);
      if (token) return void response.writeHead(404).end();
      const path = /^\/[\x21-\x7e]*$/.test(request.url ?? '') ? request.url : '/';
      response.writeHead(308, { location: `https://${name}${path}` }).end();
    });
    this.#server = server;
    return new Promise((resolve, reject) => {
      server.once('error', (error) =>
        reject(
          new Fault('door.acme', `port ${challengePort}, where the authority asks, cannot be opened: ${messageOf(error)}`),
        ),
      );
      server.listen(challengePort, () => resolve());
    });
  }
}
