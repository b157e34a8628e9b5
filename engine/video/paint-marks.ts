import type { Mark, Measure } from '../../core/audience/widgets/drawing';
import type { TextStyle } from '../../core/show/records';
import type { EmotePictures } from './emote-pictures';
import type { DrawContext } from './sources/picture-source';

/** Widths are asked for again and again: by every line of a roll, for every picture. */
const MAX_WIDTHS = 4000;
const widths = new Map<string, number>();

/** Widths of texts in a font, by the canvas that will paint them. */
export function measureIn(context: DrawContext, { font }: Pick<TextStyle, 'font'>): Measure {
  return (text, sizePx, weight) => {
    // Widths grow with the size: one measure at a size large enough to be exact does for all.
    const key = `${font}|${weight}|${text}`;
    let width = widths.get(key);
    if (width === undefined) {
      context.font = `${weight} 64px "${font}", sans-serif`;
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
  emotes: EmotePictures,
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
        const source = emotes.of(mark.platform, mark.id);
        if (!source || source.width === 0) break;
        context.save();
        context.translate(mark.x, mark.y);
        const fit = Math.min(mark.size / source.width, mark.size / source.height);
        context.translate((mark.size - source.width * fit) / 2, (mark.size - source.height * fit) / 2);
        source.draw(
          context,
          { x: 0, y: 0, width: source.width, height: source.height },
          source.width * fit,
          source.height * fit,
        );
        context.restore();
        break;
      }
      case 'text':
        context.globalAlpha = alpha * mark.opacity;
        context.font = `${mark.weight} ${mark.sizePx}px "${style.font}", sans-serif`;
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
