import { recordsOf, type ShowDocument } from '../show/document';
import { FRAME_NAMES, type DestinationRecord, type PlanRecord } from '../show/records';
import { cleanEncode, shareEncodes, type Encode } from './encodes';

/** The plan in use: the chosen one, else the first; null when there is none. */
export function planInUse(document: ShowDocument): PlanRecord | null {
  const plans = recordsOf(document, 'plan');
  const chosen = recordsOf(document, 'show')[0]?.delivery.planId;
  return plans.find((p) => p.id === chosen) ?? plans[0] ?? null;
}

/** Destinations that are switched on. */
export function enabledDestinations(document: ShowDocument): DestinationRecord[] {
  return recordsOf(document, 'destination').filter((d) => d.enabled);
}

/**
 * What is encoded, and who gets it. The first frame the show uses is always encoded, for the recording; another one only
 * when a destination takes it.
 */
export function encodesInUse(
  document: ShowDocument,
  plan: PlanRecord | null = planInUse(document),
): Encode[] {
  const show = recordsOf(document, 'show')[0];
  if (!plan || !show) return [];
  const destinations = enabledDestinations(document);
  const frames = FRAME_NAMES.filter((frame) => show.frames[frame].used && plan.frames[frame]).filter(
    (frame, i) => i === 0 || destinations.some((d) => d.frame === frame),
  );
  const encodes = shareEncodes(plan, destinations, frames);
  const { wide } = plan.frames;
  if (wide && frames.includes('wide') && show.delivery.record.frames.includes('clean'))
    encodes.push(cleanEncode(wide));
  return encodes;
}
