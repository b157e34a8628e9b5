import type { ComponentType } from 'react';
import type { ChannelSource } from '~/core/show/channel-kinds';
import type { ChannelRecord } from '~/core/show/records';
import type { Translate } from '../words/words';

export interface ChannelFieldsProps<S> {
  channel: ChannelRecord;
  source: S;
}

/** A line of the menu that adds channels, for kinds that need nothing to be chosen first. */
export interface ChannelOffer {
  words: (t: Translate) => string;
  /** A show has one of them at most. */
  once: boolean;
  make: (t: Translate) => { name: string; source: ChannelSource } & Partial<Omit<ChannelRecord, 'source'>>;
}

/** What Sound has for one kind of channel. */
export interface ChannelPart<S extends ChannelSource = ChannelSource> {
  type: S['type'];
  /** Settings of its own. */
  Fields?: ComponentType<ChannelFieldsProps<S>>;
  offer?: ChannelOffer;
}

/** Each file in `channels` is found by itself, so that another kind touches nothing here. */
const found = import.meta.glob<ChannelPart>('./channels/*.tsx', { eager: true, import: 'part' });
const PARTS = new Map(Object.values(found).map((part) => [part.type, part]));

/** What can be added to a mixer that has these channels. */
export function channelOffers(channels: readonly ChannelRecord[]): ChannelOffer[] {
  return [...PARTS.values()].flatMap(({ type, offer }) =>
    offer && !(offer.once && channels.some(({ source }) => source.type === type)) ? [offer] : [],
  );
}

/** Settings of what a channel takes its sound from. */
export function ChannelSourceFields({ channel }: { channel: ChannelRecord }) {
  const { source } = channel;
  const Fields = PARTS.get(source.type)?.Fields;
  return Fields ? <Fields channel={channel} source={source} /> : null;
}
