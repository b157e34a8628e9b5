/** Facts of a Lottie animation (Lottie Animation Community specification 1.0), checked before a player sees it. */
import { Fault } from '../fault';

export interface LottieFacts {
  width: number;
  height: number;
  fps: number;
  /** First frame, and the one after the last. */
  from: number;
  to: number;
  seconds: number;
}

export const MAX_LOTTIE_BYTES = 16 * 1024 * 1024;
const MAX_SIDE_PX = 8192;
const MAX_SECONDS = 600;
const MAX_LAYERS = 2000;

/**
 * @param text the file's text
 * @throws Fault `lottie.damaged` when it is not JSON or no animation, `lottie.large` when it asks for too much
 */
export function readLottie(text: string): LottieFacts {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Fault('lottie.damaged', 'the file is cut off or not JSON: export the animation again');
  }
  if (value === null || typeof value !== 'object' || Array.isArray(value))
    throw new Fault('lottie.damaged', 'the file holds no animation: export it as Lottie JSON');
  const object = value as Record<string, unknown>;
  const number = (key: string): number => {
    const found = object[key];
    if (typeof found !== 'number' || !Number.isFinite(found))
      throw new Fault('lottie.damaged', `the animation has no "${key}": export it again as Lottie JSON`);
    return found;
  };
  if (!Array.isArray(object.layers))
    throw new Fault('lottie.damaged', 'the animation has no layers: export it again as Lottie JSON');
  const [width, height, fps, from, to] = [number('w'), number('h'), number('fr'), number('ip'), number('op')];
  const layers = object.layers.length;
  if (!(width >= 1 && height >= 1 && fps > 0 && to > from))
    throw new Fault('lottie.damaged', 'the animation has no size or no length: export it again');
  const seconds = (to - from) / fps;
  if (
    width > MAX_SIDE_PX ||
    height > MAX_SIDE_PX ||
    seconds > MAX_SECONDS ||
    layers > MAX_LAYERS ||
    fps > 240
  )
    throw new Fault(
      'lottie.large',
      `the animation is too large (${width}×${height}, ${Math.round(seconds)} s, ${layers} layers): at most ${MAX_SIDE_PX} px, ${MAX_SECONDS} s and ${MAX_LAYERS} layers`,
    );
  return { width, height, fps, from, to, seconds };
}

/** The frame to show after `seconds`; a run without loop stands on its last frame. */
export function lottieFrame(facts: LottieFacts, seconds: number, loop: boolean, speed: number): number {
  const length = facts.to - facts.from;
  const run = Math.max(0, seconds) * facts.fps * speed;
  return loop ? run % length : Math.min(run, length - 1);
}
