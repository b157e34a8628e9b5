/** What kits are written with: layers with a place in both frames, in parts of each. */
import { PLAIN_ALERT_RULE, type AlertRuleRecord, type GoalRecord } from '../show/audience-records';
import {
  DEFAULT_TEXT_STYLE,
  fullPlacement,
  PLAIN_INPUT,
  PLAIN_LAYER,
  PLAIN_SCENE,
  type AnyRecord,
  type BackgroundLook,
  type LayerContent,
  type LayerRecord,
  type Placement,
  type SceneRecord,
  type TextStyle,
} from '../show/records';
import { KIT_FORMAT, KIT_VERSION, type Kit, type PaletteColour } from '../parts/kit';

const WIDE = { width: 1920, height: 1080 };
const TALL = { width: 1080, height: 1920 };

/** Left, top, width and height in parts of the frame. */
export type Share = readonly [x: number, y: number, width: number, height: number];

export interface Look extends Partial<Omit<LayerRecord, 'placements'>> {
  /** Beside its place. */
  wide?: Partial<Placement>;
  tall?: Partial<Placement>;
}

function placedAt(
  frame: { width: number; height: number },
  [x, y, w, h]: Share,
  look: Partial<Placement>,
): Placement {
  return {
    ...fullPlacement(frame),
    ...{ cx: (x + w / 2) * frame.width, cy: (y + h / 2) * frame.height },
    ...{ width: w * frame.width, height: h * frame.height },
    ...look,
  };
}

/** Collects the records of a kit, under ids that are told apart by their order. */
export class KitBuilder {
  readonly #records: AnyRecord[] = [];
  #scene: SceneRecord | null = null;
  #count = 0;

  constructor(readonly prefix: string) {}

  get #base() {
    return { id: `${this.prefix}-${(this.#count += 1)}`, showId: 'parts', position: this.#count };
  }

  /** Layers that follow are in this scene, each above the one before. */
  scene(name: string, background: string, more: Partial<SceneRecord> = {}): this {
    this.#scene = { kind: 'scene', ...this.#base, name, ...PLAIN_SCENE, background, ...more };
    this.#records.push(this.#scene);
    return this;
  }

  /** An input that paints a ground. @returns its id */
  ground(name: string, look: BackgroundLook): string {
    const base = this.#base;
    this.#records.push({
      kind: 'input',
      ...base,
      name,
      ...PLAIN_INPUT,
      source: { type: 'background', ...look },
    });
    return base.id;
  }

  /** @param tall null: not in the tall frame */
  layer(name: string, content: LayerContent, wide: Share, tall: Share | null, look: Look = {}): this {
    const { wide: wideLook = {}, tall: tallLook = {}, ...rest } = look;
    this.#records.push({
      ...{ kind: 'layer', ...this.#base, name, sceneId: this.#scene!.id },
      ...{ ...PLAIN_LAYER, content },
      placements: {
        wide: placedAt(WIDE, wide, wideLook),
        ...(tall && { tall: placedAt(TALL, tall, tallLook) }),
      },
      ...rest,
    });
    return this;
  }

  picture(name: string, inputId: string): this {
    const whole: Share = [0, 0, 1, 1];
    return this.layer(name, { type: 'input', inputId, fit: 'fill' }, whole, whole);
  }

  shape(
    name: string,
    shape: Extract<LayerContent, { type: 'shape' }>['shape'],
    colour: string,
    wide: Share,
    tall: Share | null,
    look: Look = {},
  ): this {
    return this.layer(name, { type: 'shape', shape, colour }, wide, tall, look);
  }

  words(
    name: string,
    text: string,
    style: Partial<TextStyle>,
    wide: Share,
    tall: Share | null,
    look: Look = {},
  ): this {
    return this.layer(
      name,
      { type: 'text', text, style: { ...DEFAULT_TEXT_STYLE, ...style } },
      wide,
      tall,
      look,
    );
  }

  alert(rule: Partial<AlertRuleRecord> & Pick<AlertRuleRecord, 'name' | 'event' | 'text'>): this {
    this.#records.push({ kind: 'alertRule', ...this.#base, ...PLAIN_ALERT_RULE, ...rule });
    return this;
  }

  /** @returns its id */
  goal(goal: Omit<GoalRecord, 'kind' | 'id' | 'showId' | 'position'>): string {
    const base = this.#base;
    this.#records.push({ kind: 'goal', ...base, ...goal });
    return base.id;
  }

  done(name: string, about: string, fields: Record<string, string>, palette: readonly PaletteColour[]): Kit {
    return {
      ...{ format: KIT_FORMAT, version: KIT_VERSION, name, about, madeAt: '2026-11-29T00:00:00.000Z' },
      ...{ records: this.#records, frames: { wide: WIDE, tall: TALL }, fields },
      ...{ palette: [...palette], files: [] },
    };
  }
}
