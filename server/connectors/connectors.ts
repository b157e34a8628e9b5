import type { Connector } from '../../core/connectors/connector';
import { Fault } from '../../core/fault';
import { readConnector } from '../../protocol/connector-schema';
import type { Database } from '../db/database';

/** The services this studio knows: by files that were brought in, and, with the demonstration, those of its stand-ins. */
export class Connectors {
  /** @param shipped of services that run beside the studio: nobody can remove them, and no file can take their place */
  constructor(
    readonly database: Database,
    readonly shipped: readonly Connector[],
  ) {}

  /** All of them, by name. */
  list(): { connector: Connector; removable: boolean }[] {
    const own = this.database.prepare('SELECT data FROM connector').pluck().all() as string[];
    const isShipped = (id: string) => this.shipped.some((connector) => connector.id === id);
    return [
      ...this.shipped.map((connector) => ({ connector, removable: false })),
      ...own
        .map((data) => ({ connector: JSON.parse(data) as Connector, removable: true }))
        .filter(({ connector }) => !isShipped(connector.id)),
    ].sort((a, b) => a.connector.name.localeCompare(b.connector.name));
  }

  find(id: string | null): Connector | null {
    if (id === null) return null;
    const shipped = this.shipped.find((connector) => connector.id === id);
    if (shipped) return shipped;
    const data = this.database.prepare('SELECT data FROM connector WHERE id = ?').pluck().get(id);
    return typeof data === 'string' ? (JSON.parse(data) as Connector) : null;
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
    return connector;
  }

  /** Destinations that were made with it keep their address and key. @throws Fault `connector.missing` */
  remove(id: string): void {
    if (this.database.prepare('DELETE FROM connector WHERE id = ?').run(id).changes === 0)
      throw new Fault('connector.missing', 'this connector is not here any more');
  }
}
