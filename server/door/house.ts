import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import type http from 'node:http';
import https from 'node:https';
import path from 'node:path';
import { messageOf } from '../../core/fault';
import type { DoorAddress } from '../../protocol/door';
import type { Log } from '../log';
import { fingerprintOf, ownNames, selfMadeCertificate } from '../tls/certificate';
import type { Entrance } from './door';

/** The door of a studio, opened to the local network: over TLS only, under a certificate that is made here. */
export class House {
  #server: https.Server | null = null;
  #fingerprint = '';
  /** Why it is not open although it should be, in words; null when nothing is wrong. */
  problem: string | null = null;
  #turn: Promise<void> = Promise.resolve();

  constructor(
    readonly folder: string,
    readonly log: Log,
    readonly attach: (server: http.Server | https.Server, entrance: () => Entrance, studio: boolean) => void,
  ) {}

  /** Opens or closes it; what is asked for last counts. Does not throw: see `problem`. */
  set(open: boolean): Promise<void> {
    this.#turn = this.#turn.then(() => (open ? this.#open() : this.close()));
    return this.#turn;
  }

  /** Under which it can be reached; none while it is closed. */
  addresses(): DoorAddress[] {
    const port = this.#port();
    if (port === 0) return [];
    return ownNames().map((name) => ({
      url: `https://${name.includes(':') ? `[${name}]` : name}:${port}/`,
      fingerprint: this.#fingerprint,
    }));
  }

  close(): void {
    this.#server?.close();
    this.#server?.closeAllConnections();
    this.#server = null;
    this.problem = null;
  }

  async #open(): Promise<void> {
    if (this.#server) return;
    try {
      const certificate = await selfMadeCertificate(this.folder, ownNames(), Date.now());
      this.#fingerprint = fingerprintOf(certificate);
      const server = https.createServer(certificate);
      this.attach(server, () => ({ secure: true, port: this.#port() }), false);
      await this.#listen(server);
      this.#server = server;
      this.problem = null;
    } catch (error) {
      this.problem = messageOf(error);
      this.log.warn({ error: this.problem }, 'the door could not be opened to the local network');
    }
  }

  /** The port of the last time, so that links and codes that were given out go on being right; another when it is taken. */
  async #listen(server: https.Server): Promise<void> {
    const file = path.join(this.folder, 'house.port');
    const last = existsSync(file) ? Number(readFileSync(file, 'utf8')) : 0;
    const wanted = Number.isInteger(last) && last > 0 && last < 65_536 ? last : 0;
    try {
      await listenAt(server, wanted);
    } catch (error) {
      if (wanted === 0 || (error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error;
      await listenAt(server, 0);
    }
    const address = server.address();
    if (address && typeof address === 'object') writeFileSync(file, String(address.port), { mode: 0o600 });
  }

  #port(): number {
    const address = this.#server?.address();
    return address && typeof address === 'object' ? address.port : 0;
  }
}

function listenAt(server: https.Server, port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, () => {
      server.off('error', reject);
      resolve();
    });
  });
}
