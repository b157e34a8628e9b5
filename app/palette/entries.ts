import type { NavigateFunction } from 'react-router';
import { COMMAND_IDS, COMMANDS, type CommandId, type ParamType, type Press } from '~/core/commands/commands';
import { recordsOf } from '~/core/show/document';
import type { Findable } from '~/core/find/finder';
import { pressWords } from '../commands/press-words';
import type { StudioParts } from '../studio/studio-context';
import { en } from '../words/en';

/** What Stage and Sound are asked to show when they are gone to. */
export interface GoneTo {
  sceneId?: string;
  layerId?: string;
  inputId?: string;
  channelId?: string;
  /** What Delivery shows beside its drawing, or opens. */
  side?: 'destinations' | 'keeping';
  dialog?: 'line' | 'trial' | 'computer';
}

/** Where in their place some settings stand. */
const WITHIN: Partial<Record<keyof Settings, GoneTo>> = {
  destination: { side: 'destinations' },
  service: { side: 'destinations' },
  recording: { side: 'keeping' },
  lookback: { side: 'keeping' },
  upload: { dialog: 'line' },
  encoder: { dialog: 'trial' },
  carries: { dialog: 'computer' },
};

export interface Entry extends Findable {
  kind: keyof (typeof en)['palette']['kinds'];
  run: () => void;
}

type Words = (typeof en)['palette'];
type Settings = Words['settings'];

/** Where each setting stands. */
const PLACE_OF: Record<keyof Settings, string> = {
  transition: 'stage',
  pose: 'stage',
  text: 'stage',
  font: 'stage',
  crop: 'stage',
  rotation: 'stage',
  blend: 'stage',
  chromaKey: 'stage',
  lut: 'stage',
  countdown: 'stage',
  fields: 'stage',
  noise: 'sound',
  gate: 'sound',
  compressor: 'sound',
  equaliser: 'sound',
  limiter: 'sound',
  ducking: 'sound',
  soundcheck: 'sound',
  offset: 'sound',
  monitoring: 'sound',
  tracks: 'sound',
  alerts: 'audience',
  chat: 'audience',
  goals: 'audience',
  webhooks: 'audience',
  filters: 'audience',
  bitrate: 'delivery',
  frameRate: 'delivery',
  keyframes: 'delivery',
  encoder: 'delivery',
  carries: 'delivery',
  upload: 'delivery',
  destination: 'delivery',
  service: 'delivery',
  recording: 'delivery',
  lookback: 'delivery',
  clip: 'vault',
  report: 'vault',
};

/** Everything that can be found in a show: what is in it, what can be done, and where each setting stands. */
export function paletteEntries(studio: StudioParts, words: Words, navigate: NavigateFunction): Entry[] {
  const { store, control, showId } = studio;
  const document = store.document();
  const go = (place: string, state?: GoneTo) => () =>
    void navigate(`/show/${showId}/${place}`, state && { state });
  const scenes = recordsOf(document, 'scene');
  const sceneName = new Map(scenes.map(({ id, name }) => [id, name]));
  const places = Object.entries(words.places).map(([place, [name, ...also]]): Entry => ({
    ...{ id: `place-${place}`, kind: 'place', name, also },
    run:
      place === 'home' || place === 'backups' || place === 'files' || place === 'computer'
        ? // Windows of their own: the desk stays where it is.
          () => window.open(place === 'home' ? '/' : `/${place}`, '_blank', 'noopener')
        : go(place),
  }));
  const press = (of: Press) => () =>
    void control.press(of, 'page').then((problem) => problem !== null && studio.say(problem));
  const plain = COMMAND_IDS.filter((id) => COMMANDS[id].required.length === 0 && !('holds' in COMMANDS[id]));
  const called = (id: CommandId, param: ParamType, records: readonly { id: string; name: string }[]) =>
    records.map((record): Entry => {
      const of: Press = { command: id, params: { [param]: record.id } };
      const [name, ...also] = en.commands[id];
      return {
        ...{
          id: `${id}-${record.id}`,
          kind: 'command',
          name: pressWords(of, document),
          also: [name, ...also],
        },
        run: press(of),
      };
    });
  return [
    ...scenes.flatMap((scene): Entry[] => [
      {
        ...{ id: `take-${scene.id}`, kind: 'take', name: words.take.replace('{{name}}', scene.name) },
        run: () => control.scene(scene.id),
      },
      { id: `scene-${scene.id}`, kind: 'scene', name: scene.name, run: go('stage', { sceneId: scene.id }) },
    ]),
    ...places,
    ...plain.map((id): Entry => {
      const [name, ...also] = en.commands[id];
      return { id: `command-${id}`, kind: 'command', name, also, run: press({ command: id, params: {} }) };
    }),
    {
      ...{ id: 'command-preflight', kind: 'command', name: words.commands.preflight[0] },
      also: words.commands.preflight.slice(1),
      run: go('delivery'),
    },
    ...called('cue', 'cueId', recordsOf(document, 'cue')),
    ...called('title', 'titleId', recordsOf(document, 'title')),
    ...called('poll', 'pollId', recordsOf(document, 'poll')),
    ...called('effect', 'effectId', recordsOf(document, 'effect')),
    ...called('mute', 'channelId', recordsOf(document, 'channel')),
    ...recordsOf(document, 'input').map((input): Entry => ({
      ...{ id: `input-${input.id}`, kind: 'input', name: input.name },
      run: go('stage', { inputId: input.id }),
    })),
    ...recordsOf(document, 'channel').map((channel): Entry => ({
      ...{ id: `channel-${channel.id}`, kind: 'channel', name: channel.name },
      run: go('sound', { channelId: channel.id }),
    })),
    ...recordsOf(document, 'layer').map((layer): Entry => ({
      ...{ id: `layer-${layer.id}`, kind: 'layer', name: layer.name },
      also: layer.sceneId === null ? [] : [sceneName.get(layer.sceneId) ?? ''],
      run: go('stage', { ...(layer.sceneId !== null && { sceneId: layer.sceneId }), layerId: layer.id }),
    })),
    ...(Object.keys(PLACE_OF) as (keyof Settings)[]).map((id): Entry => {
      const [name, ...also] = words.settings[id];
      return { id: `setting-${id}`, kind: 'setting', name, also, run: go(PLACE_OF[id], WITHIN[id]) };
    }),
  ];
}
