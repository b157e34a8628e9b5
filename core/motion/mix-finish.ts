/** Between two finishes of what is one layer to a viewer: while scenes carry it over. */
import type { Glow, LayerBlur, LayerFinish } from '../show/finish-records';
import { mixColour, mixNumber } from './mix';

function mixGlow(a: Glow | null, b: Glow | null, share: number): Glow | null {
  if (!a && !b) return null;
  // What only one of them has comes or goes by its strength.
  const from = a ?? { ...b!, strength: 0 };
  const to = b ?? { ...a!, strength: 0 };
  return {
    colour: mixColour(from.colour, to.colour, share),
    sizePx: mixNumber(from.sizePx, to.sizePx, share),
    strength: mixNumber(from.strength, to.strength, share),
  };
}

function mixBlur(a: LayerBlur | null, b: LayerBlur | null, share: number): LayerBlur | null {
  if (!a && !b) return null;
  const kind = (share < 0.5 ? a : b) ?? a ?? b!;
  const px = mixNumber(a?.px ?? 0, b?.px ?? 0, share);
  // An area is blurred for somebody's privacy: it stays as blurred as it is until the other has taken over.
  if (kind.part !== 'whole' && (!a || !b)) return kind;
  return { ...kind, px };
}

/** @param share 0…1; beyond that the nearer end holds */
export function mixFinish(a: LayerFinish, b: LayerFinish, share: number): LayerFinish {
  const s = Math.min(1, Math.max(0, share));
  if (a === b || s === 1) return b;
  if (s === 0) return a;
  const nearer = s < 0.5 ? a : b;
  return {
    // Nothing lies between two ways of blending, or between two masks.
    blend: nearer.blend,
    mask: nearer.mask,
    outerGlow: mixGlow(a.outerGlow, b.outerGlow, s),
    innerGlow: mixGlow(a.innerGlow, b.innerGlow, s),
    blur: mixBlur(a.blur, b.blur, s),
    shadow: {
      angleDeg: mixNumber(a.shadow.angleDeg, b.shadow.angleDeg, s),
      distance: mixNumber(a.shadow.distance, b.shadow.distance, s),
      softness: mixNumber(a.shadow.softness, b.shadow.softness, s),
      colour: mixColour(a.shadow.colour, b.shadow.colour, s),
    },
  };
}
