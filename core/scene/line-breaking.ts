/**
 * Breaks a text into lines: at its own line ends, then between words, and inside words only where one word is too long.
 *
 * @param measure width of a text in pixels
 * @param firstIndent room already taken on the first line
 */
export function breakLines(
  text: string,
  width: number,
  measure: (text: string) => number,
  firstIndent = 0,
): string[] {
  const lines: string[] = [];
  const room = () => (lines.length === 0 ? width - firstIndent : width);
  for (const paragraph of text.split('\n')) {
    let line = '';
    for (const word of paragraph.split(/ +/)) {
      const joined = line === '' ? word : `${line} ${word}`;
      if (measure(joined) <= room()) {
        line = joined;
        continue;
      }
      if (line !== '' || (lines.length === 0 && firstIndent > 0 && measure(word) <= width)) lines.push(line);
      line = word;
      while (measure(line) > room() && line.length > 1) {
        let fits = line.length - 1;
        while (fits > 1 && measure(line.slice(0, fits)) > room()) fits -= 1;
        lines.push(line.slice(0, fits));
        line = line.slice(fits);
      }
    }
    lines.push(line);
  }
  return lines;
}
