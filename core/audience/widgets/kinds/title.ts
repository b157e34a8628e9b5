/** Titles (lower thirds): two lines in one of six looks, with a way in and a way out. */
import { choice } from '../../../show/shape';
import type { TitleNow } from '../audience-now';
import { lineOf, LINE, type Mark, type Room } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

/** Looks of a title, all of this project. */
export const TITLE_LOOKS = ['plate', 'stack', 'rule', 'tab', 'lamp', 'strata'] as const;
export type TitleLook = (typeof TITLE_LOOKS)[number];

export interface TitleWidget {
  of: 'title';
  look: TitleLook;
}

/** How long a title takes to come, and to leave. */
export const TITLE_IN_MS = 450;
export const TITLE_OUT_MS = 300;

/** How much of it is there, 0…1, and whether it is on its way out; null when nothing is to be seen. */
export function titleShare(
  title: TitleNow | null,
  nowMs: number,
): { share: number; leaving: boolean } | null {
  if (!title || nowMs < title.sinceMs) return null;
  const { sinceMs, untilMs } = title;
  if (untilMs !== null && nowMs >= untilMs) {
    const share = 1 - (nowMs - untilMs) / TITLE_OUT_MS;
    return share <= 0 ? null : { share, leaving: true };
  }
  return { share: Math.min(1, (nowMs - sinceMs) / TITLE_IN_MS), leaving: false };
}

/** Soft at its end, as what comes to rest. */
const settle = (share: number): number => 1 - (1 - share) ** 3;

/** A part of the whole movement as a movement of its own. */
const within = (share: number, from: number, to: number): number =>
  settle(Math.min(1, Math.max(0, (share - from) / (to - from))));

const PANEL = '#14181D';
const byte = (share: number) =>
  Math.round(Math.min(1, Math.max(0, share)) * 255)
    .toString(16)
    .padStart(2, '0');
const faded = (colour: string, share: number): string => `${colour.slice(0, 7)}${byte(share)}`;

/** A dark or a light text, whichever reads better on a colour (WCAG 2.2, relative luminance). */
export function textOn(colour: string): string {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const part = parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b > 0.25 ? '#10161B' : '#F6F3EE';
}

interface Parts {
  room: Room;
  line1: string;
  line2: string;
  share: number;
}

/** What a title looks like at a moment, in its box. */
export function layoutTitle(look: TitleLook, title: TitleNow | null, nowMs: number, room: Room): Mark[] {
  const shown = titleShare(title, nowMs);
  if (!title || !shown) return [];
  const parts = { room, line1: title.line1, line2: title.line2, share: shown.share };
  switch (look) {
    case 'plate':
      return plate(parts);
    case 'stack':
      return stack(parts);
    case 'rule':
      return rule(parts);
    case 'tab':
      return tab(parts);
    case 'lamp':
      return lamp(parts);
    case 'strata':
      return strata(parts);
  }
}

/** Type sizes: the first line as large as asked for and as fits, the second a good half of it. */
function sizes({ room, line2 }: Parts, rows: number): { first: number; second: number } {
  const both = line2 === '' ? 1 : 1.6;
  const first = Math.max(0.1, Math.min(room.style.sizePx * room.scale, room.height / (both * LINE * rows)));
  return { first, second: first * 0.6 };
}

function box(x: number, y: number, width: number, height: number, colour: string, cornerPx = 0): Mark[] {
  return width <= 0.5 || height <= 0.5 ? [] : [{ kind: 'box', x, y, width, height, colour, cornerPx }];
}

/** How wide a line would be, no wider than there is room. */
const widthOf = ({ room }: Parts, text: string, sizePx: number, weight: number, most: number): number =>
  Math.min(most, room.measure(text, sizePx, weight) + 1);

const STRONG = 700;

function plate(parts: Parts): Mark[] {
  const { room, line1, line2, share } = parts;
  const { first, second } = sizes(parts, 1.3);
  const pad = first * 0.5;
  const edge = Math.max(2, first * 0.14);
  const most = room.width - edge - 2 * pad;
  const wide = Math.max(
    widthOf(parts, line1, first, STRONG, most),
    widthOf(parts, line2, second, room.style.weight, most),
  );
  const height = (first + (line2 === '' ? 0 : second)) * LINE + pad;
  const top = room.height - height;
  const grown = within(share, 0.15, 0.85);
  const text = within(share, 0.5, 1);
  const x = edge + pad;
  return [
    ...box(
      0,
      top + (height * (1 - within(share, 0, 0.35))) / 2,
      edge,
      height * within(share, 0, 0.35),
      room.accent,
    ),
    ...box(edge, top, (wide + 2 * pad) * grown, height, faded(PANEL, 0.88)),
    ...lineOf(
      room,
      line1,
      { x, top: top + pad / 2, width: wide, sizePx: first },
      { align: 'left', weight: STRONG, opacity: text },
    ),
    ...(line2 === ''
      ? []
      : lineOf(
          room,
          line2,
          { x, top: top + pad / 2 + first * LINE, width: wide, sizePx: second },
          { align: 'left', colour: room.accent, opacity: text },
        )),
  ];
}

function stack(parts: Parts): Mark[] {
  const { room, line1, line2, share } = parts;
  const { first, second } = sizes(parts, 1.5);
  const pad = first * 0.4;
  const most = room.width - 2 * pad;
  const height1 = first * LINE + pad * 0.6;
  const height2 = line2 === '' ? 0 : second * LINE + pad * 0.5;
  const wide1 = widthOf(parts, line1, first, STRONG, most);
  const wide2 = widthOf(parts, line2, second, STRONG, most);
  const top = room.height - height1 - height2;
  const one = within(share, 0, 0.7);
  const two = within(share, 0.3, 1);
  return [
    ...box(0, top, (wide1 + 2 * pad) * one, height1, faded(PANEL, 0.92)),
    ...lineOf(
      room,
      line1,
      { x: pad, top: top + pad * 0.3, width: wide1, sizePx: first },
      { align: 'left', weight: STRONG, opacity: within(share, 0.4, 0.9) },
    ),
    ...(line2 === ''
      ? []
      : [
          ...box(0, top + height1, (wide2 + 2 * pad) * two, height2, room.accent),
          ...lineOf(
            room,
            line2,
            { x: pad, top: top + height1 + pad * 0.25, width: wide2, sizePx: second },
            { align: 'left', weight: STRONG, colour: textOn(room.accent), opacity: within(share, 0.6, 1) },
          ),
        ]),
  ];
}

function rule(parts: Parts): Mark[] {
  const { room, line1, line2, share } = parts;
  const { first, second } = sizes(parts, 1.25);
  const thick = Math.max(2, first * 0.07);
  const wide = Math.max(
    widthOf(parts, line1, first, STRONG, room.width),
    widthOf(parts, line2, second, room.style.weight, room.width),
  );
  const bottom = line2 === '' ? 0 : second * LINE;
  const middle = room.height - bottom - thick;
  const text = within(share, 0.3, 1);
  const away = (1 - text) * first * 0.4;
  return [
    // Words without a panel need their own ground to be read on any picture.
    ...box(
      0,
      middle - first * LINE,
      wide * within(share, 0, 0.6),
      first * LINE + thick + bottom,
      faded(PANEL, 0.35),
    ),
    ...box(0, middle, wide * within(share, 0, 0.6), thick, room.accent),
    ...lineOf(
      room,
      line1,
      { x: thick * 2, top: middle - first * LINE + away, width: wide, sizePx: first },
      { align: 'left', weight: STRONG, opacity: text },
    ),
    ...(line2 === ''
      ? []
      : lineOf(
          room,
          line2,
          { x: thick * 2, top: middle + thick - away, width: wide, sizePx: second },
          { align: 'left', opacity: text },
        )),
  ];
}

function tab(parts: Parts): Mark[] {
  const { room, line1, line2, share } = parts;
  const { first, second } = sizes(parts, 1.5);
  const pad = first * 0.45;
  const most = room.width - 2 * pad;
  const height1 = first * LINE + pad * 0.6;
  const height2 = line2 === '' ? 0 : second * LINE * 1.1;
  const wide1 = widthOf(parts, line1, first, STRONG, most);
  const wide2 = widthOf(parts, line2, second, STRONG, most);
  const top = room.height - height1;
  const up = within(share, 0.35, 1);
  const corner = Math.min(height1, first * 0.4) / 2;
  return [
    ...(line2 === ''
      ? []
      : [
          ...box(pad * 0.8, top - height2 * up * 0.92, wide2 + pad * 1.2, height2, room.accent, corner),
          ...lineOf(
            room,
            line2,
            { x: pad * 1.4, top: top - height2 * up * 0.92 + second * 0.05, width: wide2, sizePx: second },
            { align: 'left', weight: STRONG, colour: textOn(room.accent), opacity: up },
          ),
        ]),
    ...box(0, top, (wide1 + 2 * pad) * within(share, 0, 0.6), height1, faded(PANEL, 0.95), corner),
    ...lineOf(
      room,
      line1,
      { x: pad, top: top + pad * 0.3, width: wide1, sizePx: first },
      { align: 'left', weight: STRONG, opacity: within(share, 0.35, 0.8) },
    ),
  ];
}

function lamp(parts: Parts): Mark[] {
  const { room, line1, line2, share } = parts;
  const { first, second } = sizes(parts, 1.35);
  const height = (first + (line2 === '' ? 0 : second)) * LINE + first * 0.5;
  const light = Math.min(height * 0.42, first * 0.9);
  const pad = first * 0.5;
  const x = pad + light + pad * 0.8;
  const most = room.width - x - pad;
  const wide = Math.max(
    widthOf(parts, line1, first, STRONG, most),
    widthOf(parts, line2, second, room.style.weight, most),
  );
  const top = room.height - height;
  const grown = within(share, 0.1, 0.75);
  const text = within(share, 0.5, 1);
  const lit = within(share, 0.55, 0.9);
  const y = top + (height - light) / 2;
  return [
    ...box(
      0,
      top,
      Math.max(height * Math.min(1, share * 4), (x + wide + pad) * grown),
      height,
      faded(PANEL, 0.92),
      height / 2,
    ),
    // The lamp is dark until the words stand.
    ...box(pad, y, light, light, faded(room.accent, 0.25 + 0.75 * lit), light / 2),
    ...lineOf(
      room,
      line1,
      { x, top: top + first * 0.25, width: wide, sizePx: first },
      { align: 'left', weight: STRONG, opacity: text },
    ),
    ...(line2 === ''
      ? []
      : lineOf(
          room,
          line2,
          { x, top: top + first * (0.25 + LINE), width: wide, sizePx: second },
          { align: 'left', opacity: text * 0.85 },
        )),
  ];
}

function strata(parts: Parts): Mark[] {
  const { room, line1, line2, share } = parts;
  const { first, second } = sizes(parts, 1.35);
  const pad = first * 0.45;
  const most = room.width - 2 * pad;
  const wide = Math.max(
    widthOf(parts, line1, first, STRONG, most),
    widthOf(parts, line2, second, room.style.weight, most),
  );
  const band = Math.max(2, first * 0.1);
  const height = (first + (line2 === '' ? 0 : second)) * LINE + pad * 0.6;
  const whole = wide + 2 * pad;
  const top = room.height - height - band * 3;
  const text = within(share, 0.45, 1);
  // Three layers come one after the other, each a little shorter than the one above it.
  const layers = [1, 0.82, 0.6].flatMap((part, i) =>
    box(
      0,
      top + height + band * i,
      whole * part * within(share, 0.1 * i, 0.6 + 0.1 * i),
      band,
      faded(room.accent, 1 - i * 0.28),
    ),
  );
  return [
    ...box(0, top, whole * within(share, 0, 0.6), height, faded(PANEL, 0.9)),
    ...layers,
    ...lineOf(
      room,
      line1,
      { x: pad, top: top + pad * 0.3, width: wide, sizePx: first },
      { align: 'left', weight: STRONG, opacity: text },
    ),
    ...(line2 === ''
      ? []
      : lineOf(
          room,
          line2,
          { x: pad, top: top + pad * 0.3 + first * LINE, width: wide, sizePx: second },
          { align: 'left', opacity: text * 0.85 },
        )),
  ];
}

export const title: WidgetKind<TitleWidget> = {
  ...PLAIN_WIDGET,
  name: 'Title',
  start: () => ({ of: 'title', look: 'plate' }),
  shape: { look: choice(TITLE_LOOKS) },
  size: { width: 960, height: 200, sizePx: 64 },
  ...{ boxed: false, ofViewers: false },
  layout: ({ look }, { title: shown, nowMs }, room) => layoutTitle(look, shown, nowMs, room),
  stamp(_, { title: now, nowMs }) {
    const shown = titleShare(now, nowMs);
    if (!now || !shown) return '';
    // Standing still it is one picture; on its way each step is another.
    return `${now.line1}\n${now.line2}/${Math.round(shown.share * 500)}`;
  },
};
