/** How one whole picture changes over into another: what to draw of each, computed from the share that is done. */
import type { Rect, Size } from '../geometry/rect';
import type { Transition } from '../show/motion-records';
import { mixNumber } from './mix';

export interface PictureChange {
  /** Where the picture that goes is drawn; null: it stays where it is. */
  outgoing: Rect | null;
  /** Where the picture that comes is drawn, and how much of it is seen; null: it is not seen yet. */
  incoming: { rect: Rect; opacity: number; clip: Rect | null } | null;
  /** A colour over both. */
  veil: { colour: string; opacity: number } | null;
}

/** How small a picture is that comes by a zoom. */
const ZOOM_FROM = 0.7;

/**
 * @param share 0…1 of the change, after its timing function
 * @param size of both pictures, pixels
 */
export function pictureChange(
  { type, side, colour, seconds, stinger }: Omit<Transition, 'easing'>,
  share: number,
  { width, height }: Size,
): PictureChange {
  const whole: Rect = { x: 0, y: 0, width, height };
  const nothing = { outgoing: null, incoming: null, veil: null };
  if (share <= 0) return nothing;
  const all = { rect: whole, opacity: 1, clip: null };
  if (share >= 1) return { ...nothing, incoming: all };
  switch (type) {
    case 'stinger':
      // The clip over it is drawn by itself.
      if (stinger) return { ...nothing, incoming: share * seconds >= stinger.coverSeconds ? all : null };
      return { ...nothing, incoming: { ...all, opacity: share } };
    case 'cut':
    case 'carry':
    case 'fade':
      return { ...nothing, incoming: { ...all, opacity: share } };
    case 'dip':
      return {
        outgoing: null,
        incoming: share < 0.5 ? null : all,
        veil: { colour, opacity: 1 - Math.abs(2 * share - 1) },
      };
    case 'wipe': {
      const across = side === 'left' || side === 'right';
      const done = share * (across ? width : height);
      const clip: Record<typeof side, Rect> = {
        left: { ...whole, width: done },
        right: { ...whole, x: width - done, width: done },
        top: { ...whole, height: done },
        bottom: { ...whole, y: height - done, height: done },
      };
      return { ...nothing, incoming: { ...all, clip: clip[side] } };
    }
    case 'slide': {
      const [dx, dy] = { left: [-1, 0], right: [1, 0], top: [0, -1], bottom: [0, 1] }[side];
      const at = (by: number): Rect => ({
        ...whole,
        x: Math.round(dx * by * width),
        y: Math.round(dy * by * height),
      });
      return { outgoing: at(-share), incoming: { ...all, rect: at(1 - share) }, veil: null };
    }
    case 'zoom': {
      const scale = mixNumber(ZOOM_FROM, 1, share);
      const rect = {
        x: ((1 - scale) * width) / 2,
        y: ((1 - scale) * height) / 2,
        width: width * scale,
        height: height * scale,
      };
      return { ...nothing, incoming: { rect, opacity: share, clip: null } };
    }
  }
}
