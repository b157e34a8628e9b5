/** Seats, and scenes in which people sit together: in both frames, for one to eight and the host. */
import type { Rect, Size } from '../geometry/rect';
import { placementOfRect } from '../geometry/rect';
import { recordsOf, type ShowDocument } from '../show/document';
import {
  DEFAULT_TEXT_STYLE,
  fullPlacement,
  PLAIN_SCENE,
  type AnyRecord,
  type InputRecord,
  type LayerContent,
  type LayerRecord,
  type Placements,
  type SceneRecord,
} from '../show/records';
import { kindOf } from '../show/input-kinds';
import { channelFor, frameOf, freeName, newInput, newLayer, usedFrames } from '../show/stage-edits';
import { isSeat, type SeatRecord } from './seats';

/** Side by side; the first one large; all alike; the first one as the ground, the others in a row over it. */
export const GUEST_LAYOUTS = ['sideBySide', 'firstLarge', 'grid', 'strip'] as const;
export type GuestLayout = (typeof GUEST_LAYOUTS)[number];

/** In parts of the frame's shorter side. */
const GAP = 0.025;
const NAME_HEIGHT = 0.07;

/** The name under which a seat's person stands in texts: `{{Guest-1}}`. */
export const fieldOfSeat = (name: string): string =>
  name
    .replace(/[^\w-]+/g, '-')
    .slice(0, 40)
    .replace(/^-+|-+$/g, '') || 'Guest';

/** A seat with the channel of whoever will sit there; no scene shows it yet. */
export function newSeat(document: ShowDocument, newId: () => string): [SeatRecord, AnyRecord] {
  const taken = recordsOf(document, 'input').map(({ name }) => name);
  let n = 1;
  while (taken.includes(`Guest ${n}`)) n += 1;
  const source = { type: 'seat', sees: 'wide', inputId: null, hearsProgramme: true } as const;
  const input = newInput(document, newId(), `Guest ${n}`, source) as SeatRecord;
  return [input, channelFor(document, input, newId())!];
}

/**
 * Places for people in a frame.
 * @param count 1…9
 * @returns as many rectangles in frame pixels, in the order of the people
 */
export function guestPlaces(layout: GuestLayout, count: number, frame: Size): Rect[] {
  const gap = Math.round(GAP * Math.min(frame.width, frame.height));
  const inside = { x: gap, y: gap, width: frame.width - 2 * gap, height: frame.height - 2 * gap };
  const wide = frame.width >= frame.height;
  if (count === 1) return [{ x: 0, y: 0, ...frame }];
  switch (layout) {
    case 'sideBySide':
      return split(inside, count, wide ? 'x' : 'y', gap);
    case 'grid': {
      const columns = wide ? Math.ceil(Math.sqrt(count)) : count <= 3 ? 1 : 2;
      const rows = Math.ceil(count / columns);
      return split(inside, rows, 'y', gap).flatMap((row, r) => {
        // The last row stands in the middle when it is not full.
        const here = Math.min(columns, count - r * columns);
        const width = (row.width - (columns - 1) * gap) / columns;
        const left = row.x + (row.width - here * width - (here - 1) * gap) / 2;
        return Array.from({ length: here }, (_, i) => ({
          ...row,
          x: Math.round(left + i * (width + gap)),
          width: Math.round(width),
        }));
      });
    }
    case 'firstLarge': {
      const long = wide ? inside.width : inside.height;
      const large = Math.round((long - gap) * 0.68);
      const [first, rest]: [Rect, Rect] = wide
        ? [
            { ...inside, width: large },
            { ...inside, x: inside.x + large + gap, width: inside.width - large - gap },
          ]
        : [
            { ...inside, height: large },
            { ...inside, y: inside.y + large + gap, height: inside.height - large - gap },
          ];
      // Below a large one in an upright frame there is room beside each other.
      return [first, ...split(rest, count - 1, wide ? 'y' : 'x', gap)];
    }
    case 'strip': {
      const others = count - 1;
      const most = (inside.width - (others - 1) * gap) / others;
      const width = Math.round(Math.min(most, inside.width * (wide ? 0.22 : 0.46)));
      const height = Math.round((width * 9) / 16);
      const left = inside.x + inside.width - others * width - (others - 1) * gap;
      const row = Array.from({ length: others }, (_, i) => ({
        x: Math.round(left + i * (width + gap)),
        y: inside.y + inside.height - height,
        width,
        height,
      }));
      return [{ x: 0, y: 0, ...frame }, ...row];
    }
  }
}

function split(rect: Rect, count: number, along: 'x' | 'y', gap: number): Rect[] {
  const length = along === 'x' ? rect.width : rect.height;
  const each = (length - (count - 1) * gap) / count;
  return Array.from({ length: count }, (_, i) => {
    const from = Math.round(i * (each + gap));
    const size = Math.round(each);
    return along === 'x'
      ? { ...rect, x: rect.x + from, width: size }
      : { ...rect, y: rect.y + from, height: size };
  });
}

/** Whoever the show is mostly about, when it has a picture of a person that is not a guest's. */
const hostInput = (document: ShowDocument): InputRecord | null =>
  recordsOf(document, 'input').find(
    (input) => !isSeat(input) && kindOf(input.source).role(input.source) === 'person',
  ) ?? null;

/** A scene with the host, if there is one, and these seats; each guest with their name below. */
export function guestScene(
  document: ShowDocument,
  layout: GuestLayout,
  seats: readonly SeatRecord[],
  newId: () => string,
): AnyRecord[] {
  const host = hostInput(document);
  const people: readonly InputRecord[] = [...(host ? [host] : []), ...seats];
  const scenes = recordsOf(document, 'scene');
  const scene: SceneRecord = {
    ...{ kind: 'scene', id: newId(), showId: recordsOf(document, 'show')[0].id },
    name: freeName(
      scenes.map(({ name }) => name),
      'Guests',
    ),
    position: (scenes.at(-1)?.position ?? -1) + 1,
    ...PLAIN_SCENE,
    background: '#14181D',
  };
  const frames = usedFrames(document);
  const places = new Map(
    frames.map((frame) => [frame, guestPlaces(layout, people.length, frameOf(document, frame))]),
  );
  const layers: LayerRecord[] = [];
  const add = (name: string, content: LayerContent, placements: Placements) => {
    const layer = newLayer(document, scene.id, newId(), name, content, placements);
    layers.push({ ...layer, position: layers.length });
  };
  people.forEach((input, i) => {
    const placements: Placements = {};
    for (const frame of frames) {
      const rect = places.get(frame)![i];
      const whole = rect.x === 0 && rect.y === 0;
      placements[frame] = {
        ...fullPlacement(frameOf(document, frame)),
        ...placementOfRect(rect),
        cornerPx: whole ? 0 : Math.round(Math.min(rect.width, rect.height) * 0.05),
      };
    }
    add(input.name, { type: 'input', inputId: input.id, fit: 'fill' }, placements);
  });
  seats.forEach((seat, s) => {
    const placements: Placements = {};
    for (const frame of frames) {
      const size = frameOf(document, frame);
      const rect = places.get(frame)![(host ? 1 : 0) + s];
      const height = Math.round(Math.min(size.width, size.height) * NAME_HEIGHT);
      const width = Math.round(Math.min(rect.width * 0.8, height * 7));
      placements[frame] = {
        ...fullPlacement(size),
        ...placementOfRect({
          x: rect.x + Math.round(height * 0.3),
          y: rect.y + rect.height - Math.round(height * 1.3),
          width,
          height,
        }),
        cornerPx: Math.round(height * 0.25),
      };
    }
    add(
      `Name of ${seat.name}`,
      {
        type: 'text',
        text: `{{${fieldOfSeat(seat.name)}}}`,
        style: { ...DEFAULT_TEXT_STYLE, sizePx: 40, box: '#14181DC8', wrap: false },
      },
      placements,
    );
  });
  // Until somebody sits there it is nobody's name.
  const show = recordsOf(document, 'show')[0];
  const fields = Object.fromEntries(
    seats.flatMap(({ name }) => (fieldOfSeat(name) in show.fields ? [] : [[fieldOfSeat(name), name]])),
  );
  return [
    scene,
    ...layers,
    ...(Object.keys(fields).length > 0 ? [{ ...show, fields: { ...show.fields, ...fields } }] : []),
  ];
}
