/** Scenes to start from: parts with a place in both frames, each to be taken or left. */
import type { Rect, Size } from '../geometry/rect';
import type { TextStyle } from '../show/records';

/** Place in parts of the frame. */
type Share = readonly [x: number, y: number, width: number, height: number];

export type TemplatePart = {
  id: string;
  name: string;
  wide: Share;
  tall: Share | null;
  /** Round corners in parts of the frame's shorter side. */
  corner?: number;
} & (
  | { type: 'person' | 'screen' | 'background' }
  | { type: 'text'; text: string; style: Partial<TextStyle> }
  | { type: 'chat' }
);

export interface Template {
  id: string;
  name: string;
  says: string;
  parts: readonly TemplatePart[];
}

const WHOLE: Share = [0, 0, 1, 1];
const BACK: TemplatePart = { id: 'back', name: 'Background', type: 'background', wide: WHOLE, tall: WHOLE };
const NAME: TemplatePart = {
  id: 'name',
  name: 'Name',
  type: 'text',
  text: '{{host}}',
  style: { sizePx: 52, weight: 700, align: 'center', box: '#14181DC8' },
  wide: [0.3, 0.84, 0.4, 0.1],
  tall: [0.08, 0.72, 0.84, 0.07],
  corner: 0.024,
};
const CHAT: TemplatePart = {
  id: 'chat',
  name: 'Chat panel',
  type: 'chat',
  wide: [0.73, 0.2, 0.24, 0.56],
  tall: [0.04, 0.82, 0.92, 0.15],
  corner: 0.02,
};

export const TEMPLATES: readonly Template[] = [
  { id: 'blank', name: 'Blank', says: 'Nothing on it yet', parts: [] },
  {
    id: 'talk',
    name: 'Talk',
    says: 'Host over the whole picture, name and chat',
    parts: [{ id: 'host', name: 'Host', type: 'person', wide: WHOLE, tall: WHOLE }, NAME, CHAT],
  },
  {
    id: 'game',
    name: 'Game',
    says: 'Game whole, host in a corner, chat',
    parts: [
      { id: 'screen', name: 'Game', type: 'screen', wide: WHOLE, tall: [0, 1 / 3, 1, 0.3165] },
      {
        id: 'host',
        name: 'Host',
        type: 'person',
        wide: [0.03, 0.66, 0.28, 0.296],
        tall: [0, 0, 1, 1 / 3],
        corner: 0.03,
      },
      { ...CHAT, wide: [0.74, 0.66, 0.24, 0.3], tall: [0.04, 0.67, 0.92, 0.3] },
    ],
  },
  {
    id: 'two-cameras',
    name: 'Two cameras',
    says: 'Side by side, or above each other in Tall',
    parts: [
      BACK,
      { id: 'first', name: 'First camera', type: 'person', wide: [0, 0, 0.5, 1], tall: [0, 0, 1, 0.5] },
      { id: 'second', name: 'Second camera', type: 'person', wide: [0.5, 0, 0.5, 1], tall: [0, 0.5, 1, 0.5] },
    ],
  },
  {
    id: 'screen-and-camera',
    name: 'Screen and camera',
    says: 'Screen large, camera beside it',
    parts: [
      BACK,
      {
        id: 'screen',
        name: 'Screen',
        type: 'screen',
        wide: [0.02, 0.14, 0.7, 0.7],
        tall: [0, 1 / 3, 1, 0.3165],
        corner: 0.015,
      },
      {
        id: 'host',
        name: 'Host',
        type: 'person',
        wide: [0.74, 0.14, 0.24, 0.36],
        tall: [0, 0, 1, 1 / 3],
        corner: 0.015,
      },
      { ...CHAT, wide: [0.74, 0.52, 0.24, 0.32], tall: [0.04, 0.67, 0.92, 0.3] },
    ],
  },
  {
    id: 'interview',
    name: 'Interview',
    says: 'Host and guest as equals, with their names',
    parts: [
      BACK,
      {
        id: 'host',
        name: 'Host',
        type: 'person',
        wide: [0.03, 0.14, 0.46, 0.66],
        tall: [0.04, 0.03, 0.92, 0.42],
        corner: 0.02,
      },
      {
        id: 'guest',
        name: 'Guest',
        type: 'person',
        wide: [0.51, 0.14, 0.46, 0.66],
        tall: [0.04, 0.53, 0.92, 0.42],
        corner: 0.02,
      },
      {
        ...NAME,
        id: 'host-name',
        name: "Host's name",
        wide: [0.03, 0.83, 0.46, 0.09],
        tall: [0.04, 0.455, 0.92, 0.05],
      },
      {
        ...NAME,
        id: 'guest-name',
        name: "Guest's name",
        text: '{{guest}}',
        wide: [0.51, 0.83, 0.46, 0.09],
        tall: [0.04, 0.945, 0.92, 0.05],
      },
    ],
  },
];

export function rectOfShare([x, y, width, height]: Share, frame: Size): Rect {
  return {
    x: Math.round(x * frame.width),
    y: Math.round(y * frame.height),
    width: Math.round(width * frame.width),
    height: Math.round(height * frame.height),
  };
}
