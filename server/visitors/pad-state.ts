/** What a pad shows: tiles with how they stand, faders, what is next, and whether anything is wrong. */
import { pressWords } from '../../core/commands/command-words';
import { commandShape, type Press } from '../../core/commands/commands';
import { standingOf, type ProgrammeState } from '../../core/programme/programme-state';
import { nextUp, rundownInUse, rundownTimes, segmentOn, stopOf } from '../../core/rundown/rundown';
import { START_SOUND } from '../../core/show/records';
import { VOICE_BAND_DB } from '../../core/sound/decibel';
import { findRecord, recordsOf, type ShowDocument } from '../../core/show/document';
import type { PadPageRecord } from '../../core/show/rundown-records';
import type { PadState, PadTileNow, TileTone } from '../../protocol/pad';
import type { Standing } from '../../protocol/door';

export interface PadFacts {
  document: ShowDocument;
  programme: ProgrammeState;
  standing: Omit<Standing, 'role' | 'name'>;
  covered: boolean;
  viewers: number | null;
  chat: PadState['chat'];
}

const press = (command: Press['command'], params: Press['params'] = {}): Press => ({ command, params });

/** Below every page: what is wanted in a hurry. */
const STANDING: readonly Press[] = [press('cough'), press('cover'), press('marker'), press('keep')];
/** On a page that nobody laid out. */
const MOST_TILES = 12;
const MOST_FADERS = 4;
/** Chat that a thumb can read in passing. */
const MOST_CHAT = 6;

/** @param name what the visitor is called */
export function padState(facts: PadFacts, name: string): PadState {
  const { document, programme, standing } = facts;
  const rundown = rundownInUse(document, programme);
  const times = rundown && rundownTimes(document, rundown, programme, standing.nowMs);
  const next = nextUp(document, programme);
  const nextStop = next && stopOf(next);
  const on = segmentOn(document, programme);
  const scene = (id: string | null | undefined) => findRecord(document, 'scene', id ?? null)?.name ?? '';
  const pages = recordsOf(document, 'padPage');
  const targetLufs = recordsOf(document, 'show')[0]?.sound.targetLufs ?? START_SOUND.targetLufs;
  const bad = standing.destinations.find(({ state }) => state === 'trouble');
  return {
    nowMs: standing.nowMs,
    show: standing.show ?? '',
    name,
    onAir: standing.onAir,
    startedAtMs: standing.startedAtMs,
    desk: standing.desk,
    overSeconds: times?.overSeconds ?? null,
    next: next && {
      name: 'segment' in next ? next.segment.name : scene(next.stop.sceneId),
      words: 'segment' in next ? scene(nextStop?.sceneId) : '',
    },
    on: on ? { name: on.name, notes: on.notes } : null,
    viewers: facts.viewers,
    trouble: !standing.desk ? 'The desk is away' : bad ? `${bad.name}: connecting again` : null,
    voiceBandDb: [targetLufs, targetLufs + VOICE_BAND_DB],
    pages: (pages.length > 0 ? pages : [plainPage(document)]).map(({ name: page, tiles, channelIds }) => ({
      name: page,
      tiles: tiles.map((tile) => ({
        ...tileNow(tile.press, facts),
        ...(tile.label && { label: tile.label }),
      })),
      faders: channelIds.flatMap((id) => {
        const channel = findRecord(document, 'channel', id);
        if (!channel) return [];
        const { gainDb, muted } = standingOf(programme, channel);
        return { channelId: id, name: channel.name, gainDb, muted, voice: channel.role === 'voice' };
      }),
    })),
    standing: STANDING.map((one) => tileNow(one, facts)),
    chat: facts.chat.slice(-MOST_CHAT),
  };
}

/** The show's scenes and cues, where nobody made a page. */
function plainPage(document: ShowDocument): Pick<PadPageRecord, 'name' | 'tiles' | 'channelIds'> {
  const presses = [
    ...recordsOf(document, 'scene').map(({ id }) => press('scene', { sceneId: id })),
    ...recordsOf(document, 'cue').map(({ id }) => press('cue', { cueId: id })),
  ];
  return {
    name: 'Scenes',
    tiles: presses.slice(0, MOST_TILES).map((one) => ({ press: one, label: '' })),
    channelIds: recordsOf(document, 'channel')
      .slice(0, MOST_FADERS)
      .map(({ id }) => id),
  };
}

function tileNow(of: Press, facts: PadFacts): PadTileNow {
  const { document } = facts;
  const { holds, careful } = commandShape(of.command);
  return {
    press: of,
    label: tileLabel(of, document),
    words: tileWords(of, facts),
    tone: toneOf(of, facts),
    holds: holds ?? false,
    careful: careful ?? of.command === 'cover',
    sceneId: sceneOf(of, document),
  };
}

/** The scene a press leads to, whose picture tells more than its name. */
function sceneOf({ command, params }: Press, document: ShowDocument): string | null {
  if (command === 'scene' || command === 'prepare') return String(params.sceneId);
  if (command === 'pose') return findRecord(document, 'pose', String(params.poseId))?.sceneId ?? null;
  if (command === 'jump') return findRecord(document, 'segment', String(params.segmentId))?.sceneId ?? null;
  return null;
}

/** A scene's tile is the scene: its name alone. */
function tileLabel(of: Press, document: ShowDocument): string {
  if (of.command === 'cough') return 'Cough';
  const sceneId = of.command === 'scene' ? String(of.params.sceneId) : null;
  return (
    findRecord(document, 'scene', sceneId)?.name ?? pressWords(of, (id) => document.get(id)?.name ?? null)
  );
}

function tileWords(of: Press, facts: PadFacts): string {
  const tone = toneOf(of, facts);
  if (of.command === 'cover') return facts.covered ? 'on: hold to take off' : 'hold';
  if (of.command === 'title') {
    const title = findRecord(facts.document, 'title', String(of.params.titleId));
    return title ? `title, ${Number(of.params.seconds ?? title.seconds)} s` : '';
  }
  const { careful, holds } = commandShape(of.command);
  if (careful || holds) return 'hold';
  return tone === 'on' ? 'on air' : tone === 'next' ? 'next' : tone === 'alarm' ? 'muted' : '';
}

function toneOf({ command, params }: Press, facts: PadFacts): TileTone {
  const { document, programme, covered, standing } = facts;
  const { onAir, title } = programme;
  const next = nextUp(document, programme);
  switch (command) {
    case 'scene':
      if (onAir?.sceneId === params.sceneId) return 'on';
      return next && stopOf(next)?.sceneId === params.sceneId ? 'next' : 'plain';
    case 'pose':
      return onAir?.poseId === params.poseId ? 'on' : 'plain';
    case 'jump':
      if (programme.rundown?.segmentId === params.segmentId) return 'on';
      return next && 'segment' in next && next.segment.id === params.segmentId ? 'next' : 'plain';
    case 'title':
      return title && title.titleId === params.titleId && (title.untilMs ?? Infinity) > standing.nowMs
        ? 'on'
        : 'plain';
    case 'mute': {
      const channel = findRecord(document, 'channel', String(params.channelId));
      return channel && standingOf(programme, channel).muted ? 'alarm' : 'plain';
    }
    case 'bringOn':
      return programme.seatsOn.includes(String(params.seatId)) ? 'on' : 'plain';
    case 'onlyVoices':
      return programme.onlyVoices ? 'alarm' : 'plain';
    case 'cover':
      return covered ? 'alarm' : 'plain';
    default:
      return 'plain';
  }
}
