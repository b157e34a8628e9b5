/** What the door's pages have alike: a visit that may have ended, and a screen that stays on. Runs in the browser. */

/** Where a page's own socket is. @param path from `/` */
export const socketAddress = (path: string): string =>
  `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}${path}`;

/** Goes to the page that takes a link when this visit has ended: it is not to be knocked at again and again. */
export async function outIfEnded(): Promise<boolean> {
  try {
    const { status } = await fetch('/standing');
    if (status !== 401 && status !== 403) return false;
    location.assign('/');
    return true;
  } catch {
    // The door is away: the next try finds out.
    return false;
  }
}

/** Ends the visit. */
export async function leave(): Promise<void> {
  await fetch('/leave', { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' });
  location.assign('/');
}

/** Only where the page is secure, and the browser lets it. */
export async function stayAwake(): Promise<void> {
  await navigator.wakeLock?.request('screen').catch(() => undefined);
}
