import type { ChannelKind } from '../channel-kind';
import { choice, words } from '../shape';

/** What this computer plays, without a picture: all that goes to an output, or one program. */
export interface ComputerSoundSource {
  type: 'computer';
  of: 'output' | 'program';
  /** As the sound server calls it. */
  name: string;
  label: string;
}

export const computer: ChannelKind<ComputerSoundSource> = {
  name: 'This computer',
  shape: { of: choice(['output', 'program']), name: words(300, 1), label: words(300, 1) },
  spoken: true,
};
