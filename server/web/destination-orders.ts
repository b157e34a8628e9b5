import type { Encode } from '../../core/delivery/encodes';
import { enabledDestinations, planInUse } from '../../core/delivery/live-plan';
import type { ShowDocument } from '../../core/show/document';
import type { DestinationOrder } from '../../protocol/relay-orders';

/** Stand-ins take keys that begin so, and show nobody what comes with them. */
const REHEARSAL_KEY = 'rehearsal_';

/**
 * What the relay is told about the destinations that are switched on: where each is, with its key, and what it gets.
 * @param encodes those that run
 * @param keyOf the stream key of a destination; null for none
 * @param rehearsalUrl a stand-in that takes them all instead, for a rehearsal; else null
 */
export function destinationOrders(
  document: ShowDocument,
  encodes: readonly Encode[],
  keyOf: (destinationId: string) => string | null,
  rehearsalUrl: string | null,
): DestinationOrder[] {
  const careful = planInUse(document)?.effort === 'careful';
  return enabledDestinations(document).map((d) => {
    const encode = encodes.find((e) => e.destinationIds.includes(d.id));
    const made = encode?.reencoded.find((r) => r.destinationId === d.id);
    return {
      id: d.id,
      name: d.name,
      frame: d.frame,
      url: rehearsalUrl ?? d.url,
      key: rehearsalUrl === null ? (keyOf(d.id) ?? '') : `${REHEARSAL_KEY}${d.id}`,
      encode: encode?.id ?? d.frame,
      delaySeconds: d.delaySeconds,
      padded: d.padded,
      ...(made && {
        reencode: { width: made.width, height: made.height, videoKbps: made.videoKbps, careful },
      }),
    };
  });
}
