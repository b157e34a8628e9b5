/** A moment with its year: what stands here may be a year old. */
export const WHEN = new Intl.DateTimeFormat('en', { dateStyle: 'medium', timeStyle: 'short' });
export const DAY = new Intl.DateTimeFormat('en', { dateStyle: 'medium' });
export const NUMBER = new Intl.NumberFormat('en');
