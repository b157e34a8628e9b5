/**
 * Finds the transparent openings of a graphic and the round-cornered rectangle that fits behind one: it reaches under
 * the graphic's edge everywhere, so that none of the opening stays empty, and shows nowhere else.
 */
import type { Point, Rect } from '../geometry/rect';

/** Alpha of a picture, row by row, 0 clear … 255 solid. */
export interface AlphaPicture {
  width: number;
  height: number;
  alpha: Uint8Array;
}

export interface Opening {
  /** What must be covered, in picture pixels: the opening with its soft edge. */
  rect: Rect;
  /** Largest corner radius, picture pixels, that still covers every pixel of it, half clear ones too. */
  cornerPx: number;
  /** Clear pixels of the opening, for choosing the largest. */
  area: number;
  /** Pixels that the fitted rectangle would show outside the opening: 0 when it fits exactly. */
  peeking: number;
  /** How far the rectangle may grow on every side, up to MAX_SLACK_PX, before it shows elsewhere. */
  slackPx: number;
}

/** Below this a pixel is an opening; a soft edge fades from here to solid. */
const CLEAR_BELOW = 128;
/** A hole smaller than this share of the picture is a scratch, not an opening. */
const MIN_SHARE = 0.0005;
const MAX_SLACK_PX = 4;

/** Marks of the pixels during the search. */
const UNSEEN = 0;

/**
 * The openings of a graphic, largest first. Clear parts that touch the picture's border are its outside, unless there
 * is nothing else.
 */
export function findOpenings(picture: AlphaPicture): Opening[] {
  const { width, height, alpha } = picture;
  if (width < 1 || height < 1 || alpha.length !== width * height)
    throw new RangeError(`alpha of ${alpha.length} bytes does not fit ${width}×${height}`);
  const marks = new Int32Array(width * height);
  const inside: { mark: number; area: number }[] = [];
  const outside: { mark: number; area: number }[] = [];
  let mark = 0;
  for (let start = 0; start < alpha.length; start++) {
    if (alpha[start] >= CLEAR_BELOW || marks[start] !== UNSEEN) continue;
    mark += 1;
    const { area, touches } = flood(picture, marks, start, mark);
    if (area < width * height * MIN_SHARE) continue;
    (touches ? outside : inside).push({ mark, area });
  }
  const chosen = inside.length > 0 ? inside : outside;
  chosen.sort((a, b) => b.area - a.area);
  return chosen.map((found) => measure(picture, marks, found));
}

/** The opening at a point of the picture, or the largest one when the point lies on none. */
export function openingAt(openings: readonly Opening[], point: Point | null): Opening | null {
  if (point) {
    const on = openings.find(
      ({ rect }) =>
        point.x >= rect.x &&
        point.x < rect.x + rect.width &&
        point.y >= rect.y &&
        point.y < rect.y + rect.height,
    );
    if (on) return on;
  }
  return openings[0] ?? null;
}

/** Marks everything clear that hangs together with `start` by sides. */
function flood(
  { width, height, alpha }: AlphaPicture,
  marks: Int32Array,
  start: number,
  mark: number,
): { area: number; touches: boolean } {
  const open = [start];
  marks[start] = mark;
  let area = 0;
  let touches = false;
  const visit = (at: number) => {
    if (alpha[at] >= CLEAR_BELOW || marks[at] !== UNSEEN) return;
    marks[at] = mark;
    open.push(at);
  };
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    area += 1;
    const x = at % width;
    const y = (at - x) / width;
    if (x === 0 || y === 0 || x === width - 1 || y === height - 1) touches = true;
    if (x > 0) visit(at - 1);
    if (x < width - 1) visit(at + 1);
    if (y > 0) visit(at - width);
    if (y < height - 1) visit(at + width);
  }
  return { area, touches };
}

/** The opening grown over its soft edge: outward through pixels that are not solid, while they get more so. */
function needed(picture: AlphaPicture, marks: Int32Array, mark: number): Uint8Array {
  const { width, height, alpha } = picture;
  const need = new Uint8Array(width * height);
  const open: number[] = [];
  for (let at = 0; at < marks.length; at++)
    if (marks[at] === mark) {
      need[at] = 1;
      open.push(at);
    }
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    const x = at % width;
    const y = (at - x) / width;
    const visit = (next: number) => {
      if (need[next] || alpha[next] === 255 || marks[next] !== UNSEEN || alpha[next] < alpha[at]) return;
      need[next] = 1;
      open.push(next);
    };
    if (x > 0) visit(at - 1);
    if (x < width - 1) visit(at + 1);
    if (y > 0) visit(at - width);
    if (y < height - 1) visit(at + width);
  }
  return need;
}

function measure(picture: AlphaPicture, marks: Int32Array, found: { mark: number; area: number }): Opening {
  const { width, height } = picture;
  const need = needed(picture, marks, found.mark);
  let [left, top, right, bottom] = [width, height, 0, 0];
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++)
      if (need[at]) {
        left = Math.min(left, x);
        top = Math.min(top, y);
        right = Math.max(right, x + 1);
        bottom = Math.max(bottom, y + 1);
      }
  const rect = { x: left, y: top, width: right - left, height: bottom - top };
  const whole = fitted(picture, need, rect, wholly, touched);
  // A border too thin for whole pixels is judged by their middles.
  const fit = whole.peeking === 0 ? whole : fitted(picture, need, rect, middle, middle);
  return { rect, area: found.area, ...fit };
}

/** A way to say whether a rounded rectangle has a pixel. */
type Covers = (rect: Rect, r: number, x: number, y: number) => boolean;

function fitted(
  picture: AlphaPicture,
  need: Uint8Array,
  rect: Rect,
  covers: Covers,
  shows: Covers,
): Pick<Opening, 'cornerPx' | 'peeking' | 'slackPx'> {
  const cornerPx = largestCorner(need, picture.width, rect, covers);
  const peeking = shownElsewhere(picture, need, rect, cornerPx, shows);
  let slackPx = 0;
  while (
    peeking === 0 &&
    slackPx < MAX_SLACK_PX &&
    shownElsewhere(picture, need, grown(rect, slackPx + 1), cornerPx + slackPx + 1, shows) === 0
  )
    slackPx += 1;
  return { cornerPx, peeking, slackPx };
}

export function grown(rect: Rect, by: number): Rect {
  return { x: rect.x - by, y: rect.y - by, width: rect.width + 2 * by, height: rect.height + 2 * by };
}

function inRounded(rect: Rect, r: number, x: number, y: number): boolean {
  const dx = Math.max(rect.x + r - x, x - (rect.x + rect.width - r), 0);
  const dy = Math.max(rect.y + r - y, y - (rect.y + rect.height - r), 0);
  return dx === 0 || dy === 0 || dx * dx + dy * dy <= r * r + 1e-9;
}

/** By halving: a smaller radius covers more. A quarter of a pixel is fine enough. */
function largestCorner(need: Uint8Array, width: number, rect: Rect, has: Covers): number {
  const edge: [number, number][] = [];
  // In each row only the first and last needed pixel can lie in a corner.
  for (let y = rect.y; y < rect.y + rect.height; y++) {
    let first = -1;
    let last = -1;
    for (let x = rect.x; x < rect.x + rect.width; x++)
      if (need[y * width + x]) {
        if (first < 0) first = x;
        last = x;
      }
    if (first >= 0) edge.push([first, y], [last, y]);
  }
  const covers = (r: number) => edge.every(([x, y]) => has(rect, r, x, y));
  let low = 0;
  let high = Math.min(rect.width, rect.height) / 2;
  if (covers(high)) return high;
  while (high - low > 0.25) {
    const middle = (low + high) / 2;
    if (covers(middle)) low = middle;
    else high = middle;
  }
  return low;
}

/** Whether all of a pixel is covered: its corner that is farthest out decides, since it may be shown much enlarged. */
function wholly(rect: Rect, r: number, x: number, y: number): boolean {
  const px = x + 0.5 < rect.x + rect.width / 2 ? x : x + 1;
  const py = y + 0.5 < rect.y + rect.height / 2 ? y : y + 1;
  return inRounded(rect, r, px, py);
}

/** Whether any of a pixel is covered. */
function touched(rect: Rect, r: number, x: number, y: number): boolean {
  const px = x + 0.5 < rect.x + rect.width / 2 ? x + 0.999 : x + 0.001;
  const py = y + 0.5 < rect.y + rect.height / 2 ? y + 0.999 : y + 0.001;
  return inRounded(rect, r, px, py);
}

function middle(rect: Rect, r: number, x: number, y: number): boolean {
  return inRounded(rect, r, x + 0.5, y + 0.5);
}

/** Pixels of the rounded rectangle where the graphic is not solid and which do not belong to the opening. */
function shownElsewhere(
  { width, height, alpha }: AlphaPicture,
  need: Uint8Array,
  rect: Rect,
  r: number,
  shows: Covers,
): number {
  let count = 0;
  for (let y = rect.y; y < rect.y + rect.height; y++)
    for (let x = rect.x; x < rect.x + rect.width; x++) {
      if (x < 0 || y < 0 || x >= width || y >= height) {
        if (shows(rect, r, x, y)) count += 1;
        continue;
      }
      const at = y * width + x;
      if (!need[at] && alpha[at] < 255 && shows(rect, r, x, y)) count += 1;
    }
  return count;
}
