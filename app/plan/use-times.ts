import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import { rundownTimes, type RundownTimes } from '~/core/rundown/rundown';
import type { RundownRecord } from '~/core/show/rundown-records';
import { useDesk, useDocument } from '../studio/studio-context';

/** How a rundown stands, second by second. */
export function useTimes(current: RundownRecord | null): RundownTimes | null {
  // Of a long list they take longer than a hand should be held up for.
  const document = useDeferredValue(useDocument());
  const rundown = useDeferredValue(current);
  const programme = useDesk((now) => now.programme);
  const [nowMs, setNowMs] = useState(Date.now);
  useEffect(() => {
    const timer = setInterval(() => setNowMs(Date.now()), 1000);
    return () => clearInterval(timer);
  }, []);
  return useMemo(
    // A segment that came on a moment ago came on now.
    () =>
      rundown && rundownTimes(document, rundown, programme, Math.max(nowMs, programme.rundown?.sinceMs ?? 0)),
    [document, rundown, programme, nowMs],
  );
}

const CLOCK = new Intl.DateTimeFormat(undefined, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' });

/** `20:05`, in the time of this computer. */
export const clockText = (ms: number): string => CLOCK.format(ms);
