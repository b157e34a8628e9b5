import { RECORDED_PICTURES, type RecordedPicture } from '~/core/delivery/settings';
import type { RecordingFacts } from '~/server/vault/recording-repository';

export const DATE = new Intl.DateTimeFormat('en-GB', {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});

/** 1:02:03 or 2:03. */
export function length(seconds: number): string {
  const s = Math.round(seconds);
  const two = (n: number) => String(n).padStart(2, '0');
  return s < 3600
    ? `${Math.floor(s / 60)}:${two(s % 60)}`
    : `${Math.floor(s / 3600)}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}`;
}

export const titleOf = (recording: RecordingFacts): string =>
  recording.title || DATE.format(recording.startedMs);

/** Which picture it is of, as the names of the relay's files say. */
export const pictureOf = (recording: RecordingFacts): RecordedPicture =>
  RECORDED_PICTURES.find((picture) => new RegExp(`\\b${picture}\\b`).test(recording.file)) ?? 'wide';

export const KIND_WORDS: Record<RecordingFacts['kind'], string> = {
  recording: 'recording',
  clip: 'clip',
  copy: 'copy',
};
