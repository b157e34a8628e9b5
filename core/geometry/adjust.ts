/** An input's own adjustment: cropped, turned by quarters, then mirrored, once for every layer that shows it. */
import type { Crop, InputRecord } from '../show/records';
import type { Rect, Size } from './rect';

export type Adjustment = Pick<InputRecord, 'crop' | 'turnDeg' | 'mirrored'>;

/** Size of a picture after its adjustment; at least one pixel each way. */
export function adjustedSize(size: Size, { crop, turnDeg }: Adjustment): Size {
  const width = Math.max(1, size.width * (1 - crop.left - crop.right));
  const height = Math.max(1, size.height * (1 - crop.top - crop.bottom));
  return turnDeg % 180 === 0 ? { width, height } : { width: height, height: width };
}

/** The part of a source's own picture that shows as `part` of the adjusted one. Pixels. */
export function sourcePart(size: Size, adjustment: Adjustment, part: Rect): Rect {
  const { crop, turnDeg, mirrored } = adjustment;
  const after = adjustedSize(size, adjustment);
  const before = turnDeg % 180 === 0 ? after : { width: after.height, height: after.width };
  const x = mirrored ? after.width - part.x - part.width : part.x;
  const { y } = part;
  const inner = ((): Rect => {
    switch (turnDeg) {
      case 0:
        return { x, y, width: part.width, height: part.height };
      case 90:
        return { x: y, y: before.height - x - part.width, width: part.height, height: part.width };
      case 180:
        return {
          x: before.width - x - part.width,
          y: before.height - y - part.height,
          width: part.width,
          height: part.height,
        };
      case 270:
        return { x: before.width - y - part.height, y: x, width: part.height, height: part.width };
    }
  })();
  return { ...inner, x: inner.x + size.width * crop.left, y: inner.y + size.height * crop.top };
}

/** Part of a picture that is left after a crop, in its pixels; at least one pixel each way. */
export function croppedPart(size: Size, crop: Crop): Rect {
  return {
    x: size.width * crop.left,
    y: size.height * crop.top,
    width: Math.max(1, size.width * (1 - crop.left - crop.right)),
    height: Math.max(1, size.height * (1 - crop.top - crop.bottom)),
  };
}
