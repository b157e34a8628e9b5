/** A layer's finish in output pixels, as the compositor draws it. */
import type { Rect } from '../geometry/rect';
import { finishReach, type Area, type Glow, type LayerBlur, type LayerFinish } from '../show/finish-records';
import type { Placement } from '../show/records';

export interface ItemShadow {
  /** Where it lies, in the item's own turned axes. */
  dxPx: number;
  dyPx: number;
  /** Standard deviation of its edge. */
  softPx: number;
  colour: string;
}

/** Sizes in output pixels. */
export type ItemFinish = Pick<LayerFinish, 'blend' | 'outerGlow' | 'innerGlow' | 'blur' | 'mask'>;

export interface Finished {
  shadow: ItemShadow | null;
  /** Null when nothing is done to the content. */
  finish: ItemFinish | null;
  /** How far shadow, glow and blur reach over the box. */
  reachPx: number;
}

const scaledGlow = (glow: Glow | null, scale: number): Glow | null =>
  glow && glow.sizePx * scale >= 0.5 && glow.strength > 0 ? { ...glow, sizePx: glow.sizePx * scale } : null;

const scaledBlur = (blur: LayerBlur | null, scale: number): LayerBlur | null => {
  if (!blur || (blur.part === 'inside' && blur.areas.length === 0)) return null;
  // What is blurred for privacy is blurred in a small picture too; a look may be too fine to see there.
  const px = blur.part === 'whole' ? blur.px * scale : Math.max(1, blur.px * scale);
  return px >= 0.3 ? { ...blur, px } : null;
};

/** @param scale output pixels for one frame pixel */
export function finishOf(finish: LayerFinish, placement: Placement, scale: number): Finished {
  const { blend, mask, shadow } = finish;
  const outerGlow = scaledGlow(finish.outerGlow, scale);
  const innerGlow = scaledGlow(finish.innerGlow, scale);
  const blur = scaledBlur(finish.blur, scale);
  const sizePx = placement.shadowPx * scale;
  const turned = ((shadow.angleDeg - placement.rotationDeg) * Math.PI) / 180;
  const away = sizePx * shadow.distance;
  return {
    shadow:
      sizePx > 0
        ? {
            dxPx: Math.cos(turned) * away,
            dyPx: Math.sin(turned) * away,
            softPx: sizePx * shadow.softness,
            colour: shadow.colour,
          }
        : null,
    finish:
      blend === 'normal' && !mask && !outerGlow && !innerGlow && !blur
        ? null
        : { blend, mask, outerGlow, innerGlow, blur },
    reachPx: finishReach(placement.shadowPx, finish) * scale,
  };
}

/**
 * The part of a layer that a rectangle on the frame covers; of a turned layer, the part below the rectangle's middle.
 * @param rect frame pixels
 * @returns shares of the layer's box, or null where they do not meet
 */
export function areaOfRect(rect: Rect, placement: Placement): Area | null {
  const { cx, cy, width, height, rotationDeg } = placement;
  const angle = (-rotationDeg * Math.PI) / 180;
  const [dx, dy] = [rect.x + rect.width / 2 - cx, rect.y + rect.height / 2 - cy];
  // The middle in the layer's own axes, from its left upper corner.
  const x = dx * Math.cos(angle) - dy * Math.sin(angle) + width / 2;
  const y = dx * Math.sin(angle) + dy * Math.cos(angle) + height / 2;
  const left = Math.max(0, (x - rect.width / 2) / width);
  const top = Math.max(0, (y - rect.height / 2) / height);
  const right = Math.min(1, (x + rect.width / 2) / width);
  const bottom = Math.min(1, (y + rect.height / 2) / height);
  return right > left && bottom > top ? { left, top, width: right - left, height: bottom - top } : null;
}
