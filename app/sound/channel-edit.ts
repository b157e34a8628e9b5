import { useMemo } from 'react';
import type { ChannelRecord } from '~/core/show/records';
import type { ChainSettings, Processor } from '~/core/sound/chain/chain-settings';
import { useStudio } from '../studio/studio-context';

export interface ChannelEdit {
  /** One finished change. */
  edit(what: string, part: Partial<ChannelRecord>): void;
  /** While something is being dragged: heard at once, not yet a step. */
  preview(part: Partial<ChannelRecord>): void;
  /** The end of a drag. */
  commit(what: string, part: Partial<ChannelRecord>): void;
}

export function useChannelEdit(channel: ChannelRecord): ChannelEdit {
  const { store } = useStudio();
  return useMemo(
    () => ({
      edit: (what, part) => store.edit(`${what} of ${channel.name}`, [{ ...channel, ...part }]),
      preview: (part) => store.preview([{ ...channel, ...part }]),
      commit: (what, part) => store.edit(`${what} of ${channel.name}`, [{ ...channel, ...part }]),
    }),
    [store, channel],
  );
}

/** The chain with one processor replaced. */
export function withProcessor(chain: ChainSettings, processor: Processor): ChainSettings {
  return { ...chain, processors: chain.processors.map((p) => (p.id === processor.id ? processor : p)) };
}
