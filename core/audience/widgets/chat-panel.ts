/** Chat in a box: re-flows to any size, and nothing leaves it. */
import type { ShownMessage } from '../chat-filter';
import type { Badge } from '../events';
import { lettersOf } from '../words';
import { BASE, fitted, LINE, type Mark, type Room } from './drawing';
import type { ChatPanelSettings } from './chat-settings';

/** Names without a colour of their own get one of these: readable on the panel's dark box. */
const NAME_COLOURS = ['#63BDBB', '#E2AE45', '#E39A88', '#83B168', '#A7C7E0', '#B7A6E0'] as const;
const CARD = '#252C35E0';
/** Room between two messages, in parts of the type size. */
const GAP: Record<ChatPanelSettings['theme'], number> = { plain: 0.35, cards: 0.5, lines: 0.1 };
/** A message of more lines is cut: one writer must not fill the panel. */
const MAX_LINES = 6;
const EMOTE = 1.25;

const BADGE_SIGNS: Record<Badge, { sign: string; colour: string }> = {
  host: { sign: '◆', colour: '#F0633F' },
  moderator: { sign: '▲', colour: '#63BDBB' },
  member: { sign: '●', colour: '#83B168' },
  subscriber: { sign: '★', colour: '#E2AE45' },
  supporter: { sign: '♥', colour: '#E39A88' },
};

export function nameColour({ colour, name }: Pick<ShownMessage, 'colour' | 'name'>): string {
  if (colour) return colour;
  let hash = 0;
  for (let i = 0; i < name.length; i++) hash = (hash * 31 + name.charCodeAt(i)) >>> 0;
  return NAME_COLOURS[hash % NAME_COLOURS.length];
}

/** A piece that stays on one line. */
type Piece =
  | { text: string; weight: number; colour: string; width: number; space: boolean }
  | { emote: string; width: number; space: boolean };

/** Breaks pieces into lines of at most `width`. A word longer than a line is broken between letters. */
export function flow(pieces: readonly Piece[], width: number, sizePx: number, room: Room): Piece[][] {
  const lines: Piece[][] = [[]];
  let used = 0;
  const put = (piece: Piece, gap: number) => {
    lines[lines.length - 1].push(gap > 0 ? { ...piece, space: true } : { ...piece, space: false });
    used += gap + piece.width;
  };
  for (const piece of pieces) {
    const line = lines[lines.length - 1];
    const gap = piece.space && line.length > 0 ? room.measure(' ', sizePx, room.style.weight) : 0;
    if (used + gap + piece.width <= width) {
      put(piece, gap);
      continue;
    }
    if (line.length > 0) {
      lines.push([]);
      used = 0;
    }
    if (piece.width <= width) {
      put(piece, 0);
      continue;
    }
    if (!('text' in piece)) continue;
    let rest = lettersOf(piece.text);
    while (rest.length > 0) {
      let fits = 0;
      let wide = 0;
      while (fits < rest.length) {
        const next = room.measure(rest.slice(0, fits + 1).join(''), sizePx, piece.weight);
        if (next > width) break;
        wide = next;
        fits += 1;
      }
      // Not even one letter fits: the box is narrower than its type.
      if (fits === 0) break;
      put({ ...piece, text: rest.slice(0, fits).join(''), width: wide }, 0);
      rest = rest.slice(fits);
      if (rest.length > 0) {
        lines.push([]);
        used = 0;
      }
    }
  }
  return lines;
}

function piecesOf(
  message: ShownMessage,
  settings: ChatPanelSettings,
  sizePx: number,
  width: number,
  room: Room,
): Piece[] {
  const { measure, style } = room;
  const word = (text: string, weight: number, colour: string, space = true): Piece => ({
    text,
    weight,
    colour,
    width: measure(text, sizePx, weight),
    space,
  });
  const pieces: Piece[] = [];
  if (settings.platforms) pieces.push(word(message.platform, style.weight, '#A7AFB7'));
  if (settings.badges)
    for (const badge of message.badges.slice(0, 3)) {
      const { sign, colour } = BADGE_SIGNS[badge];
      pieces.push(word(sign, 700, colour));
    }
  const name = fitted(message.name, width * 0.7, sizePx, 700, measure);
  pieces.push(word(name, 700, nameColour(message)));
  for (const token of message.tokens) {
    if ('emote' in token) {
      if (settings.emotes) pieces.push({ emote: token.emote, width: sizePx * EMOTE, space: true });
      else pieces.push(word(token.emote, style.weight, style.colour));
      continue;
    }
    const starts = /^\s/.test(token.text);
    token.text
      .trim()
      .split(' ')
      .forEach((text, i) => {
        if (text !== '')
          pieces.push(
            word(
              text,
              token.mention ? 700 : style.weight,
              token.mention ? room.accent : style.colour,
              i > 0 || starts || pieces.length > 0,
            ),
          );
      });
  }
  return pieces;
}

/** One line of pieces from `x` on; `top` is its upper edge. */
function marksOfLine(
  line: readonly Piece[],
  platform: string,
  left: number,
  top: number,
  sizePx: number,
  room: Room,
): Mark[] {
  let x = left;
  return line.map((piece): Mark => {
    if (piece.space) x += room.measure(' ', sizePx, room.style.weight);
    const at = x;
    x += piece.width;
    if ('text' in piece) {
      const { text, weight, colour } = piece;
      return { kind: 'text', text, x: at, y: top + sizePx * BASE, sizePx, weight, colour, opacity: 1 };
    }
    const size = sizePx * EMOTE;
    return { kind: 'emote', platform, id: piece.emote, x: at, y: top + (sizePx * LINE - size) / 2, size };
  });
}

/** @param messages those to be seen, oldest first */
export function layoutChat(
  messages: readonly ShownMessage[],
  settings: ChatPanelSettings,
  room: Room,
): Mark[] {
  const sizePx = Math.max(
    1,
    Math.min(room.style.sizePx * room.scale, room.height / (LINE * 1.4), room.width / 3),
  );
  const pad = Math.min(sizePx * 0.6, room.width * 0.08);
  const step = sizePx * LINE;
  const card = settings.theme === 'cards' ? sizePx * 0.4 : 0;
  const width = room.width - 2 * pad - 2 * card;
  const marks: Mark[] = [];
  const up = settings.direction === 'up';
  let edge = up ? room.height - pad * 0.6 : pad * 0.6;
  for (let i = messages.length - 1; i >= 0; i--) {
    const message = messages[i];
    const lines = flow(piecesOf(message, settings, sizePx, width, room), width, sizePx, room).slice(
      0,
      MAX_LINES,
    );
    const tall = lines.length * step + 2 * card;
    const top = up ? edge - tall : edge;
    if (top < 0 || top + tall > room.height) break;
    if (settings.theme === 'cards')
      marks.push({
        kind: 'box',
        x: pad,
        y: top,
        width: room.width - 2 * pad,
        height: tall,
        colour: CARD,
        cornerPx: sizePx * 0.4,
      });
    if (settings.theme === 'lines' && i < messages.length - 1 && up)
      marks.push({
        kind: 'box',
        x: pad,
        y: top + tall,
        width: room.width - 2 * pad,
        height: Math.max(1, sizePx / 24),
        colour: '#ffffff30',
        cornerPx: 0,
      });
    lines.forEach((line, n) =>
      marks.push(...marksOfLine(line, message.platform, pad + card, top + card + n * step, sizePx, room)),
    );
    edge = up ? top - sizePx * GAP[settings.theme] : top + tall + sizePx * GAP[settings.theme];
  }
  return marks;
}

/** How far a read-out is in view, 0…1. */
export function readOutShare(sinceMs: number, nowMs: number): number {
  const t = Math.max(0, Math.min(1, (nowMs - sinceMs) / 350));
  return 1 - (1 - t) ** 3;
}

/** One comment as a card: who, where, and the words as large as they fit. */
export function layoutReadOut(message: ShownMessage, room: Room): Mark[] {
  const asked = room.style.sizePx * room.scale;
  const settings: ChatPanelSettings = {
    theme: 'plain',
    direction: 'up',
    badges: true,
    emotes: true,
    platforms: false,
  };
  for (let sizePx = Math.min(asked, room.height / 2.6); ; sizePx *= 0.9) {
    const pad = Math.min(sizePx * 0.7, room.width * 0.08);
    // In a narrow box the bar is a part of the box: as a part of large type it would push the words out.
    const bar = Math.min(Math.max(2, sizePx * 0.16), room.width * 0.1);
    const left = pad + bar + pad * 0.6;
    const width = room.width - left - pad;
    const small = sizePx * 0.72;
    const head: Mark[] = [];
    const name = fitted(message.name, width * 0.68, small, 700, room.measure);
    if (name !== '')
      head.push({
        kind: 'text',
        text: name,
        x: left,
        y: 0,
        sizePx: small,
        weight: 700,
        colour: nameColour(message),
        opacity: 1,
      });
    const nameWide = room.measure(name, small, 700);
    const where = fitted(message.platform, width - nameWide - small * 0.6, small * 0.8, 500, room.measure);
    if (where !== '')
      head.push({
        kind: 'text',
        text: where,
        x: left + nameWide + small * 0.6,
        y: 0,
        sizePx: small * 0.8,
        weight: 500,
        colour: '#A7AFB7',
        opacity: 1,
      });
    const words = piecesOf({ ...message, name: '', badges: [] }, settings, sizePx, width, room).filter(
      (piece) => !('text' in piece) || piece.text !== '',
    );
    const lines = flow(words, width, sizePx, room);
    const tall = small * LINE + lines.length * sizePx * LINE;
    const last = sizePx < Math.max(3, asked * 0.25);
    if (tall > room.height - pad && !last) continue;
    const top = Math.max(0, (room.height - tall) / 2);
    const fitting = Math.max(1, Math.floor((room.height - top - small * LINE) / (sizePx * LINE)));
    const marks: Mark[] = [
      {
        kind: 'box',
        x: pad,
        y: top,
        width: bar,
        height: Math.min(tall, room.height - 2 * top),
        colour: room.accent,
        cornerPx: bar / 2,
      },
      ...head.map((mark) => (mark.kind === 'text' ? { ...mark, y: top + small * BASE } : mark)),
    ];
    lines
      .slice(0, fitting)
      .forEach((line, n) =>
        marks.push(
          ...marksOfLine(line, message.platform, left, top + small * LINE + n * sizePx * LINE, sizePx, room),
        ),
      );
    return marks;
  }
}
