/** Cues as lists of steps: one that calls others is laid out flat before it runs. */
import { findRecord, type ShowDocument } from '../show/document';
import type { CueRecord } from '../show/rundown-records';
import type { Press } from './commands';

export type FlatStep = { type: 'press'; press: Press } | { type: 'wait'; seconds: number };

/** More steps than this are a mistake. */
const MAX_STEPS = 500;

/** A cue that would call itself, directly or not; null when it may. @param steps as they are to be */
export function cueCircle(document: ShowDocument, cue: CueRecord): string[] | null {
  const walk = (at: CueRecord, path: readonly string[]): string[] | null => {
    for (const inner of calledBy(at)) {
      const next = inner === cue.id ? cue : findRecord(document, 'cue', inner);
      if (!next) continue;
      if (path.includes(next.id))
        return [...path, next.id].map((id) => findRecord(document, 'cue', id)?.name ?? cue.name);
      const found = walk(next, [...path, next.id]);
      if (found) return found;
    }
    return null;
  };
  return walk(cue, [cue.id]);
}

function calledBy({ steps }: CueRecord): string[] {
  return steps.flatMap((step) =>
    step.type === 'cue'
      ? [step.cueId]
      : step.type === 'press' && step.press.command === 'cue'
        ? [String(step.press.params.cueId)]
        : [],
  );
}

/**
 * The steps of a cue with those of the cues it calls in their places; cues that are gone are passed over.
 * @returns null for one that would never end
 */
export function flatCue(document: ShowDocument, cue: CueRecord): FlatStep[] | null {
  if (cueCircle(document, cue)) return null;
  const flat = (at: CueRecord): FlatStep[] =>
    at.steps.flatMap((step): FlatStep[] => {
      if (step.type === 'wait') return [step];
      const inner =
        step.type === 'cue'
          ? step.cueId
          : step.press.command === 'cue'
            ? String(step.press.params.cueId)
            : null;
      if (inner === null) return step.type === 'press' ? [step] : [];
      const called = findRecord(document, 'cue', inner);
      return called ? flat(called) : [];
    });
  const steps = flat(cue);
  return steps.length > MAX_STEPS ? null : steps;
}
