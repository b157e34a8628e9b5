import { create } from 'qrcode';
import { fillFields } from '../../../scene/fields';
import { words } from '../../../show/shape';
import { cleanText } from '../../words';
import type { AudienceNow } from '../audience-now';
import { LINE, lineOf, rowsOf, typeSize, type Mark, type Room } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

export interface QrCodeWidget {
  of: 'qrCode';
  /** What a phone reads: commonly an address; fields of the show are filled in. */
  text: string;
  /** Words below. */
  below: string;
}

/** White around the code, in its own squares (ISO/IEC 18004, quiet zone). */
const QUIET = 4;
const LIGHT = '#FFFFFF';
const DARK = '#10161B';

/** The dark squares of a code, row by row; null when there is too much to say. */
function squaresOf(text: string): { size: number; isDark: (x: number, y: number) => boolean } | null {
  try {
    const { modules } = create(text, { errorCorrectionLevel: 'M' });
    return { size: modules.size, isDark: (x, y) => modules.get(y, x) === 1 };
  } catch {
    // The package throws for just one reason: the text does not fit into the largest code.
    return null;
  }
}

const filled = ({ text }: QrCodeWidget, { fields }: AudienceNow): string => fillFields(text, fields).trim();

function layout(widget: QrCodeWidget, now: AudienceNow, room: Room): Mark[] {
  const text = filled(widget, now);
  if (text === '') return rowsOf(room, [{ text: 'No address yet' }]);
  const code = squaresOf(text);
  if (code === null) return rowsOf(room, [{ text: 'Too long for a code' }]);
  const below = cleanText(fillFields(widget.below, now.fields), 80);
  const sizePx = Math.min(typeSize(room), room.height / 5);
  const line = below === '' ? 0 : sizePx * LINE;
  const squares = code.size + 2 * QUIET;
  const fits = Math.min(room.width, room.height - line) / squares;
  // Whole pixels make sharp edges, which phones read from farther away.
  const step = fits >= 2 ? Math.floor(fits) : fits;
  const side = step * squares;
  const left = (room.width - side) / 2;
  const top = (room.height - line - side) / 2;
  const plain = { kind: 'box', cornerPx: 0 } as const;
  const marks: Mark[] = [{ ...plain, x: left, y: top, width: side, height: side, colour: LIGHT }];
  for (let y = 0; y < code.size; y++)
    for (let x = 0; x < code.size;) {
      const from = x;
      while (x < code.size && code.isDark(x, y)) x += 1;
      // What lies side by side is one box: fewer, and without seams between them.
      if (x > from)
        marks.push({
          ...{ ...plain, colour: DARK, width: (x - from) * step, height: step },
          ...{ x: left + (QUIET + from) * step, y: top + (QUIET + y) * step },
        });
      else x += 1;
    }
  return below === ''
    ? marks
    : [
        ...marks,
        ...lineOf(room, below, { x: 0, top: top + side, width: room.width, sizePx }, { align: 'center' }),
      ];
}

/** A code for the phones of those who watch: where to give, to follow, to sign up. */
export const qrCode: WidgetKind<QrCodeWidget> = {
  ...PLAIN_WIDGET,
  name: 'QR code',
  start: () => ({ of: 'qrCode', text: '', below: '' }),
  shape: { text: words(600), below: words(80) },
  size: { width: 320, height: 360, sizePx: 30 },
  ...{ boxed: false, align: 'center', ofViewers: false },
  layout,
  stamp: (widget, now) => `${filled(widget, now)}\n${fillFields(widget.below, now.fields)}`,
};
