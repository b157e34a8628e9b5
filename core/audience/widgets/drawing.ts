/** Drawings as data: what a widget looks like in its box, before anything is painted. Lengths are output pixels. */
import type { TextStyle } from '../../show/record-base';
import { lettersOf } from '../words';

export type Mark =
  | {
      kind: 'text';
      text: string;
      /** Left edge. */
      x: number;
      /** Base line. */
      y: number;
      sizePx: number;
      weight: number;
      colour: string;
      opacity: number;
    }
  | { kind: 'box'; x: number; y: number; width: number; height: number; colour: string; cornerPx: number }
  /** A file of the show, whole within its place. */
  | { kind: 'logo'; assetId: string; x: number; y: number; width: number; height: number }
  | { kind: 'emote'; platform: string; id: string; x: number; y: number; size: number };

/** Width of a text in the widget's font. */
export type Measure = (text: string, sizePx: number, weight: number) => number;

/** The box a widget is laid out in. */
export interface Room {
  width: number;
  height: number;
  style: TextStyle;
  /** Output pixels for one pixel of the style. */
  scale: number;
  accent: string;
  measure: Measure;
}

export const LINE = 1.3;
/** From the top of a line to its base line, in parts of the type size. */
export const BASE = 0.98;

/** Size of the type that is asked for, no larger than one line in the box. */
export function typeSize({ style, scale, height }: Room, lines = 1): number {
  return Math.max(1, Math.min(style.sizePx * scale, height / (LINE * lines)));
}

/** Room between box and words. */
export function padOf(room: Room): number {
  return Math.min(typeSize(room) * 0.5, room.width * 0.1, room.height * 0.2);
}

/** A text made to fit: cut between letters, with `…`; empty when not even that fits. */
export function fitted(
  text: string,
  width: number,
  sizePx: number,
  weight: number,
  measure: Measure,
): string {
  if (measure(text, sizePx, weight) <= width) return text;
  const letters = lettersOf(text);
  let low = 0;
  let high = letters.length;
  // The longest start that fits with its dots.
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (measure(`${letters.slice(0, middle).join('')}…`, sizePx, weight) <= width) low = middle;
    else high = middle - 1;
  }
  if (low > 0) return `${letters.slice(0, low).join('').trimEnd()}…`;
  return measure('…', sizePx, weight) <= width ? '…' : '';
}

/** One line of words in a part of the box, cut to fit, aligned; nothing when nothing fits. */
export function lineOf(
  room: Room,
  text: string,
  at: { x: number; top: number; width: number; sizePx: number },
  look: { weight?: number; colour?: string; align?: TextStyle['align']; opacity?: number } = {},
): Mark[] {
  const {
    weight = room.style.weight,
    colour = room.style.colour,
    align = room.style.align,
    opacity = 1,
  } = look;
  const words = fitted(text, at.width, at.sizePx, weight, room.measure);
  if (words === '') return [];
  const free = at.width - room.measure(words, at.sizePx, weight);
  const x = at.x + (align === 'left' ? 0 : align === 'right' ? free : free / 2);
  return [
    {
      kind: 'text',
      text: words,
      x,
      y: at.top + at.sizePx * BASE,
      sizePx: at.sizePx,
      weight,
      colour,
      opacity,
    },
  ];
}

/** Rows one below the other, as many as fit, in the middle of the box's height. */
export function rowsOf(
  room: Room,
  rows: readonly { text: string; weight?: number; colour?: string; part?: number }[],
): Mark[] {
  const pad = padOf(room);
  const parts = rows.map((row) => row.part ?? 1);
  const sum = parts.reduce((a, b) => a + b, 0);
  const sizePx = Math.max(0.1, Math.min(room.style.sizePx * room.scale, (room.height - pad) / (sum * LINE)));
  let top = (room.height - sum * sizePx * LINE) / 2;
  return rows.flatMap(({ text, weight, colour }, i) => {
    const size = sizePx * parts[i];
    const marks = lineOf(
      room,
      text,
      { x: pad, top, width: room.width - 2 * pad, sizePx: size },
      { ...(weight !== undefined && { weight }), ...(colour !== undefined && { colour }) },
    );
    top += size * LINE;
    return marks;
  });
}
