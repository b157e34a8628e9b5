import type { Kit } from '~/core/parts/kit';
import type { Parts } from '~/core/parts/parts';

/** Where parts come from. */
export interface Source {
  name: string;
  parts: Parts;
  /** When it is a kit, what it says of itself beside. */
  kit: Kit | null;
  /** Files that it names and did not bring. */
  missing: string[];
}
