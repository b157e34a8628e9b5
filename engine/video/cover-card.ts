import { DEFAULT_TEXT_STYLE } from '../../core/show/records';
import { paintText } from './paint-text';
import type { DrawContext } from './sources/picture-source';

/**
 * Paints picture `n` of the `of` pictures of the cover's loop: the show's name, and a light that breathes.
 * All sizes follow the shorter side, so that it stands well in both shapes.
 */
export function paintCoverCard(context: DrawContext, title: string, n: number, of: number): void {
  const { width, height } = context.canvas;
  const unit = Math.min(width, height);
  const words = (text: string, top: number, tall: number, sizePx: number, weight: number, colour: string) => {
    context.save();
    context.translate(0, top);
    paintText(
      context,
      text,
      {
        ...DEFAULT_TEXT_STYLE,
        font: weight > 600 ? 'Bricolage Grotesque Variable' : 'Hanken Grotesk Variable',
        sizePx,
        weight,
        colour,
        align: 'center',
      },
      width,
      tall,
      1,
      0,
    );
    context.restore();
  };
  context.fillStyle = '#14181D';
  context.fillRect(0, 0, width, height);
  words(title, height / 2 - unit * 0.17, unit * 0.2, unit / 9, 700, '#ECE8E1');
  words('We will be right back', height / 2 + unit * 0.02, unit * 0.14, unit / 20, 500, '#A7AFB7');
  context.fillStyle = '#63BDBB';
  context.globalAlpha = 0.3 + 0.7 * (0.5 - 0.5 * Math.cos((n / of) * Math.PI * 2));
  context.beginPath();
  context.arc(width / 2, height / 2 + unit * 0.24, unit / 70, 0, Math.PI * 2);
  context.fill();
  context.globalAlpha = 1;
}
