/** Bars: how far something has come. */
import { LINE, lineOf, padOf, type Mark, type Room } from './drawing';

const TRACK = '#ffffff2e';

/** A bar that fills from the left. @param share 0…1 */
export function bar(
  x: number,
  y: number,
  width: number,
  height: number,
  share: number,
  colour: string,
): Mark[] {
  const cornerPx = height / 2;
  const marks: Mark[] = [{ kind: 'box', x, y, width, height, colour: TRACK, cornerPx }];
  if (share > 0)
    marks.push({ kind: 'box', x, y, width: Math.max(height, width * share), height, colour, cornerPx });
  return marks;
}

/** A line of words, a bar, and a line below, in the middle of the box. @param share 0…1 */
export function gauge(
  room: Room,
  left: string,
  right: string,
  below: string,
  share: number,
  colour: string,
): Mark[] {
  const pad = padOf(room);
  const rows = below === '' ? 1.85 : 2.75;
  const sizePx = Math.max(0.1, Math.min(room.style.sizePx * room.scale, (room.height - pad) / (rows * LINE)));
  const width = room.width - 2 * pad;
  let top = (room.height - rows * sizePx * LINE) / 2;
  const rightWide = Math.min(width * 0.45, room.measure(right, sizePx, 700) + 1);
  const marks = [
    ...lineOf(
      room,
      left,
      { x: pad, top, width: width - rightWide - sizePx * 0.4, sizePx },
      { align: 'left' },
    ),
    ...lineOf(
      room,
      right,
      { x: pad + width - rightWide, top, width: rightWide, sizePx },
      { align: 'right', weight: 700, colour },
    ),
  ];
  top += sizePx * (LINE + 0.12);
  marks.push(...bar(pad, top, width, sizePx * 0.42, share, colour));
  if (below !== '')
    marks.push(
      ...lineOf(
        room,
        below,
        { x: pad, top: top + sizePx * 0.62, width, sizePx: sizePx * 0.78 },
        { align: 'left', colour: '#A7AFB7' },
      ),
    );
  return marks;
}
