import { useSyncExternalStore } from 'react';

const never = () => () => undefined;

/** A moment in words. Made in the browser alone: the server may have another zone, and other data for dates. */
export function When({ words }: { words: () => string }) {
  return <>{useSyncExternalStore(never, words, () => ' ')}</>;
}
