/** Puts a picture behind the opening of a graphic that stands on the frame. */
import { croppedPart } from '../geometry/adjust';
import { containRect, coverCrop, turned, type Point, type Rect, type Size } from '../geometry/rect';
import { grown, type Opening } from '../picture/opening';
import { NO_CROP, type Fit, type Placement } from '../show/records';

/** Where the graphic's whole picture lies in its box: the map from its pixels to the box, before turning and flipping. */
function pictureInBox(
  graphic: Placement,
  picture: Size,
  fit: Fit,
): { x: number; y: number; sx: number; sy: number } {
  const part = croppedPart(picture, graphic.crop);
  const box = { x: 0, y: 0, width: graphic.width, height: graphic.height };
  let from: Rect = part;
  let to: Rect = box;
  if (fit === 'fit') to = containRect(part, box);
  else if (fit === 'fill') {
    const cut = coverCrop(part, box);
    from = { ...cut, x: part.x + cut.x, y: part.y + cut.y };
  }
  const sx = to.width / from.width;
  const sy = to.height / from.height;
  return { x: to.x - from.x * sx, y: to.y - from.y * sy, sx, sy };
}

/** A point of the frame as a point of the graphic's picture, in its pixels. */
export function picturePoint(graphic: Placement, picture: Size, fit: Fit, point: Point): Point {
  const local = turned(point.x - graphic.cx, point.y - graphic.cy, -graphic.rotationDeg);
  const bx = (graphic.flipX ? -local.x : local.x) + graphic.width / 2;
  const by = (graphic.flipY ? -local.y : local.y) + graphic.height / 2;
  const map = pictureInBox(graphic, picture, fit);
  return { x: (bx - map.x) / map.sx, y: (by - map.y) / map.sy };
}

/**
 * The placement of `behind` that fits the opening: box, turn and corner. The picture fills the box ('fill'), so what is
 * over at its sides is cut. One frame pixel more on each side where the graphic covers it, since edges that fall between
 * pixels are drawn half clear.
 *
 * @param picture size of the graphic's picture, in the pixels the opening was found in
 */
export function fitToOpening(
  graphic: Placement,
  picture: Size,
  fit: Fit,
  opening: Opening,
  behind: Placement,
): Placement {
  const map = pictureInBox(graphic, picture, fit);
  const scale = Math.min(map.sx, map.sy);
  const more = Math.min(opening.slackPx, 1 / scale);
  const rect = grown(opening.rect, more);
  const width = rect.width * map.sx;
  const height = rect.height * map.sy;
  let x = map.x + (rect.x + rect.width / 2) * map.sx - graphic.width / 2;
  let y = map.y + (rect.y + rect.height / 2) * map.sy - graphic.height / 2;
  if (graphic.flipX) x = -x;
  if (graphic.flipY) y = -y;
  const centre = turned(x, y, graphic.rotationDeg);
  return {
    ...behind,
    cx: graphic.cx + centre.x,
    cy: graphic.cy + centre.y,
    width,
    height,
    rotationDeg: graphic.rotationDeg,
    crop: NO_CROP,
    cornerPx: opening.cornerPx > 0.5 ? (opening.cornerPx + more) * scale : 0,
  };
}
