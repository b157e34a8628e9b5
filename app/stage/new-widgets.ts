import {
  START_CHAT_PANEL,
  startWidget,
  WIDGET_KINDS,
  WIDGET_NAMES,
  type WidgetKind,
} from '~/core/audience/widgets/widget-settings';
import { DEFAULT_TEXT_STYLE, type LayerContent } from '~/core/show/records';
import type { Size } from '~/core/geometry/rect';

const BOX = '#14181DC8';
const GLACIER = '#63BDBB';

/** How large a new widget is, in pixels of a frame 1920 wide, and how large its words are. */
const SIZES: Record<WidgetKind, Size & { sizePx: number }> = {
  viewers: { width: 360, height: 84, sizePx: 40 },
  supporters: { width: 1400, height: 76, sizePx: 34 },
  recent: { width: 560, height: 300, sizePx: 34 },
  streak: { width: 520, height: 140, sizePx: 40 },
  goal: { width: 640, height: 150, sizePx: 40 },
  countdown: { width: 560, height: 200, sizePx: 140 },
  clock: { width: 260, height: 96, sizePx: 56 },
  stopwatch: { width: 260, height: 96, sizePx: 56 },
  poll: { width: 620, height: 360, sizePx: 38 },
  credits: { width: 900, height: 900, sizePx: 44 },
  readOut: { width: 1100, height: 260, sizePx: 56 },
  speaking: { width: 340, height: 160, sizePx: 36 },
  title: { width: 960, height: 200, sizePx: 64 },
};

export interface NewWidget {
  name: string;
  content: LayerContent;
  size: Size;
}

/** Everything of the audience that can be added to a scene. */
export function newWidgets(goalId: string): NewWidget[] {
  return [
    {
      name: 'Chat panel',
      size: { width: 480, height: 640 },
      content: {
        type: 'chatPanel',
        style: { ...DEFAULT_TEXT_STYLE, sizePx: 32, weight: 500, box: '#14181DB8' },
        keepSeconds: 60,
        panel: START_CHAT_PANEL,
        accent: GLACIER,
      },
    },
    {
      name: 'Alerts',
      size: { width: 820, height: 160 },
      content: {
        type: 'alert',
        style: {
          ...DEFAULT_TEXT_STYLE,
          sizePx: 50,
          weight: 700,
          align: 'center',
          box: `${GLACIER}F2`,
          colour: '#10201F',
        },
      },
    },
    ...WIDGET_KINDS.map((of): NewWidget => {
      const { sizePx, ...size } = SIZES[of];
      return {
        name: WIDGET_NAMES[of],
        size,
        content: {
          type: 'widget',
          widget: startWidget(of, goalId),
          accent: GLACIER,
          style: {
            ...DEFAULT_TEXT_STYLE,
            sizePx,
            weight: 600,
            box: of === 'countdown' || of === 'credits' || of === 'title' ? 'none' : BOX,
            align: ['countdown', 'credits', 'clock', 'stopwatch', 'viewers'].includes(of) ? 'center' : 'left',
          },
        },
      };
    }),
  ];
}
