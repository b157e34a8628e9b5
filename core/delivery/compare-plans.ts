/** Plans beside each other: what each would send, what viewers get of it, and what practice says. */
import type { ShowDocument } from '../show/document';
import type { PlanRecord } from '../show/records';
import { encodesInUse } from './live-plan';
import { uploadKbps } from './encodes';
import { bitsPerPixel, judgePicture, mbps, planWarnings, viewersOf100 } from './plan-advice';
import { FRAME_NAMES } from './settings';

export interface ComparedRow {
  name: string;
  /** One for each plan, in their order. */
  values: string[];
  /** Whether the plans differ in it. */
  differs: boolean;
}

const FRAME_WORDS = { wide: 'Wide picture', tall: 'Tall picture' } as const;
const NONE = '—';

/** @param plans in the order of the columns */
export function comparePlans(document: ShowDocument, plans: readonly PlanRecord[]): ComparedRow[] {
  const made = plans.map((plan) => {
    const encodes = encodesInUse(document, plan);
    return {
      plan,
      encodes,
      upload: uploadKbps(encodes, plan.audioKbps),
      warnings: planWarnings(plan, encodes),
    };
  });
  const row = (name: string, of: (one: (typeof made)[number]) => string): ComparedRow => {
    const values = made.map(of);
    return { name, values, differs: new Set(values).size > 1 };
  };
  return [
    ...FRAME_NAMES.map((frame) =>
      row(FRAME_WORDS[frame], ({ plan: { frames, fps } }) => {
        const of = frames[frame];
        return of ? `${of.width}×${of.height} at ${fps}` : NONE;
      }),
    ),
    row('Pictures, kbps', ({ encodes }) => encodes.map((e) => e.videoKbps).join(' + ') || NONE),
    row('Sound, kbps', ({ plan }) => String(plan.audioKbps)),
    row('How it looks', ({ plan, encodes: [main] }) =>
      main
        ? `${judgePicture(main, plan.fps, plan.content)} (${bitsPerPixel(main, plan.fps).toFixed(3)} bits a pixel)`
        : NONE,
    ),
    row('Lines that carry it', ({ plan, encodes: [main] }) =>
      main ? `${viewersOf100((main.videoKbps + plan.audioKbps) * 1.2)} of 100` : NONE,
    ),
    row('Encodes here', ({ encodes }) => {
      const served = encodes.reduce((sum, e) => sum + e.reencoded.length, 0);
      return `${encodes.length}${served > 0 ? `, ${served} on the server` : ''}`;
    }),
    row('Upload, Mbps', ({ plan, upload }) =>
      plan.lineKbps === null ? mbps(upload) : `${mbps(upload)} of ${mbps(plan.lineKbps)}`,
    ),
    row('Encoder', ({ plan }) => plan.effort),
    row('Overloaded', ({ plan }) => (plan.keep === 'rate' ? 'keeps frame rate' : 'keeps sharpness')),
    row('Adaptive bitrate', ({ plan }) => (plan.adaptive ? 'on' : 'off')),
    row('Practice says', ({ warnings }) => warnings.map((w) => w.text).join(' ') || 'fine'),
  ];
}
