import { breakLines } from '../../core/scene/line-breaking';
import type { TextStyle } from '../../core/show/records';
import type { BitmapCache } from './bitmap-cache';
import { familyOf } from './font-families';
import type { DrawContext } from './sources/picture-source';

/** Room between box and words, in parts of the type size. */
const PADDING = 0.4;
const LINE_HEIGHT = 1.25;
function setFont(context: DrawContext, style: TextStyle, sizePx: number, weight = style.weight): void {
  context.font = `${weight} ${sizePx}px ${familyOf(style)}`;
  context.textBaseline = 'alphabetic';
}

export function paintBox(
  context: DrawContext,
  style: TextStyle,
  width: number,
  height: number,
  cornerPx: number,
): void {
  if (style.box === 'none') return;
  context.fillStyle = style.box;
  context.beginPath();
  context.roundRect(0, 0, width, height, cornerPx);
  context.fill();
}

/** One line with its outline and shadow. */
function paintLine(
  context: DrawContext,
  line: string,
  x: number,
  y: number,
  style: TextStyle,
  scale: number,
): void {
  const shadow = style.shadowPx * scale;
  if (shadow > 0) {
    context.shadowColor = '#000000b0';
    context.shadowBlur = shadow;
    context.shadowOffsetY = shadow * 0.35;
  }
  if (style.outlinePx > 0) {
    // Half of the stroke lies under the letter.
    context.lineWidth = style.outlinePx * 2 * scale;
    context.lineJoin = 'round';
    context.strokeStyle = style.outlineColour;
    context.strokeText(line, x, y);
    context.shadowColor = 'transparent';
  }
  context.fillStyle = style.colour;
  context.fillText(line, x, y);
  context.shadowColor = 'transparent';
}

/** Words in a box, wrapped if asked for, centred up and down; made smaller when they would not fit. */
export function paintText(
  context: DrawContext,
  text: string,
  style: TextStyle,
  width: number,
  height: number,
  scale: number,
  cornerPx: number,
): void {
  paintBox(context, style, width, height, cornerPx);
  let size = style.sizePx * scale;
  const pad = style.box === 'none' ? 0 : size * PADDING;
  let lines: string[] = [];
  for (let attempt = 0; attempt < 12; attempt++) {
    setFont(context, style, size);
    lines = style.wrap
      ? breakLines(text, width - 2 * pad, (part) => context.measureText(part).width)
      : text.split('\n');
    const widest = Math.max(...lines.map((line) => context.measureText(line).width));
    if (lines.length * size * LINE_HEIGHT <= height * 1.02 && widest <= width - 2 * pad + 1) break;
    size *= 0.9;
  }
  context.textAlign = style.align;
  const x = style.align === 'left' ? pad : style.align === 'right' ? width - pad : width / 2;
  const top = (height - lines.length * size * LINE_HEIGHT) / 2;
  lines.forEach((line, i) =>
    paintLine(context, line, x, top + (i + 0.78) * size * LINE_HEIGHT, style, scale),
  );
}

/** Longer lines are not kept as a bitmap but written anew for each picture. */
const MAX_TICKER_PX = 8192;

/** The words as one line without end, running to the left by programme time. */
export function paintTicker(
  context: DrawContext,
  bitmaps: BitmapCache,
  text: string,
  style: TextStyle,
  width: number,
  height: number,
  scale: number,
  cornerPx: number,
  now: number,
): void {
  paintBox(context, style, width, height, cornerPx);
  const line = text.replace(/\s*\n\s*/g, '   ').trim();
  if (line === '') return;
  const size = Math.min(style.sizePx * scale, height / LINE_HEIGHT);
  context.save();
  context.beginPath();
  context.roundRect(0, 0, width, height, cornerPx);
  context.clip();
  setFont(context, style, size);
  context.textAlign = 'left';
  const length = Math.ceil(context.measureText(line).width + size * 2.5);
  const y = height / 2 + size * 0.35;
  const offset = (now * style.tickerPxPerSecond * scale) % length;
  if (length <= MAX_TICKER_PX) {
    const tall = Math.ceil(height);
    const bitmap = bitmaps.get(
      `ticker|${length}x${tall}|${size}|${line}|${JSON.stringify(style)}`,
      length,
      tall,
      (c) => {
        setFont(c, style, size);
        c.textAlign = 'left';
        paintLine(c, line, 0, y, style, scale);
      },
    );
    for (let x = -offset; x < width; x += length) context.drawImage(bitmap, x, 0);
  } else for (let x = -offset; x < width; x += length) paintLine(context, line, x, y, style, scale);
  context.restore();
}
