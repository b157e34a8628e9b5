import { useEffect, useState } from 'react';
import type { ProgrammeReading, StripReading } from '~/protocol/shared-sound';
import { useStudio } from '../studio/studio-context';

/** Figures are read a few times a second: faster they cannot be read. */
const EVERY_MS = 200;

/** What `read` gives, again and again. It must be stable. */
function useRepeated<T>(read: () => T): T {
  const [value, setValue] = useState(read);
  useEffect(() => {
    setValue(read());
    const timer = setInterval(() => setValue(read()), EVERY_MS);
    return () => clearInterval(timer);
  }, [read]);
  return value;
}

export function useProgramme(): ProgrammeReading {
  const { desk } = useStudio();
  const [read] = useState(() => () => desk.readProgramme());
  return useRepeated(read);
}

export function useStrip(channelId: string): StripReading | null {
  const { desk } = useStudio();
  const [reading, setReading] = useState(() => desk.readMeter(channelId));
  useEffect(() => {
    const timer = setInterval(() => setReading(desk.readMeter(channelId)), EVERY_MS);
    return () => clearInterval(timer);
  }, [desk, channelId]);
  return reading;
}

export function levelText(value: number, unit: string): string {
  return Number.isFinite(value) && value > -99
    ? `${value.toFixed(1).replace('-', '−')} ${unit}`
    : `— ${unit}`;
}
