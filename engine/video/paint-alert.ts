import { alertPresence, type RunningAlert } from '../../core/audience/alert-engine';
import { containRect, type Rect, type Size } from '../../core/geometry/rect';
import type { AlertMotion } from '../../core/show/audience-records';
import type { TextStyle } from '../../core/show/records';
import type { BitmapCache } from './bitmap-cache';
import { paintText } from './paint-text';
import type { DrawContext, PictureSource } from './sources/picture-source';

/** How much of the box the picture takes, where it stands beside or above the words. */
const PICTURE_SHARE = 0.5;
/** An alert that counts one more swells and settles within half a second. */
const SWELL = 0.12;

/** Where words and picture go in the box. */
export function alertParts(
  layout: RunningAlert['rule']['layout'],
  hasPicture: boolean,
  width: number,
  height: number,
): { words: Rect; picture: Rect } {
  const whole = { x: 0, y: 0, width, height };
  if (!hasPicture || layout === 'behind') return { words: whole, picture: whole };
  if (layout === 'above') {
    const tall = height * PICTURE_SHARE;
    return {
      picture: { ...whole, height: tall },
      words: { ...whole, y: tall, height: height - tall },
    };
  }
  const wide = Math.min(width * PICTURE_SHARE, height);
  return { picture: { ...whole, width: wide }, words: { ...whole, x: wide, width: width - wide } };
}

function move(context: DrawContext, motion: AlertMotion, away: number, width: number, height: number): void {
  switch (motion) {
    case 'drop':
      context.translate(0, -away * height * 0.6);
      break;
    case 'rise':
      context.translate(0, away * height * 0.6);
      break;
    case 'slide':
      context.translate(-away * width * 0.4, 0);
      break;
    case 'zoom': {
      const scale = Math.max(0.01, 1 - away);
      context.translate((width * (1 - scale)) / 2, (height * (1 - scale)) / 2);
      context.scale(scale, scale);
      break;
    }
    case 'fade':
      break;
  }
}

/** The words, painted once for as long as they are the same: to find their size and shadow takes longer than the rest. */
function paintWords(
  context: DrawContext,
  bitmaps: BitmapCache,
  words: string,
  style: TextStyle,
  width: number,
  height: number,
  scale: number,
  cornerPx: number,
): void {
  // Shadow and outline reach over the edge where there is no box around the words.
  const margin = Math.ceil((2 * style.shadowPx + style.outlinePx) * scale);
  // One for each size it is shown in: in a flood the words count up, and none of them comes again.
  const bitmap = bitmaps.latest(
    `alert|${scale}|${cornerPx}`,
    `${width}x${height}|${words}|${JSON.stringify(style)}`,
    Math.ceil(width) + 2 * margin,
    Math.ceil(height) + 2 * margin,
    (inner) => {
      inner.translate(margin, margin);
      paintText(inner, words, style, width, height, scale, cornerPx);
    },
  );
  context.drawImage(bitmap, -margin, -margin);
}

/** One alert at a moment, coming, standing or leaving by its rule's motion. */
export function paintAlert(
  context: DrawContext,
  bitmaps: BitmapCache,
  alert: RunningAlert,
  words: string,
  picture: PictureSource | null,
  now: number,
  ownStyle: TextStyle,
  width: number,
  height: number,
  scale: number,
  cornerPx: number,
): void {
  const { rule, countedAt, startedAt } = alert;
  const style = rule.style ?? ownStyle;
  const { share, leaving } = alertPresence(alert, now);
  context.save();
  context.globalAlpha *= share;
  move(context, leaving ? rule.motionOut : rule.motionIn, 1 - share, width, height);
  if (countedAt > startedAt) {
    const swell = 1 + SWELL * Math.exp(-(now - countedAt) * 7);
    context.translate((width * (1 - swell)) / 2, (height * (1 - swell)) / 2);
    context.scale(swell, swell);
  }
  const ready = picture !== null && picture.state === 'ready' && picture.width > 0;
  const parts = alertParts(rule.layout, ready, width, height);
  if (ready) {
    const to = containRect(picture, parts.picture);
    context.save();
    context.translate(to.x, to.y);
    picture.draw(context, { x: 0, y: 0, width: picture.width, height: picture.height }, to.width, to.height);
    context.restore();
  }
  context.translate(parts.words.x, parts.words.y);
  paintWords(context, bitmaps, words, style, parts.words.width, parts.words.height, scale, cornerPx);
  context.restore();
}

/** An alert shown to the host alone. */
export interface AlertPreview {
  alert: RunningAlert;
  words: string;
  picture: PictureSource | null;
  /** Look and size of the layer it would stand in, frame pixels. */
  style: TextStyle;
  box: Size;
  cornerPx: number;
}

/** The alert in the middle of a plain ground, as large as it fits. */
export function paintAlertPreview(
  context: DrawContext,
  bitmaps: BitmapCache,
  preview: AlertPreview | null,
  now: number,
  width: number,
  height: number,
): void {
  context.globalAlpha = 1;
  context.fillStyle = '#2B3440';
  context.fillRect(0, 0, width, height);
  if (!preview) return;
  const { alert, words, picture, style, box, cornerPx } = preview;
  // Room around it: it comes from outside its box.
  const scale = Math.min((width * 0.92) / box.width, (height * 0.8) / box.height);
  context.save();
  context.translate((width - box.width * scale) / 2, (height - box.height * scale) / 2);
  paintAlert(
    context,
    bitmaps,
    alert,
    words,
    picture,
    now,
    style,
    box.width * scale,
    box.height * scale,
    scale,
    cornerPx * scale,
  );
  context.restore();
}
