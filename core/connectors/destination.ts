import { PLAIN_DESTINATION, type DestinationSettings } from '../delivery/settings';
import type { Connector, IngestServer } from './connector';

/**
 * A destination at a service, as its connector describes it, to be signed in to.
 *
 * @param servers those that can be chosen, at least one; the first is taken until they were measured
 */
export function destinationOf(
  { id, name, ingest }: Connector,
  servers: readonly Pick<IngestServer, 'name' | 'url'>[],
): DestinationSettings & { name: string } {
  return {
    ...PLAIN_DESTINATION,
    name,
    connector: id,
    url: servers[0].url,
    servers: servers.map((server) => ({ name: server.name, url: server.url })),
    frame: ingest.frame ?? 'wide',
    enabled: true,
    capKbps: ingest.capKbps ?? null,
    keyUse: ingest.key ?? 'lasting',
  };
}
