/** What a kind of channel is, wherever its sound comes from. */
import type { ShapeOf } from './shape';

export interface ChannelKind<S extends { type: string }> {
  /** In a channel's row. */
  name: string;
  /** What its settings may be. */
  shape: ShapeOf<S, 'type'>;
  /** Somebody may speak into it: a voice at the desk, to be looked after before a broadcast. */
  spoken: boolean;
}
