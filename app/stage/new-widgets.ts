import { START_CHAT_PANEL } from '~/core/audience/widgets/chat-settings';
import { startWidget, WIDGET_NAMES, widgetKind } from '~/core/audience/widgets/widgets';
import { DEFAULT_TEXT_STYLE, type LayerContent } from '~/core/show/records';
import type { Size } from '~/core/geometry/rect';

const BOX = '#14181DC8';
const GLACIER = '#63BDBB';

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
    ...WIDGET_NAMES.map((of): NewWidget => {
      const { name, size, boxed, align } = widgetKind(of);
      return {
        name,
        size,
        content: {
          type: 'widget',
          widget: startWidget(of, goalId),
          accent: GLACIER,
          style: {
            ...DEFAULT_TEXT_STYLE,
            sizePx: size.sizePx,
            weight: 600,
            box: boxed ? BOX : 'none',
            align,
          },
        },
      };
    }),
  ];
}
