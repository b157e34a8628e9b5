/** Sounds that are made in the sound thread, by kind of channel. */
import type { ChannelSource } from '../../core/show/channel-kinds';
import type { SimulatedChannel } from '../../core/show/channels/simulated';
import type { ToneChannel } from '../../core/show/channels/tone';
import { TestTone } from '../../core/sound/test-tone';
import { createSound, type SoundGenerator } from '../../standins/inputs/sounds/generators';

export interface Made {
  generator: SoundGenerator;
  /** Alike on both sides: one voice costs half of two. */
  mono: boolean;
}

const MAKERS: Partial<Record<ChannelSource['type'], (source: never) => Made>> = {
  simulated: ({ sound }: SimulatedChannel) => ({
    generator: createSound(sound),
    mono: sound.startsWith('voice'),
  }),
  tone: (tone: ToneChannel) => ({ generator: new TestTone(tone), mono: !tone.ident }),
};

export const isMade = (source: ChannelSource): boolean => Object.hasOwn(MAKERS, source.type);

/** Null for what comes from elsewhere. */
export function makeSound(source: ChannelSource): Made | null {
  // Each maker takes its own kind, which an index by a union cannot say.
  const make = MAKERS[source.type] as ((source: ChannelSource) => Made) | undefined;
  return make?.(source) ?? null;
}
