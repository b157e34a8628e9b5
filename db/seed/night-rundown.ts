/** The running order of the demonstration, who can be named in it, and what hands call. */
import { documentOf } from '../../core/show/document';
import { newTitleLayer } from '../../core/show/title-layer';
import type { AnyRecord } from '../../core/show/records';
import { PLAIN_SEGMENT, type SegmentRecord } from '../../core/show/rundown-records';

type Part = Partial<SegmentRecord> & Pick<SegmentRecord, 'id' | 'name' | 'sceneId' | 'plannedSeconds'>;

const MINUTE = 60;

const SEGMENTS: readonly Part[] = [
  {
    ...{ id: 'sg-start', name: 'Countdown', sceneId: 'sc-start', plannedSeconds: 5 * MINUTE },
    mark: 'glacier',
    end: { type: 'countdown' },
    notes: 'Music up. Glass of water. Check that the game runs.',
  },
  {
    ...{ id: 'sg-welcome', name: 'Welcome', sceneId: 'sc-talk', plannedSeconds: 4 * MINUTE },
    mark: 'rose',
    poseId: 'po-host',
    titleId: 'ti-host',
    sound: [{ channelId: 'ch-music', gainDb: -20, muted: null, seconds: 3 }],
    notes: 'Say what tonight is for: the last sheets of tin for the roof of Hut Nine.',
  },
  {
    ...{ id: 'sg-climb', name: 'First climb', sceneId: 'sc-game', plannedSeconds: 18 * MINUTE },
    mark: 'moss',
    notes: 'Freight 12 to the pass before the snow.',
    presses: [{ command: 'marker', params: { words: 'First climb' } }],
  },
  {
    ...{ id: 'sg-vote', name: 'Route vote', sceneId: 'sc-talk', plannedSeconds: 6 * MINUTE },
    presses: [{ command: 'poll', params: { pollId: 'po-route' } }],
    mark: 'larch',
    poseId: 'po-beside',
    notes: 'Read three comments first. The long way costs 40 minutes: say so.',
  },
  {
    ...{ id: 'sg-second', name: 'Second climb', sceneId: 'sc-levers', plannedSeconds: 20 * MINUTE },
    mark: 'moss',
    notes: 'Show the levers at the junction.',
  },
  {
    ...{ id: 'sg-answers', name: 'Signal talk', sceneId: 'sc-talk', plannedSeconds: 12 * MINUTE },
    mark: 'rose',
    poseId: 'po-answers',
    titleId: 'ti-hut',
    notes: 'Questions from the chat, the oldest first.',
  },
  {
    ...{ id: 'sg-break', name: 'Break', sceneId: 'sc-break', plannedSeconds: 4 * MINUTE },
    mark: 'glacier',
    fixed: true,
    end: { type: 'length' },
    sound: [
      { channelId: 'ch-music', gainDb: -10, muted: null, seconds: 2 },
      { channelId: 'ch-voice', gainDb: null, muted: true, seconds: 0 },
    ],
  },
  {
    ...{ id: 'sg-last', name: 'Last freight', sceneId: 'sc-game', plannedSeconds: 20 * MINUTE },
    mark: 'moss',
    sound: [
      { channelId: 'ch-music', gainDb: -20, muted: null, seconds: 3 },
      { channelId: 'ch-voice', gainDb: null, muted: false, seconds: 0 },
    ],
    notes: 'Thank whoever paid for the last sheet.',
  },
  {
    ...{ id: 'sg-credits', name: 'Credits', sceneId: 'sc-credits', plannedSeconds: 2 * MINUTE },
    mark: 'slate',
    fixed: true,
  },
];

/** Where the title stands in scenes whose own pictures would lie under it: frame pixels. */
const TITLE_PLACES: Record<string, { wide: [number, number, number]; tall?: [number, number, number] }> = {
  'sc-talk': { wide: [614, 742, 960], tall: [540, 1130, 928] },
  'sc-game': { wide: [1000, 944, 720] },
  'sc-levers': { wide: [1000, 944, 720] },
};

/** @param records of the show so far: the title stands above them; its scenes are told where */
export function nightRundown(showId: string, records: readonly AnyRecord[]): AnyRecord[] {
  const title = { ...newTitleLayer(documentOf(records), showId, 'ly-title'), locked: true };
  for (const record of records) {
    if (record.kind !== 'scene') continue;
    const places = TITLE_PLACES[record.id];
    if (!places) continue;
    const placements = { ...title.placements };
    for (const frame of ['wide', 'tall'] as const) {
      const [cx, cy, width] = places[frame] ?? [];
      if (cx !== undefined) placements[frame] = { ...title.placements[frame]!, cx, cy: cy!, width: width! };
    }
    record.standing = { ...record.standing, [title.id]: { hidden: false, placements } };
  }
  const scene = (sceneId: string) => ({
    press: { command: 'scene' as const, params: { sceneId } },
    label: '',
  });
  return [
    { kind: 'rundown', id: 'rd-night', showId, name: 'Tonight', position: 0, startsAt: '' },
    ...SEGMENTS.map((part, i): SegmentRecord => ({
      ...PLAIN_SEGMENT,
      sound: [],
      presses: [],
      ...part,
      kind: 'segment',
      showId,
      rundownId: 'rd-night',
      position: i,
    })),
    {
      ...{ kind: 'title', id: 'ti-host', showId, name: '{{host}}', position: 0 },
      line2: 'Dispatcher on the night shift',
      seconds: 8,
    },
    {
      ...{ kind: 'title', id: 'ti-hut', showId, name: 'A roof for Hut Nine', position: 1 },
      line2: 'Every sheet of tin counts',
      seconds: 10,
    },
    // Where nobody clicks at it by mistake: it is empty most of the time.
    title,
    {
      ...{ kind: 'poll', id: 'po-route', showId, name: 'Which way over the pass?', position: 0 },
      answers: [
        { label: 'The left spur', words: 'left' },
        { label: 'Straight on', words: 'straight' },
        { label: 'The long way', words: 'long' },
      ],
      seconds: 120,
    },
    {
      ...{ kind: 'cue', id: 'cu-thanks', showId, name: 'Thanks', position: 0 },
      steps: [
        { type: 'press', press: { command: 'effect', params: { effectId: 'fx-bell' } } },
        { type: 'press', press: { command: 'title', params: { titleId: 'ti-hut', seconds: 8 } } },
        { type: 'wait', seconds: 1 },
        { type: 'press', press: { command: 'marker', params: { words: 'Thanks' } } },
      ],
    },
    {
      ...{ kind: 'padPage', id: 'pp-night', showId, name: 'Night', position: 0 },
      tiles: [
        ...['sc-talk', 'sc-game', 'sc-levers', 'sc-break'].map(scene),
        { press: { command: 'cue', params: { cueId: 'cu-thanks' } }, label: '' },
        { press: { command: 'nextTitle', params: {} }, label: '' },
      ],
      channelIds: ['ch-voice', 'ch-game', 'ch-music'],
    },
  ];
}
