import type { SegmentRecord } from '~/core/show/rundown-records';
import { en } from '../words/en';

/** What moves a segment on, in words within a line. */
export function endWords({ end }: SegmentRecord): string {
  if (end.type === 'clock') return en.plan.endAt.replace('{{time}}', end.at);
  const words = en.plan.end[end.type];
  return words.charAt(0).toLowerCase() + words.slice(1);
}
