import { memo, useLayoutEffect, useMemo, useRef, type ComponentType } from 'react';

type Call = (...args: unknown[]) => unknown;

/**
 * A field that is drawn anew only when what it shows is another. Every edit of a show asks all fields of a place, a hundred of
 * MUI's among them, and most of them show what they showed before. What a field calls is always the newest.
 */
export function steady<P extends object>(Field: ComponentType<P>): ComponentType<P> {
  const Kept = memo(Field, sameButCalls) as unknown as ComponentType<P>;
  return function Steady(props: P) {
    const latest = useRef(props);
    useLayoutEffect(() => {
      latest.current = props;
    });
    const names = Object.entries(props).flatMap(([name, value]) =>
      typeof value === 'function' ? [name] : [],
    );
    const which = names.join();
    const calls = useMemo(() => {
      const through = (name: string): Call => {
        return (...args) => (latest.current as Record<string, Call>)[name](...args);
      };
      return Object.fromEntries((which === '' ? [] : which.split(',')).map((name) => [name, through(name)]));
    }, [which]);
    return <Kept {...props} {...calls} />;
  };
}

function sameButCalls(before: object, now: object): boolean {
  const [a, b] = [before as Record<string, unknown>, now as Record<string, unknown>];
  const names = Object.keys(b);
  return names.length === Object.keys(a).length && names.every((name) => same(a[name], b[name]));
}

function same(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a === 'function' && typeof b === 'function') return true;
  return (
    Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((one, i) => alike(one, b[i]))
  );
}

/** Options of a choice are made anew each time, of the same few words. */
function alike(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  const [one, other] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const names = Object.keys(one);
  return (
    names.length === Object.keys(other).length && names.every((name) => Object.is(one[name], other[name]))
  );
}
