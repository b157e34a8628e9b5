/** Which messages are on the picture, and in what words. */
import type { ChatMessage, EmoteRange } from './events';
import type { AudienceSettings } from './settings';
import { coveredRanges, pictureName, type CoverRules } from './picture-words';
import { cleanPiece } from './words';

/** A part of a message: words, or a picture among them. */
export type ChatToken = { text: string; mention?: true } | { emote: string };

export interface ShownMessage {
  /** As `keyOf` gives it. */
  key: string;
  name: string;
  platform: string;
  colour: string | null;
  badges: ChatMessage['badges'];
  tokens: readonly ChatToken[];
  /** When it came on the picture, milliseconds since 1970. */
  sinceMs: number;
}

/** Ranges that lie inside the text, in order, none over another. */
function usable(emotes: readonly EmoteRange[], length: number): EmoteRange[] {
  const inside = emotes
    .filter(
      (e) =>
        Number.isInteger(e.from) && Number.isInteger(e.to) && e.from >= 0 && e.from < e.to && e.to <= length,
    )
    .sort((a, b) => a.from - b.from);
  let end = 0;
  return inside.filter((e) => {
    if (e.from < end) return false;
    end = e.to;
    return true;
  });
}

/** A message in pieces: emotes in their places, blocked words covered, addresses replaced, mentions marked. */
export function tokensOf(
  { text, emotes }: Pick<ChatMessage, 'text' | 'emotes'>,
  rules: CoverRules,
): ChatToken[] {
  type Part = { from: number; to: number; token: ChatToken };
  const parts: Part[] = usable(emotes, text.length).map((e) => ({ ...e, token: { emote: e.id } }));
  const free = (from: number, to: number) => parts.every((p) => to <= p.from || from >= p.to);
  for (const { from, to, instead } of coveredRanges(text, rules))
    if (free(from, to)) parts.push({ from, to, token: { text: instead } });
  parts.sort((a, b) => a.from - b.from);
  const tokens: ChatToken[] = [];
  const words = (piece: string) => {
    for (const [part, mention] of mentionParts(cleanPiece(piece)))
      if (part !== '') tokens.push(mention ? { text: part, mention: true } : { text: part });
  };
  let at = 0;
  for (const { from, to, token } of parts) {
    words(text.slice(at, from));
    tokens.push(token);
    at = to;
  }
  words(text.slice(at));
  return tokens;
}

function mentionParts(text: string): [string, boolean][] {
  return text.split(/(@[\p{L}\p{N}_.-]{2,40})/u).map((part, i) => [part, i % 2 === 1]);
}

/** Whether a message may be on the picture at all. */
export function isWelcome(message: ChatMessage, settings: AudienceSettings): boolean {
  if (settings.hideCommands && /^\s*!/.test(message.text)) return false;
  const viewer = message.viewer.toLowerCase();
  return !settings.hiddenViewers.some((name) => name.toLowerCase() === viewer);
}

/** A message as viewers see it. */
export function shownMessage(message: ChatMessage, settings: AudienceSettings): ShownMessage {
  return {
    key: `${message.platform}/${message.id}`,
    name: pictureName(message.viewer, settings),
    platform: message.platform,
    colour: message.colour,
    badges: message.badges,
    tokens: tokensOf(message, settings),
    sinceMs: message.atMs + settings.holdSeconds * 1000,
  };
}

/**
 * The messages that are on the picture at a moment, oldest first.
 * @param keepSeconds how long one stays
 */
export function messagesAt(
  messages: readonly ShownMessage[],
  keepSeconds: number,
  nowMs: number,
): readonly ShownMessage[] {
  return messages.filter((m) => m.sinceMs <= nowMs && nowMs < m.sinceMs + keepSeconds * 1000);
}
