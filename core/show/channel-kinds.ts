/** Every kind of channel: another is a file in `channels`, a row here, and its sound in the engine. */
import type { ChannelKind } from './channel-kind';
import { computer } from './channels/computer';
import { effects } from './channels/effects';
import { input } from './channels/input';
import { microphone } from './channels/microphone';
import { music } from './channels/music';
import { simulated } from './channels/simulated';
import { speech } from './channels/speech';
import { tone } from './channels/tone';

export const CHANNEL_KINDS = { microphone, computer, input, music, effects, speech, tone, simulated };

type SourceOf<K> = K extends ChannelKind<infer S> ? S : never;
/** Where a channel takes its sound from. */
export type ChannelSource = {
  [T in keyof typeof CHANNEL_KINDS]: SourceOf<(typeof CHANNEL_KINDS)[T]>;
}[keyof typeof CHANNEL_KINDS];

/** The row of a source's kind. */
export function channelKindOf(source: ChannelSource): { name: string; spoken: boolean } {
  return CHANNEL_KINDS[source.type];
}
