import type { ColourKey, GradeValues } from '../show/colour-records';
import type { CubeTable } from './cube-table';

/** How a picture is coloured: values, then the table, then the key. */
export interface ColourSettings {
  values: GradeValues | null;
  table: CubeTable | null;
  /** Of the table, 0…1. */
  strength: number;
  key: ColourKey | null;
}
