/** How pictures are coloured: grades with names, shared among inputs and layers, and the colour that is keyed out. */

/** All 0 and gamma 1: nothing is changed. */
export interface GradeValues {
  /** −1…1: half of the full range down or up. */
  brightness: number;
  /** −1…1: a quarter to four times, about the middle. */
  contrast: number;
  /** −1…1: grey to twice as colourful. */
  saturation: number;
  /** −1…1: one stop colder to one stop warmer. */
  temperature: number;
  /** −1…1: one stop greener to one stop more magenta. */
  tint: number;
  /** 0.2…5: above 1 brightens the middle. */
  gamma: number;
}

export const GRADE_RANGES: Record<keyof GradeValues, { min: number; max: number }> = {
  brightness: { min: -1, max: 1 },
  contrast: { min: -1, max: 1 },
  saturation: { min: -1, max: 1 },
  temperature: { min: -1, max: 1 },
  tint: { min: -1, max: 1 },
  gamma: { min: 0.2, max: 5 },
};

export const NO_GRADE: GradeValues = {
  brightness: 0,
  contrast: 0,
  saturation: 0,
  temperature: 0,
  tint: 0,
  gamma: 1,
};

export interface GradeFields {
  values: GradeValues;
  /** A `.cube` table after the values, mixed in by its strength, 0…1. */
  table: { assetId: string; name: string; strength: number } | null;
  /** How much skin is smoothed, 0…1. */
  smoothing: number;
}

/** A colour that becomes transparent. All shares 0…1. */
export interface ColourKey {
  colour: string;
  /** How far from it a colour may be and still go: of the way to grey for a full colour. */
  tolerance: number;
  /** How much further until nothing goes. */
  softness: number;
  /** How much of its cast is taken from what stays. */
  spill: number;
  /** How much the edge is drawn inwards. */
  edge: number;
}

export const START_KEY: ColourKey = {
  colour: '#2f9e5b',
  tolerance: 0.28,
  softness: 0.12,
  spill: 0.7,
  edge: 0.2,
};
