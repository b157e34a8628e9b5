import type { KeptAlerts } from '~/protocol/engine';

const keyOf = (showId: string) => `waiting alerts ${showId}`;

/** What waited when this browser had the desk open last; null when that is not known. */
export function keptAlerts(showId: string): KeptAlerts | null {
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(showId)) ?? 'null') as Partial<KeptAlerts> | null;
    if (typeof kept?.savedMs !== 'number' || typeof kept.lastSeq !== 'number') return null;
    const { savedMs, lastSeq, paused = false, muted = false, waiting } = kept;
    return Array.isArray(waiting) ? { savedMs, lastSeq, paused, muted, waiting } : null;
  } catch {
    // Written by something else: nothing waited.
    return null;
  }
}

export function keepAlerts(showId: string, kept: KeptAlerts): void {
  try {
    localStorage.setItem(keyOf(showId), JSON.stringify(kept));
  } catch {
    // Full or forbidden: then they do not outlive the page.
  }
}
