import { fontFamily } from '../../core/show/fonts';
import type { TextStyle } from '../../core/show/records';

/** Files whose fonts this thread can draw with: its fonts are everybody's here. */
export const fontsThere = new Set<string>();

/** What a canvas of this thread writes a text with. */
export const familyOf = (style: Pick<TextStyle, 'font' | 'ownFont'>): string =>
  fontFamily(style, (assetId) => fontsThere.has(assetId));
