import { START_CHAT_PANEL } from '../audience/widgets/chat-settings';
import { startWidget } from '../audience/widgets/widgets';
import { CUT, FADE, type Transition } from '../show/motion-records';
import { DEFAULT_TEXT_STYLE, type TextStyle } from '../show/records';
import type { Kit } from '../parts/kit';
import { KitBuilder } from './kit-builder';

const PAPER = '#F3EBDD';
const INK = '#23262B';
const STOP = '#C8452F';
const CLEAR = '#2F7F6B';

const TITLE: Partial<TextStyle> = {
  ...{ font: 'Bricolage Grotesque Variable', weight: 800, colour: INK, sizePx: 132 },
};
const SMALL: Partial<TextStyle> = { font: 'JetBrains Mono Variable', colour: INK, sizePx: 36, weight: 500 };
const SLIDE: Transition = { ...CUT, type: 'slide', seconds: 0.6, easing: 'ease-in-out', side: 'right' };

/** A card as it is hung out at a signal post: a paper ground, a band of colour, large words. */
function card(kit: KitBuilder, band: string, title: string, line: string, paper: string): void {
  kit
    .picture('Paper', paper)
    .shape('Band', 'rectangle', band, [0, 0, 1, 0.055], [0, 0, 1, 0.03])
    .shape('Arm', 'rectangle', band, [0.72, 0.2, 0.3, 0.075], [0.6, 0.09, 0.5, 0.04], {
      wide: { rotationDeg: -24, cornerPx: 10 },
      tall: { rotationDeg: -24, cornerPx: 10 },
    })
    .shape('Post', 'rectangle', INK, [0.875, 0.12, 0.012, 0.9], [0.86, 0.05, 0.022, 0.97])
    .shape('Lamp', 'ellipse', band, [0.866, 0.33, 0.03, 0.0533], [0.846, 0.155, 0.05, 0.0281])
    .words('Title', title, TITLE, [0.07, 0.3, 0.68, 0.28], [0.07, 0.3, 0.74, 0.22])
    .words('Line', line, SMALL, [0.07, 0.6, 0.62, 0.07], [0.07, 0.53, 0.74, 0.05]);
}

/** Bright cards for waiting, a pause and the end, a strip for the latest supporters, three alerts. */
export function signalCards(): Kit {
  const kit = new KitBuilder('cards');
  const paper = kit.ground('Signal paper', {
    look: 'texture',
    texture: 'dots',
    colour: PAPER,
    ink: '#E6DAC6',
    seed: 7,
  });

  kit.scene('Card: soon', PAPER, { folder: 'Signal cards', mark: 'larch', transition: SLIDE });
  card(kit, CLEAR, '{{show-title}}', 'DEPARTURE SOON', paper);
  kit.layer(
    'Countdown',
    {
      type: 'widget',
      widget: startWidget('countdown'),
      style: { ...DEFAULT_TEXT_STYLE, font: 'JetBrains Mono Variable', sizePx: 84, colour: CLEAR },
      accent: CLEAR,
    },
    [0.07, 0.7, 0.4, 0.12],
    [0.07, 0.6, 0.6, 0.07],
  );

  kit.scene('Card: pause', PAPER, { folder: 'Signal cards', mark: 'slate', transition: SLIDE });
  card(kit, STOP, 'Signal at danger', 'A SHORT STOP', paper);
  kit.layer(
    'Chat panel',
    {
      type: 'chatPanel',
      style: { ...DEFAULT_TEXT_STYLE, sizePx: 30, colour: INK, box: '#FFFFFFB0' },
      keepSeconds: 600,
      panel: { ...START_CHAT_PANEL, theme: 'lines' },
      accent: STOP,
    },
    [0.07, 0.7, 0.6, 0.24],
    [0.07, 0.62, 0.74, 0.28],
    { wide: { cornerPx: 10 }, tall: { cornerPx: 10 } },
  );

  kit.scene('Card: end', PAPER, {
    folder: 'Signal cards',
    mark: 'rose',
    transition: { ...FADE, seconds: 1 },
  });
  card(kit, CLEAR, 'All change, please', '{{handle}}', paper);

  kit.scene('Supporter strip', INK, { folder: 'Signal cards', mark: 'moss', transition: CUT });
  kit
    .shape('Strip', 'rectangle', PAPER, [0, 0.92, 1, 0.08], [0, 0.95, 1, 0.05])
    .shape('Edge', 'rectangle', STOP, [0, 0.912, 1, 0.008], [0, 0.945, 1, 0.005])
    .layer(
      'Supporters',
      {
        type: 'widget',
        widget: startWidget('supporters'),
        style: { ...DEFAULT_TEXT_STYLE, sizePx: 34, colour: INK },
        accent: STOP,
      },
      [0.02, 0.928, 0.6, 0.064],
      [0.03, 0.953, 0.94, 0.044],
    )
    .words('Clock title', '{{show-title}}', { ...SMALL, align: 'right' }, [0.64, 0.928, 0.34, 0.064], null);

  kit
    .alert({
      name: 'Signal cards: new follower',
      event: 'follow',
      text: '{{name}} gets on',
      motionIn: 'slide',
    })
    .alert({
      ...{ name: 'Signal cards: donation', event: 'donation', text: '{{name}}: {{amount}} for the line' },
      ...{ motionIn: 'drop', seconds: 8, sound: { type: 'simulated', effect: 'whistle' }, priority: 'high' },
    })
    .alert({
      name: 'Signal cards: cheer',
      event: 'cheer',
      text: '{{name}} cheers: {{amount}}',
      motionIn: 'zoom',
    });

  return kit.done(
    'Signal cards',
    'Bright cards from the signal post: soon, pause, end, a supporter strip and three alerts. Made with Dolomite; free for any use.',
    { 'show-title': 'Tonight', handle: '' },
    [
      { role: 'Paper', colour: PAPER },
      { role: 'Ink', colour: INK },
      { role: 'Stop', colour: STOP },
      { role: 'Clear', colour: CLEAR },
    ],
  );
}
