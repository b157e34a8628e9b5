import { withMinus } from '~/core/format/numbers';
import { useEffect, useRef, useState } from 'react';
import type { ProgrammeReading, StripReading } from '~/protocol/shared-sound';
import { useStudio } from '../studio/studio-context';

/** Figures are read a few times a second: faster they cannot be read. */
const EVERY_MS = 200;

/**
 * What `read` gives, again and again: a text, a number, or a list or object of such, as it is shown. What uses it is drawn
 * anew only when that has become something else.
 */
export function useShown<T>(read: () => T): T {
  const latest = useRef(read);
  latest.current = read;
  const value = read();
  const [, draw] = useState(() => JSON.stringify(value));
  useEffect(() => {
    const timer = setInterval(() => draw(JSON.stringify(latest.current())), EVERY_MS);
    return () => clearInterval(timer);
  }, []);
  return value;
}

/** What `shown` makes of the programme's reading. */
export function useProgramme<T>(shown: (reading: ProgrammeReading) => T): T {
  const { desk } = useStudio();
  return useShown(() => shown(desk.readProgramme()));
}

/** What `shown` makes of a channel's reading; null while it has none. */
export function useStrip<T>(channelId: string, shown: (reading: StripReading | null) => T): T {
  const { desk } = useStudio();
  return useShown(() => shown(desk.readMeter(channelId)));
}

export function levelText(value: number, unit: string): string {
  return Number.isFinite(value) && value > -99 ? `${withMinus(value.toFixed(1))} ${unit}` : `— ${unit}`;
}
