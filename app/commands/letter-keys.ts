import { useSyncExternalStore } from 'react';

const KEY = 'dolomite.letterKeys';
const listeners = new Set<() => void>();

/** Whether letters and digits alone call commands in this browser: speech input types them too (WCAG 2.1.4). */
export const letterKeysOn = (): boolean => localStorage.getItem(KEY) !== 'off';

export function setLetterKeys(on: boolean): void {
  localStorage.setItem(KEY, on ? 'on' : 'off');
  for (const listener of listeners) listener();
}

export function useLetterKeys(): boolean {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, letterKeysOn);
}
