/** Shows to start from, and what the first minutes add to them: computed, no interface. */
import { START_WORDS } from '../audience/alert-rules';
import type { EventType } from '../audience/events';
import { START_AUDIENCE } from '../audience/settings';
import { startWidget } from '../audience/widgets/widgets';
import { keyInAddress } from '../delivery/ingest-address';
import { PLAIN_DESTINATION, PLAIN_DETAILS, PLAIN_PLAN, START_DELIVERY } from '../delivery/settings';
import { placementOfRect } from '../geometry/rect';
import { rectOfShare, TEMPLATES, type Template } from '../scene/templates';
import { newProcessor, VOICE_ORDER } from '../sound/chain/chain-settings';
import { PLAIN_ALERT_RULE } from './audience-records';
import { documentOf, findRecord, recordsOf, type ShowDocument } from './document';
import { FADE } from './motion-records';
import {
  DEFAULT_TEXT_STYLE,
  fullPlacement,
  PLAIN_CHANNEL,
  PLAIN_INPUT,
  PLAIN_LAYER,
  PLAIN_SCENE,
  SIMULATED_EFFECTS,
  START_SOUND,
  type AnyRecord,
  type ChannelRecord,
  type DestinationRecord,
  type FrameName,
  type InputRecord,
  type LayerContent,
  type LayerRecord,
  type Placement,
  type SceneRecord,
  type ShowRecord,
  type TextStyle,
} from './records';
import { freeName, newInput, sceneFromTemplate, type NewId } from './stage-edits';

const FRAMES = { wide: { width: 1920, height: 1080 }, tall: { width: 1080, height: 1920 } };
/** What every computer carries that runs a studio at all; measuring proposes more. */
const START_FRAMES = {
  wide: { width: 960, height: 540, videoKbps: 2000 },
  tall: { width: 360, height: 640, videoKbps: 1000 },
};

type Share = readonly [x: number, y: number, width: number, height: number];

/** Both frames, from shares of them. */
function placed(wide: Share, tall: Share, look: Partial<Placement> = {}): Record<FrameName, Placement> {
  const of = (share: Share, frame: FrameName): Placement => ({
    ...fullPlacement(FRAMES[frame]),
    ...look,
    ...placementOfRect(rectOfShare(share, FRAMES[frame])),
  });
  return { wide: of(wide, 'wide'), tall: of(tall, 'tall') };
}

const WHOLE: Share = [0, 0, 1, 1];
const TITLE: Partial<TextStyle> = {
  font: 'Bricolage Grotesque Variable',
  weight: 700,
  align: 'center',
};

/** Adds records one after the other, numbering layers within their scene. */
class Writer {
  readonly records: AnyRecord[] = [];
  readonly #layers = new Map<string | null, number>();

  constructor(
    readonly showId: string,
    readonly newId: NewId,
  ) {}

  scene(name: string, position: number, more: Partial<SceneRecord> = {}): string {
    const id = this.newId();
    this.records.push({
      ...{ kind: 'scene', id, showId: this.showId, name, position },
      ...PLAIN_SCENE,
      ...more,
    });
    return id;
  }

  layer(
    sceneId: string | null,
    name: string,
    content: LayerContent,
    placements: Record<FrameName, Placement>,
    more: Partial<LayerRecord> = {},
  ): string {
    const id = this.newId();
    const position = this.#layers.get(sceneId) ?? 0;
    this.#layers.set(sceneId, position + 1);
    this.records.push({
      ...{ kind: 'layer', id, showId: this.showId, name, position, sceneId },
      ...PLAIN_LAYER,
      content,
      placements,
      ...more,
    });
    return id;
  }
}

/** The show's own record, and a plan: what even a blank one has. */
function ground(id: string, name: string, fields: Record<string, string>, newId: NewId): AnyRecord[] {
  const show: ShowRecord = {
    ...{ kind: 'show', id, showId: id, name, position: 0 },
    sound: START_SOUND,
    audience: START_AUDIENCE,
    delivery: START_DELIVERY,
    frames: { wide: { ...FRAMES.wide, used: true }, tall: { ...FRAMES.tall, used: true } },
    fields,
    transition: FADE,
    kits: [],
  };
  return [
    show,
    {
      ...{ kind: 'plan', id: newId(), showId: id, name: 'First plan', position: 0 },
      ...PLAIN_PLAN,
      frames: START_FRAMES,
    },
  ];
}

/** One empty scene, and nothing else. */
export function blankShow(id: string, name: string, newId: NewId): AnyRecord[] {
  const writer = new Writer(id, newId);
  writer.scene('Scene 1', 0);
  return [...ground(id, name, {}, newId), ...writer.records];
}

const START_EVENTS: readonly EventType[] = ['follow', 'subscription', 'donation', 'raid'];
const EVENT_NAMES: Partial<Record<EventType, string>> = {
  follow: 'Follow',
  subscription: 'Subscription',
  donation: 'Donation',
  raid: 'Raid',
};

/**
 * A show to go live with in its first minutes: a scene to wait in, one to talk in and one for breaks, in both frames, with the
 * default camera and microphone; alerts and chat where they cover no face.
 *
 * @param handle how viewers know the host; may be empty
 */
export function firstShow(id: string, name: string, handle: string, newId: NewId): AnyRecord[] {
  const records = ground(id, name, { host: handle, title: name }, newId);
  const writer = new Writer(id, newId);
  const camera = cameraInput(id, newId());
  const back: InputRecord = {
    ...{ kind: 'input', id: newId(), showId: id, name: 'Background', position: 1 },
    ...PLAIN_INPUT,
    source: {
      type: 'background',
      look: 'texture',
      texture: 'strata',
      colour: '#26324F',
      ink: '#3A4A70',
      seed: 9,
    },
  };
  records.push(camera, back);
  const text = (words: string, style: Partial<TextStyle>): LayerContent => ({
    type: 'text',
    text: words,
    style: { ...DEFAULT_TEXT_STYLE, ...TITLE, ...style },
  });
  const behind: LayerContent = { type: 'input', inputId: back.id, fit: 'fill' };

  const start = writer.scene('Starting soon', 0);
  writer.layer(start, 'Background', behind, placed(WHOLE, WHOLE), { locked: true });
  writer.layer(
    start,
    'Title',
    text('{{title}}', { sizePx: 84 }),
    placed([0.1, 0.2, 0.8, 0.16], [0.06, 0.2, 0.88, 0.1]),
  );
  writer.layer(
    start,
    'Countdown',
    {
      type: 'widget',
      widget: startWidget('countdown'),
      accent: '#63BDBB',
      style: { ...DEFAULT_TEXT_STYLE, ...TITLE, sizePx: 200 },
    },
    placed([0.25, 0.4, 0.5, 0.26], [0.06, 0.36, 0.88, 0.16]),
  );

  const rest = writer.scene('Break', 2, { background: '#26324F' });
  writer.layer(rest, 'Background', behind, placed(WHOLE, WHOLE), { locked: true });
  writer.layer(
    rest,
    'Words',
    text('Back in a moment', { sizePx: 104 }),
    placed([0.1, 0.36, 0.8, 0.2], [0.06, 0.4, 0.88, 0.12]),
  );

  // In Wide beside the head, in Tall below it; the name and the chat panel of the talk scene stand elsewhere.
  writer.layer(
    null,
    'Alerts',
    {
      type: 'alert',
      style: { ...DEFAULT_TEXT_STYLE, ...TITLE, sizePx: 40, box: '#63BDBBF2', colour: '#10201F' },
    },
    placed([0.02, 0.05, 0.34, 0.13], [0.06, 0.6, 0.88, 0.08], { cornerPx: 40 }),
  );
  for (const [position, event] of START_EVENTS.entries())
    writer.records.push({
      ...{ kind: 'alertRule', id: newId(), showId: id, name: EVENT_NAMES[event] ?? event, position },
      ...PLAIN_ALERT_RULE,
      event,
      text: START_WORDS[event],
      sound: { type: 'simulated', effect: event === 'raid' ? 'whistle' : 'bell' },
    });
  records.push(...writer.records, voiceChannel(id, newId), ...helperChannels(id, newId));
  const document = documentOf(records);
  const talk = sceneOfTemplate(document, 'talk', 'Talk', { host: camera.id }, newId);
  // Between the other two.
  return [
    ...records,
    ...talk.map((record) => (record.kind === 'scene' ? { ...record, position: 1 } : record)),
  ];
}

function cameraInput(showId: string, id: string): InputRecord {
  return {
    ...{ kind: 'input', id, showId, name: 'Camera', position: 0 },
    ...PLAIN_INPUT,
    mirrored: false,
    source: {
      type: 'camera',
      deviceId: '',
      deviceLabel: '',
      width: 1280,
      height: 720,
      fps: 30,
      controls: {},
      deinterlace: false,
    },
  };
}

function voiceChannel(showId: string, newId: NewId): ChannelRecord {
  return {
    ...{ kind: 'channel', id: newId(), showId, name: 'Voice', position: 0 },
    ...PLAIN_CHANNEL,
    source: { type: 'microphone', deviceId: '', deviceLabel: '', processed: false },
    gainDb: 0,
    colour: 'glacier',
    role: 'voice',
    tracks: [1, 2],
    chain: { bypassed: false, processors: VOICE_ORDER.map((type) => newProcessor(type, newId())) },
  };
}

/** What is heard beside the voice: effect buttons with four sounds on them, and alerts that are read out. */
function helperChannels(showId: string, newId: NewId): AnyRecord[] {
  const channel = (
    name: string,
    position: number,
    source: ChannelRecord['source'],
    tracks: number[],
  ): AnyRecord => ({
    ...{ kind: 'channel', id: newId(), showId, name, position },
    ...PLAIN_CHANNEL,
    source,
    tracks,
    gainDb: -8,
  });
  const names = { bell: 'Bell', whistle: 'Whistle', lever: 'Lever', cheer: 'Cheer' };
  return [
    channel('Effects', 1, { type: 'effects' }, [1, 6]),
    channel('Alerts read out', 2, { type: 'speech' }, [1, 6]),
    ...SIMULATED_EFFECTS.map((effect, position): AnyRecord => ({
      ...{ kind: 'effect', id: newId(), showId, name: names[effect], position },
      source: { type: 'simulated', effect },
      gainDb: -3,
      repeat: 'restart',
      fadeSeconds: 0.3,
      colour: 'slate',
      key: String(position + 1),
    })),
  ];
}

function templateOf(id: string): Template {
  return TEMPLATES.find((template) => template.id === id)!;
}

/** A scene of a template with these inputs on its parts; parts that need one and have none are left out. */
function sceneOfTemplate(
  document: ShowDocument,
  template: string,
  name: string,
  inputs: Record<string, string | undefined>,
  newId: NewId,
): AnyRecord[] {
  const of = templateOf(template);
  const choice = Object.fromEntries(
    of.parts.map(({ id, type }) => [
      id,
      { taken: type === 'text' || type === 'chat' || inputs[id] !== undefined, inputId: inputs[id] ?? null },
    ]),
  );
  // A panel that nobody writes in yet must not stand there as an empty box.
  return sceneFromTemplate(document, of, choice, name, '', newId).map((record) =>
    record.kind === 'layer' && record.content.type === 'chatPanel'
      ? {
          ...record,
          content: {
            ...record.content,
            style: { ...record.content.style, box: 'none' },
            panel: { ...record.content.panel, theme: 'cards' },
          },
        }
      : record,
  );
}

/** The camera of the first minutes: the first one there is. */
export function firstCamera(document: ShowDocument): InputRecord | null {
  return recordsOf(document, 'input').find(({ source }) => source.type === 'camera') ?? null;
}

/** The voice of the first minutes: the first microphone. */
export function firstVoice(document: ShowDocument): ChannelRecord | null {
  return recordsOf(document, 'channel').find(({ source }) => source.type === 'microphone') ?? null;
}

/** What is shown beside the host: the first shared screen or window. */
export function firstScreen(document: ShowDocument): InputRecord | null {
  return recordsOf(document, 'input').find(({ source }) => source.type === 'screen') ?? null;
}

export interface ChosenDevice {
  deviceId: string;
  deviceLabel: string;
}

export interface Changes {
  put: AnyRecord[];
  removed: string[];
}

/**
 * Another camera, or none. A camera that had been left out comes back below everything in the scenes that have nothing of
 * their own in the back.
 */
export function chooseCamera(document: ShowDocument, device: ChosenDevice | null, newId: NewId): Changes {
  const camera = firstCamera(document);
  if (device === null) return { put: [], removed: camera ? [camera.id] : [] };
  if (camera?.source.type === 'camera')
    return { put: [{ ...camera, source: { ...camera.source, ...device } }], removed: [] };
  const showId = recordsOf(document, 'show')[0].id;
  const made = cameraInput(showId, newId());
  const input: InputRecord = {
    ...made,
    source: { ...made.source, ...device } as InputRecord['source'],
    name: freeName(
      recordsOf(document, 'input').map((i) => i.name),
      made.name,
    ),
  };
  const layers = recordsOf(document, 'scene').flatMap((scene): AnyRecord[] => {
    const inScene = recordsOf(document, 'layer').filter((layer) => layer.sceneId === scene.id);
    const shows = (type: string) =>
      inScene.some(
        ({ content }) =>
          content.type === 'input' && findRecord(document, 'input', content.inputId)?.source.type === type,
      );
    // A scene to wait in has a background, and no host.
    if (shows('background')) return [];
    const part = templateOf(shows('screen') ? 'game' : 'talk').parts.find(({ id }) => id === 'host')!;
    const below = Math.min(0, ...inScene.map(({ position }) => position)) - 1;
    const above = Math.max(-1, ...inScene.map(({ position }) => position)) + 1;
    return [
      {
        ...{ kind: 'layer', id: newId(), showId, name: input.name, sceneId: scene.id },
        position: shows('screen') ? above : below,
        ...PLAIN_LAYER,
        content: { type: 'input', inputId: input.id, fit: 'fill' },
        placements: placed(part.wide, part.tall ?? WHOLE, { cornerPx: (part.corner ?? 0) * 1080 }),
      },
    ];
  });
  return { put: [input, ...layers], removed: [] };
}

/** Another microphone, or none. */
export function chooseMicrophone(document: ShowDocument, device: ChosenDevice | null, newId: NewId): Changes {
  const voice = firstVoice(document);
  if (device === null) return { put: [], removed: voice ? [voice.id] : [] };
  const showId = recordsOf(document, 'show')[0].id;
  const channel = voice ?? voiceChannel(showId, newId);
  const ducked = voice
    ? []
    : recordsOf(document, 'channel').flatMap((other) =>
        other.source.type === 'input' ? [{ ...other, ducking: duckedBy(channel.id) }] : [],
      );
  return {
    put: [
      { ...channel, source: { ...(channel.source as object), ...device } as ChannelRecord['source'] },
      ...ducked,
    ],
    removed: [],
  };
}

const duckedBy = (byChannelId: string): ChannelRecord['ducking'] => ({
  byChannelId,
  ...{ depthDb: 8, thresholdDb: -32, attackMs: 40, holdMs: 400, releaseMs: 500 },
});

export const ALSO_SHOWN = ['game', 'screen', 'nothing'] as const;
export type AlsoShown = (typeof ALSO_SHOWN)[number];

/**
 * What is shown beside the host: a scene for it, with the host in a corner, and its sound, which gives way to the voice. Another
 * answer takes the scene of the one before away.
 *
 * @returns also the id of the input that has to be given a screen or window; null for nothing
 */
export function chooseShown(
  document: ShowDocument,
  shown: AlsoShown,
  newId: NewId,
): Changes & { inputId: string | null } {
  const before = firstScreen(document);
  const scenesBefore = recordsOf(document, 'scene').filter((scene) =>
    recordsOf(document, 'layer').some(
      ({ sceneId, content }) =>
        sceneId === scene.id && content.type === 'input' && content.inputId === before?.id,
    ),
  );
  const removed = before ? [before.id, ...scenesBefore.map(({ id }) => id)] : [];
  if (shown === 'nothing') return { put: [], removed, inputId: null };
  const left = new Map(document);
  for (const id of removed) left.delete(id);
  const camera = firstCamera(left);
  const name = shown === 'game' ? 'Game' : 'Screen';
  const input = newInput(left, newId(), name, {
    type: 'screen',
    surface: shown === 'game' ? 'window' : 'screen',
  });
  left.set(input.id, input);
  const template = shown === 'game' ? 'game' : 'screen-and-camera';
  const back = recordsOf(left, 'input').find(({ source }) => source.type === 'background');
  const scene = sceneOfTemplate(
    left,
    template,
    name,
    { screen: input.id, host: camera?.id, back: back?.id },
    newId,
  );
  const voice = firstVoice(left);
  const channels = recordsOf(left, 'channel');
  const channel: ChannelRecord = {
    ...{ kind: 'channel', id: newId(), showId: input.showId, name: input.name },
    position: (channels.at(-1)?.position ?? -1) + 1,
    ...PLAIN_CHANNEL,
    source: { type: 'input', inputId: input.id },
    gainDb: -8,
    colour: 'larch',
    tracks: [1, 3],
    heard: 'with-picture',
    pictureInputId: input.id,
    ducking: voice ? duckedBy(voice.id) : null,
  };
  const scenes = recordsOf(left, 'scene');
  const talk = scenes.find((s) => s.name === 'Talk');
  // After the talk, before the break.
  const position = talk ? talk.position + 0.5 : (scenes.at(-1)?.position ?? 0) + 1;
  const put = [
    input,
    ...scene.map((record) => (record.kind === 'scene' ? { ...record, position } : record)),
    channel,
  ];
  return { put, removed, inputId: input.id };
}

/**
 * Where to: the first destination as it is entered; a key at the end of the address is split off.
 * @returns the record, and the key that stood in the address
 */
export function firstDestination(
  document: ShowDocument,
  entered: { url: string; name: string; title: string },
  newId: NewId,
): { destination: DestinationRecord; key: string | null } {
  const show = recordsOf(document, 'show')[0];
  const [before] = recordsOf(document, 'destination');
  const split = keyInAddress(entered.url);
  return {
    destination: {
      ...(before ?? {
        ...{ kind: 'destination', id: newId(), showId: show.id, position: 0 },
        frame: 'wide',
        ...PLAIN_DESTINATION,
      }),
      enabled: true,
      name: entered.name,
      // Another address is another service's, if any's.
      connector: before?.url === (split?.url ?? entered.url) ? before.connector : null,
      url: split?.url ?? entered.url,
      details: { ...(before?.details ?? PLAIN_DETAILS), title: entered.title },
    },
    key: split?.key ?? null,
  };
}
