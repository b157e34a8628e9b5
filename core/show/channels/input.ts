import type { ChannelKind } from '../channel-kind';
import { id } from '../shape';

/** The sound that comes with an input's picture. */
export interface InputChannel {
  type: 'input';
  inputId: string;
}

export const input: ChannelKind<InputChannel> = { name: 'Input', shape: { inputId: id }, spoken: true };
