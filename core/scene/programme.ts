import type { Transition } from '../show/records';

/** What is on air: one scene, or one leaving while the next comes. */
export interface OnAir {
  sceneId: string;
  from: { sceneId: string; startedAt: number; transition: Transition } | null;
}

/** Takes a scene on air at programme time `now`, seconds. A running fade is cut short: its target becomes the start. */
export function takeScene(
  current: OnAir | null,
  sceneId: string,
  transition: Transition,
  now: number,
): OnAir {
  if (!current || current.sceneId === sceneId || transition.type === 'cut' || transition.seconds <= 0)
    return { sceneId, from: null };
  return { sceneId, from: { sceneId: current.sceneId, startedAt: now, transition } };
}

/** How much of the incoming scene is seen, 0…1, at programme time `now`: smooth at both ends. */
export function fadeProgress(onAir: OnAir, now: number): number {
  if (!onAir.from) return 1;
  const t = (now - onAir.from.startedAt) / onAir.from.transition.seconds;
  const u = Math.min(1, Math.max(0, t));
  return u * u * (3 - 2 * u);
}
