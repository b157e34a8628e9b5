/** When driven programmes begin, ms since 1970: an evening of the demonstration. */
export const DRIVEN_START_MS = Date.UTC(2026, 0, 10, 20, 0, 0);
