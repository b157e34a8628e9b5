/** How a layer is finished after its picture is there: edges, blur, mask, and how it lies on what is below it. */

/** How a layer's colours meet those below it, as in W3C Compositing and Blending Level 1; `add` is its `plus-lighter`. */
export const BLENDS = ['normal', 'add', 'multiply', 'screen'] as const;
export type Blend = (typeof BLENDS)[number];

export interface Glow {
  colour: string;
  /** How far it reaches, frame pixels. */
  sizePx: number;
  /** 0…1: how bright it is at the edge. */
  strength: number;
}

/** A part of a layer's box, in shares of it, 0…1. */
export interface Area {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** `outside` leaves the areas sharp and blurs the rest; without an area that is everything. */
export const BLUR_PARTS = ['whole', 'inside', 'outside'] as const;
export type BlurPart = (typeof BLUR_PARTS)[number];

export interface LayerBlur {
  /** Standard deviation, frame pixels. */
  px: number;
  part: BlurPart;
  areas: Area[];
}

export const MASK_BY = ['brightness', 'transparency'] as const;

/** A picture that says where the layer is seen, stretched over its box. */
export interface LayerMask {
  assetId: string;
  name: string;
  by: (typeof MASK_BY)[number];
  /** Seen where the picture is dark, or transparent. */
  inverted: boolean;
}

/** How the placement's shadow lies. Shares are of the placement's `shadowPx`. */
export interface ShadowLook {
  /** Where it falls, degrees clockwise from the right: 90 is straight down. Does not turn with the layer. */
  angleDeg: number;
  distance: number;
  softness: number;
  colour: string;
}

export interface LayerFinish {
  blend: Blend;
  outerGlow: Glow | null;
  innerGlow: Glow | null;
  blur: LayerBlur | null;
  mask: LayerMask | null;
  shadow: ShadowLook;
}

export const FINISH_LIMITS = {
  glowPx: 200,
  blurPx: 100,
  areas: 8,
  shadowDistance: 3,
  shadowSoftness: 1.5,
} as const;

export const START_SHADOW: ShadowLook = { angleDeg: 90, distance: 0.35, softness: 0.6, colour: '#000000a0' };

export const PLAIN_FINISH: LayerFinish = {
  blend: 'normal',
  outerGlow: null,
  innerGlow: null,
  blur: null,
  mask: null,
  shadow: START_SHADOW,
};

export const START_GLOW: Glow = { colour: '#63BDBB', sizePx: 24, strength: 0.8 };
export const START_BLUR: LayerBlur = { px: 16, part: 'whole', areas: [] };
export const START_AREA: Area = { left: 0.25, top: 0.25, width: 0.5, height: 0.5 };

/** A blur is taken for nothing beyond so many standard deviations: a normal distribution leaves 1 % there. */
const REACH_DEVIATIONS = 2.5;

/** How far a layer's picture reaches over its box by shadow and glow, frame pixels. */
export function finishReach(shadowPx: number, { shadow, outerGlow, blur }: LayerFinish): number {
  return Math.max(
    shadowPx * (shadow.distance + shadow.softness * REACH_DEVIATIONS),
    outerGlow ? outerGlow.sizePx * 1.5 : 0,
    blur?.part === 'whole' ? blur.px * REACH_DEVIATIONS : 0,
  );
}
