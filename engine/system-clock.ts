import { clockOn } from '../core/time/clock';

/** The real time of this page or worker. */
export const systemClock = clockOn(globalThis);
