/** A number of bytes for people, in units of a thousand: `3.2 MB`. */
export function sizeWords(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  const [value, unit] =
    bytes < 1e6 ? [bytes / 1000, 'kB'] : bytes < 1e9 ? [bytes / 1e6, 'MB'] : [bytes / 1e9, 'GB'];
  return `${value < 10 ? value.toFixed(1) : Math.round(value)} ${unit}`;
}
