/** Joi schemas of what stands on the stage: inputs, layers, placements. */
import Joi from 'joi';
import { INPUT_KINDS } from '../core/show/input-kinds';
import { FITS, FONTS, FRAME_NAMES, SCENE_MARKS, SHAPES, TURNS } from '../core/show/records';
import { easingProblem } from '../core/motion/easing';
import { GRADE_RANGES } from '../core/show/colour-records';
import { BLENDS, BLUR_PARTS, FINISH_LIMITS, MASK_BY } from '../core/show/finish-records';
import { LAYER_MOTIONS, SIDES, TRANSITIONS } from '../core/show/motion-records';
import { colour, id, oneOf, yes } from './field-schemas';
import { kindSchema } from './shape-schemas';
import { chatPanelSchema, widgetSchema } from './widget-schemas';

const type = (name: string) => Joi.string().valid(name).required();
const pixels = Joi.number().min(-20_000).max(20_000).required();
const size = Joi.number().min(1).max(20_000).required();
const part = Joi.number().min(0).max(0.99).required();

const crop = Joi.object({ left: part, top: part, right: part, bottom: part })
  .custom((value: { left: number; top: number; right: number; bottom: number }, helpers) =>
    value.left + value.right > 0.99 || value.top + value.bottom > 0.99 ? helpers.error('crop.all') : value,
  )
  .messages({ 'crop.all': 'the crop would leave nothing of the picture' })
  .required();

const placement = Joi.object({
  cx: pixels,
  cy: pixels,
  width: size,
  height: size,
  rotationDeg: Joi.number().min(-360).max(360).required(),
  opacity: Joi.number().min(0).max(1).required(),
  cornerPx: Joi.number().min(0).max(10_000).required(),
  crop,
  flipX: yes,
  flipY: yes,
  borderPx: Joi.number().min(0).max(200).required(),
  borderColour: colour,
  shadowPx: Joi.number().min(0).max(200).required(),
});
const placements = Joi.object(Object.fromEntries(FRAME_NAMES.map((f) => [f, placement]))).required();

export const textStyle = Joi.object({
  font: oneOf(FONTS),
  ownFont: Joi.object({ assetId: id, name: Joi.string().min(1).max(200).required() }),
  sizePx: Joi.number().min(6).max(1000).required(),
  weight: Joi.number().min(100).max(900).required(),
  colour,
  align: oneOf(['left', 'center', 'right']),
  box: Joi.alternatives(Joi.string().valid('none'), colour).required(),
  outlinePx: Joi.number().min(0).max(100).required(),
  outlineColour: colour,
  shadowPx: Joi.number().min(0).max(100).required(),
  wrap: yes,
  tickerPxPerSecond: Joi.number().min(0).max(4000).required(),
}).required();

const fit = oneOf(FITS);
const content = Joi.alternatives(
  Joi.object({ type: type('input'), inputId: id, fit }),
  Joi.object({ type: type('text'), text: Joi.string().allow('').max(5000).required(), style: textStyle }),
  Joi.object({ type: type('shape'), shape: oneOf(SHAPES), colour }),
  Joi.object({ type: type('group') }),
  Joi.object({ type: type('inset'), sceneId: id, fit }),
  Joi.object({
    type: type('chatPanel'),
    style: textStyle,
    keepSeconds: Joi.number().min(1).max(3600).required(),
    panel: chatPanelSchema,
    accent: colour,
  }),
  Joi.object({ type: type('alert'), style: textStyle }),
  Joi.object({ type: type('widget'), widget: widgetSchema, style: textStyle, accent: colour }),
);

const share = Joi.number().min(0).max(1).required();
const glow = Joi.object({
  colour,
  sizePx: Joi.number().min(0).max(FINISH_LIMITS.glowPx).required(),
  strength: share,
})
  .allow(null)
  .required();
const finish = Joi.object({
  blend: oneOf(BLENDS),
  outerGlow: glow,
  innerGlow: glow,
  blur: Joi.object({
    px: Joi.number().min(0).max(FINISH_LIMITS.blurPx).required(),
    part: oneOf(BLUR_PARTS),
    areas: Joi.array()
      .items(Joi.object({ left: share, top: share, width: share, height: share }))
      .max(FINISH_LIMITS.areas)
      .required(),
  })
    .allow(null)
    .required(),
  mask: Joi.object({
    assetId: id,
    name: Joi.string().min(1).max(200).required(),
    by: oneOf(MASK_BY),
    inverted: yes,
  })
    .allow(null)
    .required(),
  shadow: Joi.object({
    angleDeg: Joi.number().min(-360).max(360).required(),
    distance: Joi.number().min(0).max(FINISH_LIMITS.shadowDistance).required(),
    softness: Joi.number().min(0).max(FINISH_LIMITS.shadowSoftness).required(),
    colour,
  }).required(),
}).required();
const colourKey = Joi.object({
  colour: Joi.string()
    .pattern(/^#[0-9a-f]{6}$/i)
    .required(),
  tolerance: share,
  softness: share,
  spill: share,
  edge: share,
}).required();

export const gradeFields = {
  smoothing: share,
  values: Joi.object(
    Object.fromEntries(
      Object.entries(GRADE_RANGES).map(([name, { min, max }]) => [
        name,
        Joi.number().min(min).max(max).required(),
      ]),
    ),
  ).required(),
  table: Joi.object({ assetId: id, name: Joi.string().min(1).max(200).required(), strength: share })
    .allow(null)
    .required(),
};

/** Fields of an input beside those every record has. */
export const inputFields = {
  source: kindSchema('type', INPUT_KINDS),
  crop,
  turnDeg: oneOf(TURNS),
  mirrored: yes,
  keepReady: yes,
  standInId: id.allow(null),
  key: colourKey.allow(null),
  gradeId: id.allow(null),
};

const seconds = Joi.number().min(0).max(10).required();
const easing = Joi.string()
  .max(80)
  .custom((value: string, helpers) => {
    const problem = easingProblem(value);
    return problem === null ? value : helpers.message({ custom: problem });
  })
  .required();
const timing = Joi.object({ seconds, easing }).required();

export const transitionSchema = Joi.object({
  type: oneOf(TRANSITIONS),
  seconds,
  easing,
  side: oneOf(SIDES),
  colour,
  stinger: Joi.object({
    assetId: id,
    name: Joi.string().min(1).max(200).required(),
    seconds,
    coverSeconds: Joi.number().min(0).max(Joi.ref('seconds')).required(),
    sounds: yes,
    gainDb: Joi.number().min(-60).max(12).required(),
  })
    .allow(null)
    .required(),
}).required();

const byId = (of: Joi.Schema, most: number) =>
  Joi.object()
    .pattern(/^[\w-]{1,64}$/, of)
    .max(most)
    .required();
const standing = byId(Joi.object({ hidden: yes, placements }), 200);

export const sceneFields = {
  folder: Joi.string().allow('').max(80).required(),
  mark: oneOf(SCENE_MARKS),
  transition: transitionSchema.allow(null),
  transitionAfter: byId(transitionSchema, 500),
  glide: Joi.object({ seconds, easing, staggerSeconds: Joi.number().min(0).max(2).required() }).required(),
  background: colour,
  standing,
};

export const poseFields = {
  sceneId: id,
  key: Joi.string()
    .pattern(/^[1-9]$/)
    .allow('')
    .required()
    .messages({ 'string.pattern.base': 'the key of a pose is one digit from 1 to 9' }),
  glide: timing.allow(null),
  layers: byId(
    Joi.object({ visible: yes, placements, colour: colour.allow(null), gradeId: id.allow(null).optional() }),
    1000,
  ),
  standing,
};

export const layerFields = {
  sceneId: id.allow(null),
  groupId: id.allow(null),
  visible: yes,
  locked: yes,
  content: content.required(),
  placements,
  motion: Joi.object({
    enter: oneOf(LAYER_MOTIONS),
    leave: oneOf(LAYER_MOTIONS),
    side: oneOf(SIDES),
    timing: timing.allow(null),
  }).required(),
  gradeId: id.allow(null),
  finish,
};
