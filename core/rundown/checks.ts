/** *Before this can run*: what a rundown still wants, each with what can be done about it. */
import { seatsOf } from '../guests/seats';
import { missingFields } from '../scene/fields';
import { findRecord, recordsOf, type ShowDocument } from '../show/document';
import { kindOf } from '../show/input-kinds';
import { inputsOfScene } from '../show/inputs-shown';
import { layersOfScene } from '../show/layers';
import { posed } from '../show/poses';
import type { SegmentRecord } from '../show/rundown-records';
import { segmentsOf } from './rundown';

export type RundownCheck =
  | { type: 'empty' }
  | { type: 'sceneGone'; segment: SegmentRecord }
  | { type: 'poseGone'; segment: SegmentRecord }
  | { type: 'titleGone'; segment: SegmentRecord }
  | { type: 'channelGone'; segment: SegmentRecord }
  /** It is to end by itself with something its scene does not have, so it never would. */
  | { type: 'neverEnds'; segment: SegmentRecord }
  | { type: 'noLength'; segment: SegmentRecord }
  /** `seconds`: what its clips take. */
  | { type: 'otherLength'; segment: SegmentRecord; seconds: number }
  /** Seats of its scene on which nobody sits. */
  | { type: 'seatsEmpty'; segment: SegmentRecord; names: string[] }
  /** Inputs of its scene whose files are gone. */
  | { type: 'filesGone'; segment: SegmentRecord; names: string[] }
  | { type: 'emptyFields'; names: string[] };

/** Longer or shorter than planned by less nobody minds, seconds. */
const SAME_LENGTH = 1;

/** What a segment's scene has that ends by itself. */
export interface Endings {
  countdown: boolean;
  clips: boolean;
  /** Ids of inputs whose clips play once. */
  clipInputs: string[];
}

export function endingsOf(document: ShowDocument, sceneId: string, poseId: string | null): Endings {
  const endings: Endings = { countdown: false, clips: false, clipInputs: [] };
  for (const { visible, content } of layersOfScene(posed(document, sceneId, poseId), sceneId)) {
    if (!visible) continue;
    if (content.type === 'widget' && content.widget.of === 'countdown') endings.countdown = true;
    if (content.type !== 'input') continue;
    const source = findRecord(document, 'input', content.inputId)?.source;
    if (source?.type === 'clips' && source.atEnd !== 'loop') {
      endings.clips = true;
      endings.clipInputs.push(content.inputId);
    }
  }
  return endings;
}

/**
 * @param clipSeconds how long the clips of an input take in all, where that is known
 * @param taken whether somebody sits on a guest's seat
 * @param gone whether a file is missing, by its id
 * @returns the trouble, in the order of the rundown; nothing when it can run
 */
export function rundownChecks(
  document: ShowDocument,
  rundownId: string,
  clipSeconds: (inputId: string) => number | null = () => null,
  taken: (seatId: string) => boolean = () => true,
  gone: (assetId: string) => boolean = () => false,
): RundownCheck[] {
  const segments = segmentsOf(document, rundownId).filter(({ skipped }) => !skipped);
  if (segments.length === 0) return [{ type: 'empty' }];
  const checks = segments.flatMap((segment) => ofSegment(document, segment, clipSeconds, taken, gone));
  const names = emptyFields(document, segments);
  return names.length === 0 ? checks : [...checks, { type: 'emptyFields', names }];
}

function ofSegment(
  document: ShowDocument,
  segment: SegmentRecord,
  clipSeconds: (inputId: string) => number | null,
  taken: (seatId: string) => boolean,
  gone: (assetId: string) => boolean,
): RundownCheck[] {
  const { sceneId, poseId, end, titleId, sound, plannedSeconds } = segment;
  const checks: RundownCheck[] = [];
  const scene = findRecord(document, 'scene', sceneId);
  if (sceneId !== null && !scene) return [{ type: 'sceneGone', segment }];
  if (poseId !== null && findRecord(document, 'pose', poseId)?.sceneId !== sceneId)
    checks.push({ type: 'poseGone', segment });
  if (titleId !== null && !findRecord(document, 'title', titleId))
    checks.push({ type: 'titleGone', segment });
  if (sound.some(({ channelId }) => !findRecord(document, 'channel', channelId)))
    checks.push({ type: 'channelGone', segment });
  const endings = scene ? endingsOf(document, scene.id, poseId) : null;
  const never =
    (end.type === 'clip' && !endings?.clips) ||
    (end.type === 'countdown' && !endings?.countdown) ||
    (end.type === 'music' &&
      !recordsOf(document, 'channel').some(({ source }) => source.type === 'music' && !source.loop));
  if (never) checks.push({ type: 'neverEnds', segment });
  const shown = scene ? inputsOfScene(document, scene.id, poseId) : new Set<string>();
  const names = seatsOf(document).flatMap(({ id, name }) => (shown.has(id) && !taken(id) ? [name] : []));
  if (names.length > 0) checks.push({ type: 'seatsEmpty', segment, names });
  const missing = recordsOf(document, 'input').flatMap(({ id, name, source }) =>
    shown.has(id) && kindOf(source).files(source).some(gone) ? [name] : [],
  );
  if (missing.length > 0) checks.push({ type: 'filesGone', segment, names: missing });
  if (plannedSeconds === 0) checks.push({ type: 'noLength', segment });
  else if (end.type === 'clip' && endings) {
    const lengths = endings.clipInputs.map(clipSeconds);
    const seconds = Math.max(...lengths.map((length) => length ?? -1), -1);
    if (seconds > 0 && Math.abs(seconds - plannedSeconds) > SAME_LENGTH)
      checks.push({ type: 'otherLength', segment, seconds });
  }
  return checks;
}

/** Fields that the rundown's scenes or titles use and that have no words, each once. */
function emptyFields(document: ShowDocument, segments: readonly SegmentRecord[]): string[] {
  const fields = recordsOf(document, 'show')[0]?.fields ?? {};
  const filled = Object.fromEntries(Object.entries(fields).filter(([, words]) => words.trim() !== ''));
  const scenes = new Set(segments.flatMap(({ sceneId }) => sceneId ?? []));
  const texts = [...scenes].flatMap((id) =>
    findRecord(document, 'scene', id)
      ? layersOfScene(document, id).flatMap(({ visible, content }) =>
          visible && content.type === 'text' ? content.text : [],
        )
      : [],
  );
  const titles = segments.flatMap(({ titleId }) => {
    const title = findRecord(document, 'title', titleId);
    return title ? [title.name, title.line2] : [];
  });
  return missingFields([...texts, ...titles].join('\n'), filled).filter(
    (name) => !name.startsWith('viewers'),
  );
}
