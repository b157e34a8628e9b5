import { alertPresence, type RunningAlert } from '../../core/audience/alert-engine';
import { containRect, type Rect } from '../../core/geometry/rect';
import type { AlertMotion, TextStyle } from '../../core/show/records';
import type { DrawContext, PictureSource } from './sources/picture-source';
import { paintText } from './paint-text';

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

/** One alert at a moment, coming, standing or leaving by its rule's motion. */
export function paintAlert(
  context: DrawContext,
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
  paintText(context, words, style, parts.words.width, parts.words.height, scale, cornerPx);
  context.restore();
}
