/** Thirty a second is as fast as a meter can be read. */
const EVERY_MS = 33;
/** Of what stands beside other things: every second time. */
const SELDOM = 2;

const paints = new Map<() => void, number>();
let timer: ReturnType<typeof setTimeout> | null = null;
let frame = 0;
let turn = 0;

/** Nothing is painted more often than what is wanted oftenest. */
const every = () => Math.min(...paints.values());

function next(): void {
  const step = every();
  timer = setTimeout(() => {
    // Only now a frame is asked for: who asks for each one makes the browser prepare them all.
    frame = requestAnimationFrame(() => {
      next();
      // To a multiple of the step, which another place may have changed: else what stands aside would never have its turn.
      turn += step - (turn % step);
      for (const [paint, of] of paints) if (turn % of === 0) paint();
    });
  }, EVERY_MS * step);
}

/**
 * Calls `paint` again and again, in one frame of the browser with all others: thirty times a second, or fifteen for what
 * stands `aside`.
 *
 * @returns ends it
 */
export function paintTogether(paint: () => void, aside = false): () => void {
  paints.set(paint, aside ? SELDOM : 1);
  if (timer === null) next();
  return () => {
    paints.delete(paint);
    if (paints.size > 0 || timer === null) return;
    clearTimeout(timer);
    cancelAnimationFrame(frame);
    timer = null;
  };
}
