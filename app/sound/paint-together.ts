/** Thirty a second is as fast as a meter can be read. */
const EVERY_MS = 33;

const paints = new Set<() => void>();
let timer: ReturnType<typeof setTimeout> | null = null;
let frame = 0;

function next(): void {
  timer = setTimeout(() => {
    // Only now a frame is asked for: who asks for each one makes the browser prepare them all.
    frame = requestAnimationFrame(() => {
      next();
      for (const paint of paints) paint();
    });
  }, EVERY_MS);
}

/**
 * Calls `paint` thirty times a second, in one frame of the browser with all others.
 *
 * @returns ends it
 */
export function paintTogether(paint: () => void): () => void {
  paints.add(paint);
  if (timer === null) next();
  return () => {
    paints.delete(paint);
    if (paints.size > 0 || timer === null) return;
    clearTimeout(timer);
    cancelAnimationFrame(frame);
    timer = null;
  };
}
