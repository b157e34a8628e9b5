export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Size {
  width: number;
  height: number;
}

export interface Point {
  x: number;
  y: number;
}

interface Placed {
  cx: number;
  cy: number;
  width: number;
  height: number;
}

/** Rectangle of a placement before rotation. */
export function rectOfPlacement(p: Placed): Rect {
  return { x: p.cx - p.width / 2, y: p.cy - p.height / 2, width: p.width, height: p.height };
}

export function placementOfRect(r: Rect): Placed {
  return { cx: r.x + r.width / 2, cy: r.y + r.height / 2, width: r.width, height: r.height };
}

/** A size whose longer side is at most `longSide`, in even pixels, as encoders want them; never enlarged. */
export function within({ width, height }: Size, longSide: number): Size {
  const scale = Math.min(1, longSide / Math.max(width, height));
  const even = (value: number) => Math.max(2, 2 * Math.floor((value * scale) / 2 + 1e-6));
  return { width: even(width), height: even(height) };
}

/** Turns a vector by `deg` degrees, clockwise as seen on the screen. */
export function turned(x: number, y: number, deg: number): Point {
  const angle = (deg * Math.PI) / 180;
  const cos = Math.cos(angle);
  const sin = Math.sin(angle);
  return { x: x * cos - y * sin, y: x * sin + y * cos };
}

/** Whether a point lies in a rectangle turned about its centre. */
export function containsPoint(rect: Rect, rotationDeg: number, x: number, y: number): boolean {
  const { x: u, y: v } = turned(x - (rect.x + rect.width / 2), y - (rect.y + rect.height / 2), -rotationDeg);
  return Math.abs(u) <= rect.width / 2 && Math.abs(v) <= rect.height / 2;
}

/** Smallest upright rectangle around a placement, rotation included. */
export function boundsOfPlacement(p: Placed & { rotationDeg: number }): Rect {
  if (p.rotationDeg === 0) return rectOfPlacement(p);
  const angle = (p.rotationDeg * Math.PI) / 180;
  const cos = Math.abs(Math.cos(angle));
  const sin = Math.abs(Math.sin(angle));
  const width = p.width * cos + p.height * sin;
  const height = p.width * sin + p.height * cos;
  return { x: p.cx - width / 2, y: p.cy - height / 2, width, height };
}

/** Smallest rectangle around all of them; null for none. */
export function unionOf(rects: readonly Rect[]): Rect | null {
  if (rects.length === 0) return null;
  const x = Math.min(...rects.map((r) => r.x));
  const y = Math.min(...rects.map((r) => r.y));
  return {
    x,
    y,
    width: Math.max(...rects.map((r) => r.x + r.width)) - x,
    height: Math.max(...rects.map((r) => r.y + r.height)) - y,
  };
}

export function contains(outer: Rect, inner: Rect): boolean {
  const slack = 1e-6;
  return (
    inner.x >= outer.x - slack &&
    inner.y >= outer.y - slack &&
    inner.x + inner.width <= outer.x + outer.width + slack &&
    inner.y + inner.height <= outer.y + outer.height + slack
  );
}

export function intersects(a: Rect, b: Rect): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

/** The part both have; its size is 0 or negative when they have none. */
export function intersection(a: Rect, b: Rect): Rect {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  return {
    x,
    y,
    width: Math.min(a.x + a.width, b.x + b.width) - x,
    height: Math.min(a.y + a.height, b.y + b.height) - y,
  };
}

/** Part of `content` that fills `box` without distortion ('fill'), in content pixels. */
export function coverCrop(content: Size, box: Size): Rect {
  const scale = Math.max(box.width / content.width, box.height / content.height);
  const width = box.width / scale;
  const height = box.height / scale;
  return { x: (content.width - width) / 2, y: (content.height - height) / 2, width, height };
}

/** Largest rectangle of `content`'s shape inside `box`, centred. */
export function containRect(content: Size, box: Rect): Rect {
  const scale = Math.min(box.width / content.width, box.height / content.height);
  const width = content.width * scale;
  const height = content.height * scale;
  return { x: box.x + (box.width - width) / 2, y: box.y + (box.height - height) / 2, width, height };
}
