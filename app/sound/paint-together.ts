/** Thirty a second is as fast as a meter can be read. */
const EVERY_MS = 33;

const paints = new Set<() => void>();
let timer: ReturnType<typeof setTimeout> | null = null;
let frame = 0;

function next(): void {
  timer = setTimeout(() => {
    // Only now a frame is asked for: who asks for each one makes the browser prepare them all.
    frame = requestAnimationFrame(() => {
      for (const paint of paints) paint();
      if (paints.size > 0) next();
      else timer = null;
    });
  }, EVERY_MS);
}

/**
 * Calls `paint` thirty times a second, in one frame of the browser with all others: each on its own would make it compose
 * the page twice as often.
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
