/** Records for tests: a small show to build documents from. Used by tests only. */
import { START_AUDIENCE } from '../audience/settings';
import { PLAIN_DESTINATION, START_DELIVERY } from '../delivery/settings';
import { documentOf, type ShowDocument } from './document';
import { CUT, FADE } from './motion-records';
import {
  fullPlacement,
  PLAIN_INPUT,
  PLAIN_LAYER,
  PLAIN_SCENE,
  START_SOUND,
  type AnyRecord,
  type DestinationRecord,
  type InputRecord,
  type LayerContent,
  type LayerRecord,
  type Placement,
  type SceneRecord,
  type ShowRecord,
} from './records';

export const WIDE = { width: 1920, height: 1080 };
export const TALL = { width: 1080, height: 1920 };

export const sampleShow: ShowRecord = {
  kind: 'show',
  id: 'show',
  showId: 'show',
  name: 'Night Signal Box',
  position: 0,
  sound: START_SOUND,
  audience: START_AUDIENCE,
  delivery: START_DELIVERY,
  frames: { wide: { ...WIDE, used: true }, tall: { ...TALL, used: true } },
  fields: { host: 'lampwright' },
  transition: FADE,
  kits: [],
};

export function sampleScene(id: string, more: Partial<SceneRecord> = {}): SceneRecord {
  return {
    kind: 'scene',
    id,
    showId: 'show',
    name: id,
    position: 0,
    ...PLAIN_SCENE,
    transition: CUT,
    ...more,
  };
}

export function sampleDestination(id: string, more: Partial<DestinationRecord> = {}): DestinationRecord {
  return {
    ...{ kind: 'destination', id, showId: 'show', name: id, position: 0 },
    ...{ url: 'rtmp://larch.test/live', frame: 'wide', enabled: true, connector: null },
    ...PLAIN_DESTINATION,
    ...more,
  };
}

export function sampleInput(id: string, more: Partial<InputRecord> = {}): InputRecord {
  return {
    kind: 'input',
    id,
    showId: 'show',
    name: id,
    position: 0,
    source: { type: 'simulated', picture: 'desk-camera' },
    ...PLAIN_INPUT,
    ...more,
  };
}

/** A rectangle over the whole wide frame, unless told otherwise. */
export function sampleLayer(
  id: string,
  sceneId: string | null,
  position: number,
  more: Partial<Omit<LayerRecord, 'placements'>> & {
    wide?: Partial<Placement>;
    tall?: Partial<Placement>;
  } = {},
): LayerRecord {
  const { wide, tall, ...rest } = more;
  const content: LayerContent = { type: 'shape', shape: 'rectangle', colour: '#26324f' };
  return {
    kind: 'layer',
    id,
    showId: 'show',
    name: id,
    position,
    sceneId,
    ...PLAIN_LAYER,
    content,
    placements:
      rest.content?.type === 'group'
        ? {}
        : {
            wide: { ...fullPlacement(WIDE), ...wide },
            ...(tall && { tall: { ...fullPlacement(TALL), ...tall } }),
          },
    ...rest,
  };
}

export function sampleDocument(...records: AnyRecord[]): ShowDocument {
  return documentOf([sampleShow, ...records]);
}
