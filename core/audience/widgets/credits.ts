/** The credits roll: lists of names going up, once or without end. */
import { fillFields } from '../../scene/fields';
import { pictureName } from '../picture-words';
import { cleanText } from '../words';
import type { AudienceNow } from './audience-now';
import { lineOf, LINE, type Mark, type Room } from './drawing';
import type { CreditsSection, WidgetSettings } from './widget-settings';

type Credits = Extract<WidgetSettings, { of: 'credits' }>;

/** What is left of a piece that was nearly over says nothing about the credits. */
const MIN_MUSIC_SECONDS = 5;
/** More names than anybody sees roll by. */
const MAX_NAMES = 400;

export interface CreditsLine {
  text: string;
  head: boolean;
}

function namesOf({ of, lines }: CreditsSection, { book, settings, fields }: AudienceNow): string[] {
  const shown = (name: string) => pictureName(name, settings);
  switch (of) {
    case 'list':
      return lines.split('\n').map((line) => cleanText(fillFields(line, fields), 120));
    case 'supporters':
      return book.supporters().map((s) => shown(s.name));
    case 'moderators':
      return book.chatters().flatMap((c) => (c.moderator ? [shown(c.name)] : []));
    case 'chatters':
      return book.chatters().map((c) => shown(c.name));
  }
}

/** All lines; a section without names is left out. */
export function creditsLines(credits: Credits, now: AudienceNow): CreditsLine[] {
  return credits.sections.flatMap((section) => {
    const all = namesOf(section, now);
    // Who is on several platforms is thanked once; lists of one's own stay as they are written.
    const names = (section.of === 'list' ? all : [...new Set(all)]).slice(0, MAX_NAMES);
    if (names.every((name) => name === '')) return [];
    return [
      { text: cleanText(section.title, 80), head: true },
      ...names.map((text) => ({ text, head: false })),
      { text: '', head: false },
    ];
  });
}

/**
 * How far the roll has gone: 0 when its first line comes in at the bottom, 1 when its last has left at the top.
 * Once: stays at 1. Loop: begins again. Fitted to music it has gone when the music is over; without any it takes its own length.
 */
export function creditsShare(
  credits: Credits,
  { sceneSinceMs, musicEndsMs, nowMs }: Pick<AudienceNow, 'sceneSinceMs' | 'musicEndsMs' | 'nowMs'>,
): number {
  const music = musicEndsMs === null ? 0 : (musicEndsMs - sceneSinceMs) / 1000;
  const seconds = credits.fit === 'music' && music > MIN_MUSIC_SECONDS ? music : Math.max(1, credits.seconds);
  const share = Math.max(0, (nowMs - sceneSinceMs) / 1000 / seconds);
  return credits.run === 'loop' ? share % 1 : Math.min(1, share);
}

export function layoutCredits(credits: Credits, now: AudienceNow, room: Room): Mark[] {
  const sizePx = Math.max(1, Math.min(room.style.sizePx * room.scale, room.height / 3, room.width / 4));
  const step = sizePx * LINE;
  const lines = creditsLines(credits, now);
  const way = room.height + lines.length * step;
  const start = room.height - creditsShare(credits, now) * way;
  return lines.flatMap(({ text, head }, i) => {
    const top = start + i * step;
    // Lines that are partly out are cut by the box, as a roll is.
    if (text === '' || top + step < 0 || top > room.height) return [];
    return lineOf(
      room,
      text,
      { x: room.width * 0.05, top, width: room.width * 0.9, sizePx: head ? sizePx * 0.72 : sizePx },
      head ? { weight: 600, colour: room.accent } : {},
    );
  });
}
