import type { InputPart } from '../input-parts';
import type { SimulatedSource } from '~/core/show/input-kind';

export const part: InputPart<SimulatedSource> = {
  type: 'simulated',
  Fields: () => (
    <p className="hint">A simulated picture that ships with the studio, for trying things out.</p>
  ),
};
