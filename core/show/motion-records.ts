/** How scenes come on, how they glide from one arrangement to another, and what an arrangement is. Times in seconds. */
import type { Placements, StandingChange } from './record-base';

/**
 * Ways a scene comes on air. `carry`: what both scenes show moves from its place in the one to its place in the other;
 * the rest leaves and enters. `stinger`: a clip with transparency runs over both, and the scene changes under it.
 */
export const TRANSITIONS = ['cut', 'fade', 'dip', 'wipe', 'slide', 'zoom', 'carry', 'stinger'] as const;
export type TransitionType = (typeof TRANSITIONS)[number];

export const SIDES = ['left', 'right', 'top', 'bottom'] as const;
export type Side = (typeof SIDES)[number];

export interface Transition {
  type: TransitionType;
  seconds: number;
  /** A CSS timing function or `spring(bounce)`. */
  easing: string;
  /** Where a wipe or a slide comes from. */
  side: Side;
  /** What a dip goes through. */
  colour: string;
  /** The clip of a stinger, which then takes as long as `seconds` says; without one it is a fade. */
  stinger: Stinger | null;
}

export interface Stinger {
  assetId: string;
  name: string;
  /** Length of the clip; the transition takes just as long. */
  seconds: number;
  /** From its start to the change of scene, which it covers. */
  coverSeconds: number;
  /** Whether the clip has sound, which then goes through the mixer's effects. */
  sounds: boolean;
  gainDb: number;
}

/** How long a movement takes, and how its speed goes. */
export interface GlideTiming {
  seconds: number;
  /** A CSS timing function or `spring(bounce)`. */
  easing: string;
}

/** Timing of the glides of a scene. */
export interface SceneGlide extends GlideTiming {
  /** Each layer that moves begins so much after the one below it. */
  staggerSeconds: number;
}

export const LAYER_MOTIONS = ['fade', 'slide', 'zoom', 'wipe', 'cut'] as const;
export type LayerMotionType = (typeof LAYER_MOTIONS)[number];

/** How a layer comes and goes between two arrangements. */
export interface LayerMotion {
  enter: LayerMotionType;
  leave: LayerMotionType;
  /** Where it comes from and goes to, and where a wipe begins. */
  side: Side;
  /** Null: as the pose or the scene says. */
  timing: GlideTiming | null;
}

/** A layer as one pose has it. */
export interface PosedLayer {
  visible: boolean;
  placements: Placements;
  /** Of a shape; null for other layers. */
  colour: string | null;
  /** Left out by poses of earlier versions: as the layer has it by itself. */
  gradeId?: string | null;
}

/** One arrangement of a scene. Layers it does not name stand as they do by themselves. */
export interface PoseFields {
  sceneId: string;
  /** A digit from 1 to 9, pressed while the scene is on air; empty for none. */
  key: string;
  /** Of the glide into this pose; null: as the scene says. */
  glide: GlideTiming | null;
  /** By layer id. */
  layers: Record<string, PosedLayer>;
  /** What the scene does with standing layers in this pose. */
  standing: Record<string, StandingChange>;
}

export const CUT: Transition = {
  type: 'cut',
  seconds: 0,
  easing: 'ease-in-out',
  side: 'left',
  colour: '#14181D',
  stinger: null,
};
export const FADE: Transition = { ...CUT, type: 'fade', seconds: 0.5 };
export const START_GLIDE: SceneGlide = { seconds: 0.5, easing: 'ease-in-out', staggerSeconds: 0 };
export const PLAIN_MOTION: LayerMotion = { enter: 'fade', leave: 'fade', side: 'bottom', timing: null };
