import { clockOn } from '../core/time/clock';

/** The real time of this process. */
export const systemClock = clockOn(globalThis);
