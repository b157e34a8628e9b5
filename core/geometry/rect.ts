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

/** Rectangle of a placement before rotation. */
export function rectOfPlacement(p: { cx: number; cy: number; width: number; height: number }): Rect {
  return { x: p.cx - p.width / 2, y: p.cy - p.height / 2, width: p.width, height: p.height };
}

export function placementOfRect(r: Rect): { cx: number; cy: number; width: number; height: number } {
  return { cx: r.x + r.width / 2, cy: r.y + r.height / 2, width: r.width, height: r.height };
}

/** Whether a point lies in a rectangle turned about its centre. */
export function containsPoint(rect: Rect, rotationDeg: number, x: number, y: number): boolean {
  const angle = (-rotationDeg * Math.PI) / 180;
  const dx = x - (rect.x + rect.width / 2);
  const dy = y - (rect.y + rect.height / 2);
  const u = dx * Math.cos(angle) - dy * Math.sin(angle);
  const v = dx * Math.sin(angle) + dy * Math.cos(angle);
  return Math.abs(u) <= rect.width / 2 && Math.abs(v) <= rect.height / 2;
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
