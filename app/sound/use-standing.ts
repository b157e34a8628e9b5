import { useMemo } from 'react';
import { standingOf } from '~/core/programme/programme-state';
import type { ChannelRecord } from '~/core/show/records';
import { useDesk, useStudio } from '../studio/studio-context';

export interface ChannelStanding {
  /** Where the fader stands, and whether it is muted, with what was done on air. */
  gainDb: number;
  muted: boolean;
  /** @param done false while a hand still drags */
  setLevel: (gainDb: number, done: boolean) => void;
  setMuted: (muted: boolean) => void;
}

/** How a channel stands in the programme, and how a hand changes that: off air it is the show that is changed. */
export function useStanding(channel: ChannelRecord): ChannelStanding {
  const { control } = useStudio();
  const programme = useDesk((now) => now.programme);
  return useMemo(() => {
    const { gainDb, muted } = standingOf(programme, channel);
    return {
      gainDb,
      muted,
      setLevel: (db, done) => control.level(channel, db, done),
      setMuted: (next) => control.mute(channel, next),
    };
  }, [control, programme, channel]);
}
