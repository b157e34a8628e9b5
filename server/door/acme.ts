import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import path from 'node:path';
import { Fault, messageOf } from '../../core/fault';
import type { Log } from '../log';
import { isLasting, keepCertificate, keptCertificate, type Certificate } from '../tls/certificate';

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
  /** How often it is looked whether it is time to renew; a failure is tried again then, milliseconds. */
  lookMs: number;
  log: Log;
  now: () => number;
}

interface Account {
  directoryUrl: string;
  url: string;
  /** PEM. */
  key: string;
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
    this.#timer = setInterval(() => void this.#look(), this.options.lookMs);
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
      // An account that is registered again is answered with an update of nothing, which authorities refuse (RFC 8555 §7.3.2
      // has no such update): its address is kept with its key.
      const kept = this.#keptAccount();
      const accountKey = kept?.key ?? (await acme.crypto.createPrivateEcdsaKey()).toString();
      const client = new acme.Client({ directoryUrl, accountKey, ...(kept && { accountUrl: kept.url }) });
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
      this.#keepAccount({ directoryUrl, url: client.getAccountUrl(), key: accountKey });
      const certificate = { cert, key: key.toString() };
      keepCertificate(folder, 'acme', certificate);
      log.info({ name }, 'there is a new certificate');
      return certificate;
    } catch (error) {
      // An authority that forgot the account is asked as a new one the next time.
      if (/account/i.test(messageOf(error))) rmSync(this.#accountFile, { force: true });
      throw new Fault(
        'door.acme',
        `no certificate for ${name} could be had: ${messageOf(error)}. The name must lead to this computer, and port ${this.options.challengePort} must be open from outside`,
      );
    }
  }

  /** The account with this authority; null when there is none, or when its file is not whole. */
  #keptAccount(): Account | null {
    try {
      const account = JSON.parse(readFileSync(this.#accountFile, 'utf8')) as Account;
      return account.directoryUrl === this.options.directoryUrl && account.url && account.key
        ? account
        : null;
    } catch {
      return null;
    }
  }

  #keepAccount(account: Account): void {
    mkdirSync(this.options.folder, { recursive: true, mode: 0o700 });
    writeFileSync(`${this.#accountFile}.part`, JSON.stringify(account), { mode: 0o600 });
    renameSync(`${this.#accountFile}.part`, this.#accountFile);
  }

  get #accountFile(): string {
    return path.join(this.options.folder, 'acme.account.json');
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
          new Fault(
            'door.acme',
            `port ${challengePort}, where the authority asks, cannot be opened: ${messageOf(error)}`,
          ),
        ),
      );
      server.listen(challengePort, () => resolve());
    });
  }
}
