import type { Mark, Measure } from '../../core/audience/widgets/drawing';
import { containRect, type Rect } from '../../core/geometry/rect';
import type { TextStyle } from '../../core/show/records';
import { familyOf } from './font-families';
import type { MarkPictures } from './mark-pictures';
import type { DrawContext, PictureSource } from './sources/picture-source';

/** Widths are asked for again and again: by every line of a roll, for every picture. */
const MAX_WIDTHS = 4000;
const widths = new Map<string, number>();

/** Widths of texts in a font, by the canvas that will paint them. */
export function measureIn(context: DrawContext, style: Pick<TextStyle, 'font' | 'ownFont'>): Measure {
  const family = familyOf(style);
  return (text, sizePx, weight) => {
    // Widths grow with the size: one measure at a size large enough to be exact does for all.
    const key = `${family}|${weight}|${text}`;
    let width = widths.get(key);
    if (width === undefined) {
      context.font = `${weight} 64px ${family}`;
      width = context.measureText(text).width / 64;
      if (widths.size >= MAX_WIDTHS) widths.clear();
      widths.set(key, width);
    }
    return width * sizePx;
  };
}

/** Paints a drawing over (0, 0, width, height), cut off at its edges. */
export function paintMarks(
  context: DrawContext,
  marks: readonly Mark[],
  style: TextStyle,
  width: number,
  height: number,
  scale: number,
  pictures: MarkPictures,
): void {
  context.save();
  context.beginPath();
  context.rect(0, 0, width, height);
  context.clip();
  context.textAlign = 'left';
  context.textBaseline = 'alphabetic';
  const alpha = context.globalAlpha;
  for (const mark of marks)
    switch (mark.kind) {
      case 'box':
        context.fillStyle = mark.colour;
        context.beginPath();
        context.roundRect(mark.x, mark.y, mark.width, mark.height, mark.cornerPx);
        context.fill();
        break;
      case 'emote': {
        const { x, y, size } = mark;
        paintWhole(context, pictures.of(mark.platform, mark.id), { x, y, width: size, height: size });
        break;
      }
      case 'logo':
        paintWhole(context, pictures.logo(mark.assetId), mark);
        break;
      case 'text':
        context.globalAlpha = alpha * mark.opacity;
        context.font = `${mark.weight} ${mark.sizePx}px ${familyOf(style)}`;
        if (style.outlinePx > 0) {
          context.lineWidth = style.outlinePx * 2 * scale;
          context.lineJoin = 'round';
          context.strokeStyle = style.outlineColour;
          context.strokeText(mark.text, mark.x, mark.y);
        }
        context.fillStyle = mark.colour;
        context.fillText(mark.text, mark.x, mark.y);
        context.globalAlpha = alpha;
        break;
    }
  context.restore();
}

/** As large as it fits, in the middle. */
function paintWhole(context: DrawContext, source: PictureSource | null, into: Rect): void {
  if (!source || source.width === 0) return;
  const to = containRect(source, into);
  context.save();
  context.translate(to.x, to.y);
  source.draw(context, { x: 0, y: 0, width: source.width, height: source.height }, to.width, to.height);
  context.restore();
}
