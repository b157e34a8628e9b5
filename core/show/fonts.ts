/** What words are written with: families that come with the studio, and font files that were brought into the show. */
import type { AnyRecord, TextStyle } from './records';

/** As the engine names the face of a font that was brought in. */
export const ownFamily = (assetId: string): string => `own-${assetId}`;

/**
 * For a canvas: the font that was brought in before the shipped one, which stands in until it is there.
 *
 * @param isThere whether the font of a file can be drawn with
 */
export function fontFamily(
  { font, ownFont }: Pick<TextStyle, 'font' | 'ownFont'>,
  isThere: (assetId: string) => boolean,
): string {
  // A name that a canvas has looked for in vain it may not look for again: it is not said before there is something.
  const own = ownFont && isThere(ownFont.assetId) ? `"${ownFamily(ownFont.assetId)}", ` : '';
  return `${own}"${font}", sans-serif`;
}

/** How every text of a record looks. */
function stylesOf(record: AnyRecord): (TextStyle | null)[] {
  if (record.kind === 'alertRule') return [record.style];
  if (record.kind !== 'layer') return [];
  const { content } = record;
  return 'style' in content ? [content.style] : [];
}

/** Fonts that texts of these records are written with, by the id of their file. */
export function ownFontsIn(records: Iterable<AnyRecord>): Map<string, string> {
  const found = new Map<string, string>();
  for (const record of records)
    for (const style of stylesOf(record))
      if (style?.ownFont) found.set(style.ownFont.assetId, style.ownFont.name);
  return found;
}
