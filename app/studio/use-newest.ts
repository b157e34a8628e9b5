import { useEffect, useRef } from 'react';

/**
 * Changes parts of a value that is shown a moment late: a second change made before the first one is shown builds on it
 * rather than on what is shown.
 */
export function useNewest<T extends object>(
  value: T,
  onChange: (value: T) => void,
): (part: Partial<T>) => void {
  const newest = useRef(value);
  // By what is in it: the same values in another object are no news.
  const text = JSON.stringify(value);
  useEffect(() => {
    newest.current = JSON.parse(text) as T;
  }, [text]);
  return (part) => {
    newest.current = { ...newest.current, ...part };
    onChange(newest.current);
  };
}
