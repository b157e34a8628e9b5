/** The credits roll: lists of names going up, once or without end. */
import type { Rect } from '../../../geometry/rect';
import { fillFields } from '../../../scene/fields';
import type { ListedFile } from '../../../show/record-base';
import { choice, fields, files, list, number, optional, words } from '../../../show/shape';
import { pictureName } from '../../picture-words';
import { cleanText } from '../../words';
import type { AudienceNow } from '../audience-now';
import { lineOf, LINE, type Mark, type Room } from '../drawing';
import { PLAIN_WIDGET, type WidgetKind } from '../widget-kind';

const CREDITS_OF = ['list', 'supporters', 'moderators', 'chatters', 'comments', 'logos'] as const;

export interface CreditsSection {
  title: string;
  /** A list of one's own, one name a line; who was there this evening, or what they wrote; a wall of logos. */
  of: (typeof CREDITS_OF)[number];
  lines: string;
  /** Of a wall of logos. */
  files?: ListedFile[];
}

export interface CreditsWidget {
  of: 'credits';
  sections: CreditsSection[];
  run: 'once' | 'loop';
  fit: 'length' | 'music';
  seconds: number;
}

/** What is left of a piece that was nearly over says nothing about the credits. */
const MIN_MUSIC_SECONDS = 5;
/** More names than anybody sees roll by. */
const MAX_NAMES = 400;

/** Comments that roll by: the newest, as they stood in the chat. */
const MAX_COMMENTS = 40;
/** Logos side by side, and how high their row is, lines. */
const LOGOS_A_ROW = 3;
const LOGO_LINES = 3;

export interface CreditsLine {
  text: string;
  head: boolean;
  /** Files in place of words. */
  logos?: readonly string[];
}

function namesOf({ of, lines }: CreditsSection, now: AudienceNow): string[] {
  const { book, settings } = now;
  const shown = (name: string) => pictureName(name, settings);
  switch (of) {
    case 'list':
      return lines.split('\n').map((line) => cleanText(fillFields(line, now.fields), 120));
    case 'supporters':
      return book.supporters().map((s) => shown(s.name));
    case 'moderators':
      return book.chatters().flatMap((c) => (c.moderator ? [shown(c.name)] : []));
    case 'chatters':
      return book.chatters().map((c) => shown(c.name));
    case 'comments':
      return now.messages.slice(-MAX_COMMENTS).flatMap(({ name, tokens }) => {
        const words = tokens
          .map((token) => ('text' in token ? token.text : ''))
          .join('')
          .trim();
        return words === '' ? [] : [`${name}: ${words}`];
      });
    case 'logos':
      return [];
  }
}

/** All lines; a section without names is left out. */
export function creditsLines(credits: CreditsWidget, now: AudienceNow): CreditsLine[] {
  return credits.sections.flatMap((section): CreditsLine[] => {
    const head = { text: cleanText(section.title, 80), head: true };
    const end = { text: '', head: false };
    if (section.of === 'logos') {
      const files = (section.files ?? []).map(({ assetId }) => assetId);
      const rows = Math.ceil(files.length / LOGOS_A_ROW);
      const logos = Array.from({ length: rows }, (_, i) => ({
        ...end,
        logos: files.slice(i * LOGOS_A_ROW, (i + 1) * LOGOS_A_ROW),
      }));
      return rows === 0 ? [] : [head, ...logos, end];
    }
    const all = namesOf(section, now);
    // Who is on several platforms is thanked once; lists of one's own and comments stay as they are written.
    const asWritten = section.of === 'list' || section.of === 'comments';
    const names = (asWritten ? all : [...new Set(all)]).slice(0, MAX_NAMES);
    if (names.every((name) => name === '')) return [];
    return [head, ...names.map((text) => ({ text, head: false })), end];
  });
}

/**
 * How far the roll has gone: 0 when its first line comes in at the bottom, 1 when its last has left at the top.
 * Once: stays at 1. Loop: begins again. Fitted to music it has gone when the music is over; without any it takes its own length.
 */
export function creditsShare(
  credits: CreditsWidget,
  { sceneSinceMs, musicEndsMs, nowMs }: Pick<AudienceNow, 'sceneSinceMs' | 'musicEndsMs' | 'nowMs'>,
): number {
  const music = musicEndsMs === null ? 0 : (musicEndsMs - sceneSinceMs) / 1000;
  const seconds = credits.fit === 'music' && music > MIN_MUSIC_SECONDS ? music : Math.max(1, credits.seconds);
  const share = Math.max(0, (nowMs - sceneSinceMs) / 1000 / seconds);
  return credits.run === 'loop' ? share % 1 : Math.min(1, share);
}

function layoutCredits(credits: CreditsWidget, now: AudienceNow, room: Room): Mark[] {
  const sizePx = Math.max(1, Math.min(room.style.sizePx * room.scale, room.height / 3, room.width / 4));
  const step = sizePx * LINE;
  const lines = creditsLines(credits, now);
  const heightOf = ({ logos }: CreditsLine) => step * (logos ? LOGO_LINES : 1);
  const way = room.height + lines.reduce((sum, line) => sum + heightOf(line), 0);
  let next = room.height - creditsShare(credits, now) * way;
  return lines.flatMap((line) => {
    const { text, head, logos } = line;
    const height = heightOf(line);
    const top = next;
    next += height;
    // Lines that are partly out are cut by the box, as a roll is.
    if (top + height < 0 || top > room.height) return [];
    if (logos) return logosIn(logos, { x: room.width * 0.05, y: top, width: room.width * 0.9, height });
    if (text === '') return [];
    return lineOf(
      room,
      text,
      { x: room.width * 0.05, top, width: room.width * 0.9, sizePx: head ? sizePx * 0.72 : sizePx },
      head ? { weight: 600, colour: room.accent } : {},
    );
  });
}

/** One row of a wall: each in a place of its own, the row in the middle. */
function logosIn(logos: readonly string[], row: Rect): Mark[] {
  const place = row.width / LOGOS_A_ROW;
  const from = row.x + (row.width - logos.length * place) / 2;
  const gap = Math.min(place, row.height) * 0.12;
  return logos.map((assetId, i): Mark => ({
    ...{ kind: 'logo', assetId, x: from + i * place + gap, y: row.y + gap },
    ...{ width: place - 2 * gap, height: row.height - 2 * gap },
  }));
}

export const credits: WidgetKind<CreditsWidget> = {
  ...PLAIN_WIDGET,
  name: 'Credits roll',
  start: () => ({
    of: 'credits',
    run: 'once',
    fit: 'length',
    seconds: 30,
    sections: [
      { title: 'With', of: 'list', lines: 'Host: {{host}}' },
      { title: 'Supported by', of: 'supporters', lines: '' },
      { title: 'Moderated by', of: 'moderators', lines: '' },
      { title: 'In the chat', of: 'chatters', lines: '' },
    ],
  }),
  shape: {
    run: choice(['once', 'loop']),
    fit: choice(['length', 'music']),
    seconds: number(1, 3600),
    sections: list(
      fields({
        title: words(80),
        of: choice(CREDITS_OF),
        lines: words(10_000),
        files: optional(files(120)),
      }),
      20,
    ),
  },
  size: { width: 900, height: 900, sizePx: 44 },
  ...{ boxed: false, align: 'center' },
  layout: layoutCredits,
  stamp: (widget, now) => `${now.book.stamp}/${creditsShare(widget, now)}`,
};
