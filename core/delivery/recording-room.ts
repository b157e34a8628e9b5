/** What is recorded while the disk fills up: less and less, in a chosen order, and more again when there is room. */

/** Below this much time it is said. */
export const WARN_SECONDS = 30 * 60;
/** Below it the tracks beside the programme go, and then the clean recording: a tenth of that, and half of it once more. */
const TRACKS_SECONDS = WARN_SECONDS / 10;
const CLEAN_SECONDS = TRACKS_SECONDS / 2;
/** What went comes back with this much more than it went at, so that it does not come and go. */
const BACK = 2;
/** A recording that stopped goes on when there is room for this much. */
const RESUME_SECONDS = 60;
/** Below this nothing is begun, however slowly it would fill. */
const LEAST_BYTES = 50e6;

export interface RecordingRoom {
  /** How long the room lasts, seconds; null when nobody can tell. */
  secondsLeft: number | null;
  /** Whether the tracks beside the programme, and the clean picture, are still recorded. */
  tracks: boolean;
  clean: boolean;
  /** Whether one that stopped may begin again. */
  resume: boolean;
}

export const ALL_ROOM: RecordingRoom = { secondsLeft: null, tracks: true, clean: true, resume: true };

/**
 * @param freeBytes where recordings go; null when nobody can tell
 * @param bytesPerSecond that all recordings take together; 0 while that is not known
 */
export function decideRoom(
  freeBytes: number | null,
  bytesPerSecond: number,
  before: RecordingRoom,
): RecordingRoom {
  if (freeBytes === null) return ALL_ROOM;
  const secondsLeft = bytesPerSecond > 0 ? freeBytes / bytesPerSecond : null;
  const enough = (seconds: number, was: boolean) =>
    secondsLeft === null ? was : secondsLeft > (was ? seconds : seconds * BACK);
  return {
    secondsLeft,
    tracks: enough(TRACKS_SECONDS, before.tracks),
    clean: enough(CLEAN_SECONDS, before.clean),
    resume: freeBytes > LEAST_BYTES && (secondsLeft === null || secondsLeft > RESUME_SECONDS),
  };
}

/** In words for the user; empty while nothing is short. */
export function roomWords({ secondsLeft, tracks, clean }: RecordingRoom): string {
  if (secondsLeft === null || secondsLeft > WARN_SECONDS) return '';
  const minutes = Math.floor(secondsLeft / 60);
  const left = `The disk is nearly full: recordings continue for ${minutes < 1 ? 'less than a minute' : minutes === 1 ? '1 minute' : `${minutes} minutes`}.`;
  const gone = [
    ...(tracks ? [] : ['the tracks beside the programme']),
    ...(clean ? [] : ['the clean picture']),
  ];
  const given = gone.length === 0 ? '' : ` No longer recorded: ${gone.join(' and ')}.`;
  return `${left}${given} Free up space in Vault.`;
}
