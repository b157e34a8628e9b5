/** What a file costs while it is shown, and whether a lighter copy would look the same. */
import type { Size } from '../geometry/rect';

export interface MediaFacts extends Size {
  /** Pictures a second; 0 for a still. */
  fps: number;
  kind: 'clips' | 'animation' | 'still';
}

export interface MediaCost {
  /** Held in memory while it is open, bytes. */
  bytes: number;
  /** Points decoded each second, of a picture that moves. */
  pointsPerSecond: number;
  /** How many times more points than the largest frame shows of it, and pictures than are sent. */
  excess: number;
  /** A lighter copy would be worth it. */
  heavy: boolean;
}

/** Decoders give pictures as 8-bit 4:2:0: a byte and a half a point. A still is held as RGBA. */
const BYTES_PER_POINT = { clips: 1.5, animation: 4, still: 4 } as const;
/** Pictures decoded ahead, the one that is shown, and what a decoder keeps to refer to. */
const PICTURES_HELD = { clips: 5 + 1 + 4, animation: 3 + 1, still: 1 } as const;
/** 2.7 s of stereo in 32-bit samples. */
const SOUND_BYTES = 131_072 * 8;
/** What costs less than half as much again is left as it is. */
const WORTH = 1.5;
/** 1280×720 at 30: below that no machine that can broadcast is troubled. */
const LIGHT_POINTS_PER_SECOND = 1280 * 720 * 30;

/**
 * @param shown the largest size it is seen at on any frame that is sent, pixels
 * @param sentFps pictures a second that are sent
 */
export function mediaCost(facts: MediaFacts, shown: Size, sentFps: number): MediaCost {
  const points = facts.width * facts.height;
  const bytes =
    points * BYTES_PER_POINT[facts.kind] * PICTURES_HELD[facts.kind] +
    (facts.kind === 'clips' ? SOUND_BYTES : 0);
  const pointsPerSecond = points * facts.fps;
  const useful =
    Math.max(1, Math.min(points, shown.width * shown.height)) * Math.min(facts.fps || 1, sentFps);
  const excess =
    facts.kind === 'still' ? points / Math.max(1, shown.width * shown.height) : pointsPerSecond / useful;
  return {
    bytes,
    pointsPerSecond,
    excess,
    heavy: facts.kind === 'clips' && excess > WORTH && pointsPerSecond > LIGHT_POINTS_PER_SECOND,
  };
}

/** The size and rate of a lighter copy: as large as it is shown, even sides, its own shape, no faster than is sent. */
export function lighterTarget(facts: MediaFacts, shown: Size, sentFps: number): Size & { fps: number } {
  // It is cut to the box when it fills it: the side that is cut must still be large enough.
  const scale = Math.min(1, Math.max(shown.width / facts.width, shown.height / facts.height));
  const even = (side: number) => Math.max(2, Math.round((side * scale) / 2) * 2);
  return {
    width: even(facts.width),
    height: even(facts.height),
    fps: Math.min(facts.fps || sentFps, sentFps),
  };
}
