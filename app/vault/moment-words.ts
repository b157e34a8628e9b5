import type { ToldBroadcast } from '~/core/programme/moment';
import { levelAt, type ProgrammeState } from '~/core/programme/programme-state';
import { findRecord, type ShowDocument } from '~/core/show/document';
import { withMinus } from '~/core/format/numbers';
import { FADER_MIN_DB } from '~/core/sound/decibel';
import { lengthText } from '~/core/rundown/length-text';
import type { Translate } from '../words/words';

/** How the programme stood at a moment, as rows of a name and a value. */
export function momentRows(
  { document, state, startedMs }: { document: ShowDocument; state: ProgrammeState; startedMs: number },
  atMs: number,
  t: Translate,
): [string, string][] {
  const { onAir, rundown, title, poll } = state;
  const rows: [string, string][] = [];
  if (onAir) {
    const scene = findRecord(document, 'scene', onAir.sceneId)?.name ?? t('moments.goneScene');
    rows.push([t('moments.scene'), scene]);
    const pose = findRecord(document, 'pose', onAir.poseId);
    if (pose) rows.push([t('moments.pose'), pose.name]);
    rows.push([t('moments.since'), lengthText(Math.max(0, (onAir.sinceMs - startedMs) / 1000))]);
  }
  const segment = rundown && findRecord(document, 'segment', rundown.segmentId);
  if (segment)
    rows.push([
      t('moments.segment'),
      rundown.freely ? t('moments.freely', { name: segment.name }) : segment.name,
    ]);
  if (title && (title.untilMs === null || title.untilMs > atMs))
    rows.push([t('moments.shownTitle'), [title.words.line1, title.words.line2].filter(Boolean).join(' · ')]);
  const asked = poll && poll.endedMs === null && findRecord(document, 'poll', poll.pollId);
  if (asked) rows.push([t('moments.poll'), asked.name]);
  const guests = state.seatsOn.flatMap((id) => findRecord(document, 'input', id)?.name ?? []);
  if (guests.length > 0) rows.push([t('moments.guests'), guests.join(', ')]);
  const sound: string[] = state.onlyVoices ? [t('moments.onlyVoices')] : [];
  for (const [id, muted] of Object.entries(state.mutes)) {
    const channel = findRecord(document, 'channel', id);
    if (channel && muted) sound.push(t('moments.mutedOne', { name: channel.name }));
  }
  for (const [id, level] of Object.entries(state.levels)) {
    const channel = findRecord(document, 'channel', id);
    if (!channel) continue;
    const db = levelAt(level, channel.gainDb, atMs);
    const words = db <= FADER_MIN_DB ? t('moments.silent') : `${withMinus(db.toFixed(1))} dB`;
    sound.push(t('moments.levelOne', { name: channel.name, level: words }));
  }
  rows.push([t('moments.changed'), sound.length > 0 ? sound.join(', ') : t('moments.asInShow')]);
  return rows;
}

/** Moments at which something was done to the programme, seconds of the broadcast. */
export function changesOf(told: ToldBroadcast): number[] {
  const seconds = told.entries.map(({ atMs }) => (atMs - told.startedMs) / 1000).filter((at) => at >= 0);
  return [...new Set(seconds.map((at) => Math.ceil(at)))].sort((a, b) => a - b);
}
