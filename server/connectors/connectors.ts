import type { Connector } from '../../core/connectors/connector';
import { Fault } from '../../core/fault';
import type { BusFromServer } from '../../protocol/bus';
import { readConnector } from '../../protocol/connector-schema';
import type { ServiceChat } from '../audience/service-chat';
import type { PlatformAddress } from '../audience/platform-feed';
import type { Database } from '../db/database';

/** The services this studio knows: by files that were brought in, and, with the demonstration, those of its stand-ins. */
export class Connectors {
  /** Read once: they are looked through with every edit of a show. */
  #own: readonly Connector[] | null = null;

  /** @param shipped of services that run beside the studio: nobody can remove them, and no file can take their place */
  constructor(
    readonly database: Database,
    readonly shipped: readonly Connector[],
  ) {}

  /** All of them, by name. */
  list(): { connector: Connector; removable: boolean }[] {
    const isShipped = (id: string) => this.shipped.some((connector) => connector.id === id);
    return [
      ...this.shipped.map((connector) => ({ connector, removable: false })),
      ...this.#kept()
        .filter(({ id }) => !isShipped(id))
        .map((connector) => ({ connector, removable: true })),
    ].sort((a, b) => a.connector.name.localeCompare(b.connector.name));
  }

  find(id: string | null): Connector | null {
    if (id === null) return null;
    return [...this.shipped, ...this.#kept()].find((connector) => connector.id === id) ?? null;
  }

  /**
   * Takes a file in; one of the same id is replaced by it.
   * @throws Fault `connector.*` with what is wrong in it
   */
  add(text: string, nowMs: number): Connector {
    const connector = readConnector(text);
    if (this.shipped.some(({ id }) => id === connector.id))
      throw new Fault(
        'connector.taken',
        `"${connector.id}" comes with the demonstration: give the connector another id`,
      );
    this.database
      .prepare(
        'INSERT INTO connector (id, data, added_ms) VALUES (?, ?, ?) ON CONFLICT (id) DO UPDATE SET data = excluded.data',
      )
      .run(connector.id, JSON.stringify(connector), nowMs);
    this.#own = null;
    return connector;
  }

  /** Destinations that were made with it keep their address and key. @throws Fault `connector.missing` */
  remove(id: string): void {
    if (this.database.prepare('DELETE FROM connector WHERE id = ?').run(id).changes === 0)
      throw new Fault('connector.missing', 'this connector is not here any more');
    this.#own = null;
  }

  /** Where chat and events of platforms come from. */
  feeds(): PlatformAddress[] {
    return this.list().flatMap(({ connector: { id, name, events } }) =>
      events ? [{ name: id, title: name, feedUrl: events.url, signedIn: events.signedIn ?? false }] : [],
    );
  }

  /** Chat servers that a sign-in joins. */
  chats(): ServiceChat[] {
    return this.list().flatMap(({ connector: { id, chat } }) => (chat?.account ? [{ name: id, chat }] : []));
  }

  /** What pages know of them. */
  told(): BusFromServer {
    const services = this.list().map(({ connector, removable }) => ({
      ...{ id: connector.id, name: connector.name, removable },
      watchUrl: connector.pages?.watch ?? null,
      accountUrl: connector.pages?.account ?? null,
      signsIn: connector.signIn !== undefined,
      visibility: connector.details?.visibility ?? [],
      testSeconds: connector.ingest.testSeconds ?? null,
    }));
    return { type: 'services', services };
  }

  #kept(): readonly Connector[] {
    this.#own ??= (this.database.prepare('SELECT data FROM connector').pluck().all() as string[]).map(
      (data) => JSON.parse(data) as Connector,
    );
    return this.#own;
  }
}
