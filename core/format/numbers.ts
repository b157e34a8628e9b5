/** A number as people read it: with a minus (U+2212), which is as wide as a plus, in place of a hyphen. */
export const withMinus = (number: string): string => number.replace(/^-/, '−');
