import { recordsOf, type ShowDocument } from './document';

/** Recording tracks beside the programme that any channel is on, with their names. */
export function tracksInUse(document: ShowDocument): { track: number; name: string }[] {
  const names = recordsOf(document, 'show')[0]?.sound.trackNames ?? [];
  const used = new Set(recordsOf(document, 'channel').flatMap((c) => c.tracks));
  return [2, 3, 4, 5, 6]
    .filter((track) => used.has(track))
    .map((track) => ({ track, name: names[track - 1] ?? `Track ${track}` }));
}
