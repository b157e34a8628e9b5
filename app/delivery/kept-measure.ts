import { useSyncExternalStore } from 'react';
import { readMeasure, type ComputerMeasure } from '~/core/delivery/computer-measure';

/** Of this browser's computer, so it is kept by this browser. */
const PLACE = 'computer-measure';

const listeners = new Set<() => void>();
let read: { text: string | null; measure: ComputerMeasure | null } | null = null;

/** What was measured on this computer last; null when nothing was. */
function keptMeasure(): ComputerMeasure | null {
  const text = localStorage.getItem(PLACE);
  if (read?.text !== text) read = { text, measure: text === null ? null : readMeasure(text) };
  return read.measure;
}

export function keepMeasure(measure: ComputerMeasure): void {
  localStorage.setItem(PLACE, JSON.stringify(measure));
  for (const listener of listeners) listener();
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  // Measured in another window.
  addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    removeEventListener('storage', listener);
  };
}

export const useKeptMeasure = (): ComputerMeasure | null =>
  useSyncExternalStore(subscribe, keptMeasure, () => null);
