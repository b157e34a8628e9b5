/** The poses of the talk: the host alone, beside the chat, and small while the chat is answered. */
import type { AnyRecord, LayerRecord, Placement, PoseRecord } from '../../core/show/records';

type Change = { hidden?: true; wide?: Partial<Placement>; tall?: Partial<Placement> };

const EDGE: Partial<Placement> = { cornerPx: 34, borderPx: 6, borderColour: '#E39A88', shadowPx: 18 };

const POSES: { id: string; name: string; changes: Record<string, Change> }[] = [
  { id: 'po-host', name: 'Host', changes: {} },
  {
    id: 'po-beside',
    name: 'With the chat',
    changes: {
      'ly-talk-desk': {
        wide: { cx: 640, cy: 500, width: 1160, height: 880, ...EDGE },
        tall: { cx: 540, cy: 560, width: 980, height: 760, ...EDGE },
      },
      'ly-talk-name': { wide: { cx: 640, cy: 900 }, tall: { cy: 1020 } },
      'ly-talk-chat': {
        wide: { cx: 1565, cy: 540, width: 610, height: 800 },
        tall: { cx: 540, cy: 1530, width: 980, height: 640 },
      },
      'ly-talk-strip': { tall: { cy: 1140 } },
      'ly-talk-poll': {
        wide: { cx: 1040, cy: 250, width: 320, height: 280 },
        tall: { cx: 540, cy: 830, width: 900, height: 190 },
      },
    },
  },
  {
    id: 'po-answers',
    name: 'Answers',
    changes: {
      'ly-talk-desk': {
        wide: { cx: 360, cy: 800, width: 560, height: 315, ...EDGE },
        tall: { cx: 300, cy: 1660, width: 480, height: 400, ...EDGE },
      },
      'ly-talk-name': { hidden: true },
      'ly-talk-chat': {
        wide: { cx: 1260, cy: 550, width: 1160, height: 840 },
        tall: { cx: 540, cy: 720, width: 980, height: 1080 },
      },
      'ly-talk-poll': {
        wide: { cx: 360, cy: 480, width: 460, height: 260 },
        tall: { cx: 800, cy: 1660, width: 460, height: 400 },
      },
    },
  },
];

/** Poses made from how the layers of the talk stand. */
export function talkPoses(records: readonly AnyRecord[]): PoseRecord[] {
  const layers = records.filter((r): r is LayerRecord => r.kind === 'layer' && r.sceneId === 'sc-talk');
  return POSES.map(({ id, name, changes }, i) => ({
    kind: 'pose',
    id,
    showId: layers[0].showId,
    name,
    position: i,
    sceneId: 'sc-talk',
    key: String(i + 1),
    glide: null,
    standing: {},
    layers: Object.fromEntries(
      layers.map((layer) => {
        const { hidden, wide, tall } = changes[layer.id] ?? {};
        const { placements } = layer;
        return [
          layer.id,
          {
            visible: !hidden,
            placements: {
              ...(placements.wide && { wide: { ...placements.wide, ...wide } }),
              ...(placements.tall && { tall: { ...placements.tall, ...tall } }),
            },
            colour: null,
          },
        ];
      }),
    ),
  }));
}
