import type { ChannelKind } from '../channel-kind';
import { choice } from '../shape';

/** Sounds that ship with the studio. */
export const SIMULATED_SOUNDS = ['voice', 'voice-call', 'night-music', 'switchback', 'sync-clapper'] as const;
export type SimulatedSound = (typeof SIMULATED_SOUNDS)[number];

export interface SimulatedChannel {
  type: 'simulated';
  sound: SimulatedSound;
}

export const simulated: ChannelKind<SimulatedChannel> = {
  name: 'Simulated',
  shape: { sound: choice(SIMULATED_SOUNDS) },
  spoken: true,
};
