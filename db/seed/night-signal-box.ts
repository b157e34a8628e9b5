/** The demonstration show. Its ids are fixed, so that links and tests can name them. */
import { NO_PROGRAMME } from '../../core/programme/programme-state';
import { START_AUDIENCE } from '../../core/audience/settings';
import type { Connector } from '../../core/connectors/connector';
import { destinationOf } from '../../core/connectors/destination';
import { PLAIN_DETAILS, PLAIN_PLAN, START_DELIVERY } from '../../core/delivery/settings';
import { START_CHAT_PANEL } from '../../core/audience/widgets/chat-settings';
import { startWidget, type WidgetName } from '../../core/audience/widgets/widgets';
import { CUT, FADE } from '../../core/show/motion-records';
import {
  DEFAULT_TEXT_STYLE,
  fullPlacement,
  PLAIN_INPUT,
  PLAIN_LAYER,
  PLAIN_SCENE,
  START_SOUND,
  type AnyRecord,
  type BackgroundLook,
  type LayerContent,
  type Placement,
  type Placements,
  type SceneRecord,
  type SimulatedPicture,
  type TextStyle,
} from '../../core/show/records';
import { documentOf, findRecord } from '../../core/show/document';
import { settle } from '../../core/show/settle';
import type { SecretRepository } from '../../server/db/secret-repository';
import { subjects } from '../../server/db/secret-subjects';
import type { ShowRepository } from '../../server/db/show-repository';
import { audience } from './night-audience';
import { talkPoses } from './night-poses';
import { nightRundown } from './night-rundown';
import { sound } from './night-sound';

export const DEMONSTRATION = 'night-signal-box';
const WIDE = { width: 1920, height: 1080 };
const TALL = { width: 1080, height: 1920 };

export interface SeedPlatform {
  connector: Connector;
  servers: { name: string; url: string }[];
  key: string;
}

function place(
  cx: number,
  cy: number,
  width: number,
  height: number,
  more: Partial<Placement> = {},
): Placement {
  return { ...fullPlacement(WIDE), cx, cy, width, height, ...more };
}

/** Wide and tall, each from centre and size. */
function both(wide: Placement, tall: Placement | null): Placements {
  return tall ? { wide, tall } : { wide };
}

const CAMERA_EDGE: Partial<Placement> = { cornerPx: 34, borderPx: 6, borderColour: '#E39A88', shadowPx: 18 };

function records(): AnyRecord[] {
  const all: AnyRecord[] = [
    {
      kind: 'show',
      id: DEMONSTRATION,
      showId: DEMONSTRATION,
      name: 'Night Signal Box',
      position: 0,
      sound: START_SOUND,
      audience: START_AUDIENCE,
      delivery: START_DELIVERY,
      frames: { wide: { ...WIDE, used: true }, tall: { ...TALL, used: true } },
      fields: { host: 'lampwright', game: 'Switchback Freight' },
      transition: FADE,
      kits: [],
    },
  ];
  const input = (id: string, name: string, picture: SimulatedPicture, position: number) =>
    all.push({
      kind: 'input',
      id,
      showId: DEMONSTRATION,
      name,
      position,
      source: { type: 'simulated', picture },
      ...PLAIN_INPUT,
    });
  const background = (id: string, name: string, look: BackgroundLook, position: number) =>
    all.push({
      kind: 'input',
      id,
      showId: DEMONSTRATION,
      name,
      position,
      source: { type: 'background', ...look },
      ...PLAIN_INPUT,
    });
  input('in-desk', 'Desk camera', 'desk-camera', 0);
  input('in-lever', 'Lever camera', 'lever-camera', 1);
  input('in-game', 'Switchback Freight', 'switchback', 2);
  input('in-clapper', 'Sync clapper', 'sync-clapper', 3);
  input('in-storm', 'Snowstorm', 'snowstorm', 4);
  background(
    'in-strata',
    'Night strata',
    { look: 'texture', texture: 'strata', colour: '#26324F', ink: '#3A4A70', seed: 9 },
    5,
  );

  let scenes = 0;
  const scene = (
    id: string,
    name: string,
    folder: string,
    transition: SceneRecord['transition'],
    background = '#14181D',
  ) =>
    all.push({
      kind: 'scene',
      id,
      showId: DEMONSTRATION,
      name,
      position: scenes++,
      ...PLAIN_SCENE,
      folder,
      transition,
      background,
      standing: id === 'sc-break' ? { 'ly-badge': { hidden: true, placements: {} } } : {},
    });
  scene('sc-talk', 'Talk', 'Main show', null);
  scene('sc-game', 'Game', 'Main show', null);
  scene('sc-levers', 'Levers', 'Main show', { ...FADE, seconds: 0.3 });
  scene('sc-break', 'Break', 'Main show', null, '#26324F');
  scene('sc-start', 'Countdown', 'Around it', null, '#1C2A44');
  scene('sc-credits', 'Credits', 'Around it', { ...FADE, seconds: 1 }, '#14181D');
  scene('sc-clapper', 'Sync check', 'Around it', CUT, '#000000');
  scene('sc-storm', 'Snowstorm', 'Around it', CUT, '#000000');

  const counts = new Map<string | null, number>();
  const layer = (
    id: string,
    name: string,
    sceneId: string | null,
    content: LayerContent,
    placements: Placements,
    more: { locked?: boolean } = {},
  ) => {
    const position = counts.get(sceneId) ?? 0;
    counts.set(sceneId, position + 1);
    all.push({
      kind: 'layer',
      id,
      showId: DEMONSTRATION,
      name,
      position,
      sceneId,
      ...PLAIN_LAYER,
      content,
      placements,
      ...more,
    });
  };
  const picture = (inputId: string): LayerContent => ({ type: 'input', inputId, fit: 'fill' });
  const text = (words: string, style: Partial<TextStyle>): LayerContent => ({
    type: 'text',
    text: words,
    style: { ...DEFAULT_TEXT_STYLE, box: '#14181DC8', align: 'center', ...style },
  });
  const chat: LayerContent = {
    type: 'chatPanel',
    style: { ...DEFAULT_TEXT_STYLE, sizePx: 32, weight: 500, box: '#14181DB8' },
    keepSeconds: 60,
    panel: START_CHAT_PANEL,
    accent: '#63BDBB',
  };
  const full = both(fullPlacement(WIDE), fullPlacement(TALL));

  layer('ly-talk-desk', 'Desk camera', 'sc-talk', picture('in-desk'), full);
  layer(
    'ly-talk-name',
    'Name',
    'sc-talk',
    text('{{host}}  plays  {{game}}', { sizePx: 52, weight: 700, font: 'Bricolage Grotesque Variable' }),
    both(place(960, 968, 1120, 104, { cornerPx: 26 }), place(540, 1440, 980, 120, { cornerPx: 30 })),
  );
  layer(
    'ly-talk-chat',
    'Chat panel',
    'sc-talk',
    chat,
    both(place(1634, 470, 476, 560, { cornerPx: 22 }), place(540, 1720, 980, 340, { cornerPx: 22 })),
  );
  layer(
    'ly-talk-poll',
    'Poll',
    'sc-talk',
    {
      type: 'widget',
      widget: startWidget('poll'),
      style: { ...DEFAULT_TEXT_STYLE, sizePx: 34, box: '#14181DD8' },
      accent: '#63BDBB',
    },
    both(place(1700, 890, 330, 250, { cornerPx: 22 }), place(775, 290, 490, 240, { cornerPx: 22 })),
  );

  layer(
    'ly-game-game',
    'Switchback Freight',
    'sc-game',
    picture('in-game'),
    both(fullPlacement(WIDE), place(540, 1120, 1080, 960)),
    { locked: true },
  );
  layer(
    'ly-game-desk',
    'Desk camera',
    'sc-game',
    picture('in-desk'),
    both(place(330, 870, 540, 320, CAMERA_EDGE), place(540, 320, 1080, 640)),
  );
  layer(
    'ly-game-goal',
    'Goal',
    'sc-game',
    {
      type: 'widget',
      widget: startWidget('goal', 'goal-roof'),
      style: { ...DEFAULT_TEXT_STYLE, sizePx: 40, box: '#14181DC8' },
      accent: '#E2AE45',
    },
    both(place(960, 112, 640, 148, { cornerPx: 22 }), place(540, 720, 640, 148, { cornerPx: 22 })),
  );
  layer(
    'ly-game-chat',
    'Chat panel',
    'sc-game',
    chat,
    both(place(1640, 880, 480, 320, { cornerPx: 22 }), place(540, 1760, 1080, 320)),
  );

  layer(
    'ly-levers-game',
    'Switchback Freight',
    'sc-levers',
    picture('in-game'),
    both(fullPlacement(WIDE), place(540, 935, 1080, 670)),
    { locked: true },
  );
  layer(
    'ly-levers-lever',
    'Lever camera',
    'sc-levers',
    picture('in-lever'),
    both(
      place(1560, 830, 620, 400, { ...CAMERA_EDGE, borderColour: '#E2AE45' }),
      place(540, 1595, 1080, 650),
    ),
  );
  layer(
    'ly-levers-desk',
    'Desk camera',
    'sc-levers',
    picture('in-desk'),
    both(place(330, 870, 540, 320, CAMERA_EDGE), place(540, 300, 1080, 600)),
  );

  layer('ly-break-strata', 'Night strata', 'sc-break', picture('in-strata'), full, { locked: true });
  layer(
    'ly-break-game',
    'Switchback Freight',
    'sc-break',
    picture('in-game'),
    both(
      place(1330, 540, 1000, 562, { cornerPx: 40, opacity: 0.85 }),
      place(540, 900, 980, 551, { cornerPx: 40, opacity: 0.85 }),
    ),
  );
  layer(
    'ly-break-words',
    'Words',
    'sc-break',
    text('Back in\na moment', {
      sizePx: 112,
      weight: 700,
      align: 'left',
      box: 'none',
      font: 'Bricolage Grotesque Variable',
    }),
    both(place(440, 500, 640, 300), place(540, 380, 860, 360)),
  );
  layer(
    'ly-break-chat',
    'Chat panel',
    'sc-break',
    chat,
    both(place(440, 840, 640, 300, { cornerPx: 22 }), place(540, 1520, 980, 460, { cornerPx: 22 })),
  );

  const widget = (
    of: WidgetName,
    sizePx: number,
    style: Partial<TextStyle> = {},
    accent = '#63BDBB',
  ): LayerContent => ({
    type: 'widget',
    widget: startWidget(of, 'goal-roof'),
    accent,
    style: { ...DEFAULT_TEXT_STYLE, sizePx, box: 'none', align: 'center', ...style },
  });
  layer('ly-start-back', 'Night strata', 'sc-start', picture('in-strata'), full);
  layer(
    'ly-start-count',
    'Countdown',
    'sc-start',
    widget('countdown', 220, { weight: 700, font: 'Bricolage Grotesque Variable' }),
    both(place(960, 420, 900, 300), place(540, 620, 980, 320)),
  );
  layer(
    'ly-start-chat',
    'Chat panel',
    'sc-start',
    chat,
    both(place(960, 800, 900, 320, { cornerPx: 22 }), place(540, 1300, 980, 640, { cornerPx: 22 })),
  );
  layer(
    'ly-credits',
    'Credits roll',
    'sc-credits',
    widget('credits', 52, { font: 'Bricolage Grotesque Variable', weight: 700 }, '#E2AE45'),
    both(place(960, 540, 1200, 1080), place(540, 960, 1000, 1920)),
  );
  layer(
    'ly-talk-strip',
    'Supporter strip',
    'sc-talk',
    widget('supporters', 30, { box: '#14181DC8', align: 'left' }),
    both(place(960, 1048, 1760, 56, { cornerPx: 18 }), place(540, 1330, 980, 56, { cornerPx: 18 })),
  );
  layer(
    'ly-talk-viewers',
    'Viewer count',
    'sc-talk',
    widget('viewers', 36, { box: '#14181DC8' }),
    both(place(170, 76, 280, 72, { cornerPx: 22 }), place(190, 96, 280, 72, { cornerPx: 22 })),
  );

  layer('ly-clapper', 'Sync clapper', 'sc-clapper', picture('in-clapper'), full);
  layer('ly-storm', 'Snowstorm', 'sc-storm', picture('in-storm'), full);

  layer(
    'ly-alert',
    'Alerts',
    null,
    {
      type: 'alert',
      style: {
        ...DEFAULT_TEXT_STYLE,
        sizePx: 50,
        weight: 700,
        align: 'center',
        box: '#63BDBBF2',
        colour: '#10201F',
        font: 'Bricolage Grotesque Variable',
      },
    },
    both(place(960, 320, 820, 160, { cornerPx: 60 }), place(540, 880, 900, 160, { cornerPx: 60 })),
  );
  layer(
    'ly-readout',
    'Read-out',
    null,
    widget('readOut', 54, { box: '#14181DEB', align: 'left' }, '#E2AE45'),
    both(place(960, 560, 1200, 260, { cornerPx: 30 }), place(540, 1180, 980, 320, { cornerPx: 30 })),
  );
  layer(
    'ly-streak',
    'Streak',
    null,
    widget('streak', 36, { box: '#14181DC8', align: 'left' }),
    both(place(250, 280, 420, 120, { cornerPx: 22 }), place(250, 230, 420, 120, { cornerPx: 22 })),
  );
  layer(
    'ly-badge',
    'Hut Nine badge',
    null,
    text('Hut Nine', {
      sizePx: 34,
      weight: 700,
      colour: '#14181D',
      box: '#E2AE45E6',
      font: 'Bricolage Grotesque Variable',
    }),
    both(place(1776, 76, 200, 60, { cornerPx: 30 }), place(940, 96, 200, 60, { cornerPx: 30 })),
  );

  all.push(...talkPoses(all), ...sound(DEMONSTRATION));

  all.push(
    {
      kind: 'plan',
      id: 'plan-home',
      showId: DEMONSTRATION,
      name: 'Home fibre',
      position: 0,
      frames: {
        wide: { width: 960, height: 540, videoKbps: 2000 },
        tall: { width: 360, height: 640, videoKbps: 1000 },
      },
      ...PLAIN_PLAN,
      audioKbps: 160,
    },
    ...audience(DEMONSTRATION),
  );
  all.push(...nightRundown(DEMONSTRATION, all));
  return all;
}

const SEEDED = `show:${DEMONSTRATION}`;

/** Puts the demonstration show among the others; one that was deleted comes back as it was. */
export function addDemonstration(shows: ShowRepository, nowMs: number): void {
  if (shows.list().some((show) => show.id === DEMONSTRATION)) {
    shows.stamp(DEMONSTRATION, 'removed', null);
    shows.stamp(DEMONSTRATION, 'archived', null);
    return;
  }
  shows.create(records());
  const onAir = { sceneId: 'sc-game', poseId: null, sinceMs: nowMs };
  shows.setProgramme(DEMONSTRATION, { ...NO_PROGRAMME, onAir });
  shows.markSeeded(SEEDED);
}

/**
 * Writes the demonstration show, once: whoever removed it has it removed. Keeps the stand-ins' addresses and keys up to date.
 */
export function seedNightSignalBox(
  shows: ShowRepository,
  secrets: SecretRepository,
  platforms: readonly SeedPlatform[],
  nowMs: number,
): void {
  const known = shows.list().some((show) => show.id === DEMONSTRATION);
  if (!known && !shows.seeded(SEEDED)) addDemonstration(shows, nowMs);
  else if (!known) return;
  const loaded = shows.load(DEMONSTRATION);
  let document = documentOf(loaded.records);
  let { revision } = loaded;
  for (const [position, { connector, servers, key }] of platforms.entries()) {
    const id = `dest-${connector.id}`;
    const old = findRecord(document, 'destination', id);
    const [{ url }] = servers;
    if (old?.url === url) continue;
    // Stand-ins may listen on other ports at every start; removed ones stay removed.
    if (!old && shows.seeded(id)) continue;
    const destination: AnyRecord = old
      ? { ...old, url, servers }
      : {
          kind: 'destination',
          id,
          showId: DEMONSTRATION,
          ...destinationOf(connector, servers),
          position,
          details: { ...PLAIN_DETAILS, title: 'A roof for Hut Nine', category: 'Switchback Freight' },
        };
    const edit = { id: `seed:${id}:${nowMs}`, name: 'Stand-in address', put: [destination], removed: [] };
    const settled = settle(document, edit, old ? [old] : []);
    shows.write(DEMONSTRATION, edit.id, settled.change, document, ++revision);
    document = settled.document;
    if (!old) {
      secrets.set(subjects.streamKey(id), key, nowMs);
      shows.markSeeded(id);
    }
  }
}
