/** How a scene is called on this computer: at once or in two steps, and by which transition. */
export interface Switching {
  switching: 'direct' | 'two-step';
  way: 'own' | 'cut' | 'fade';
}

const KEY = 'dolomite.switching';
const listeners = new Set<() => void>();
let now: Switching = {
  switching:
    typeof localStorage !== 'undefined' && localStorage.getItem(KEY) === 'two-step' ? 'two-step' : 'direct',
  way: 'own',
};

export const switchingNow = (): Switching => now;

export function setSwitching(next: Switching): void {
  now = next;
  localStorage.setItem(KEY, next.switching);
  for (const listener of listeners) listener();
}

export function watchSwitching(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
