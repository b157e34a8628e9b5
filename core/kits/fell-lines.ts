import { START_CHAT_PANEL } from '../audience/widgets/chat-settings';
import { startWidget } from '../audience/widgets/widgets';
import { PLAIN_FINISH } from '../show/finish-records';
import { CUT, FADE } from '../show/motion-records';
import { DEFAULT_TEXT_STYLE, type TextStyle } from '../show/records';
import type { Kit } from '../parts/kit';
import { KitBuilder, type Share } from './kit-builder';

const GROUND = '#101B26';
const WORDS = '#F2EDE4';
const RIDGE = '#22384A';
const NEAR = '#172836';
const LAMP = '#F0B35A';

const TITLE: Partial<TextStyle> = {
  ...{ font: 'Bricolage Grotesque Variable', weight: 700, colour: WORDS, sizePx: 120 },
};
const LINE: Partial<TextStyle> = { colour: WORDS, sizePx: 44, weight: 500 };

/** Ridges along the foot of the picture, each nearer and darker, with a lamp on the pass. */
function ridges(kit: KitBuilder): void {
  const far: readonly (readonly [string, Share, Share])[] = [
    ['Far ridge', [-0.1, 0.52, 0.62, 0.55], [-0.35, 0.66, 1.1, 0.38]],
    ['Far ridge, right', [0.42, 0.58, 0.7, 0.5], [0.3, 0.7, 1.05, 0.34]],
  ];
  for (const [name, wide, tall] of far) kit.shape(name, 'triangle', RIDGE, wide, tall);
  kit
    .shape('Lamp', 'ellipse', LAMP, [0.676, 0.545, 0.016, 0.0285], [0.795, 0.683, 0.03, 0.0169], {
      finish: { ...PLAIN_FINISH, outerGlow: { colour: LAMP, sizePx: 60, strength: 0.9 } },
    })
    .shape('Near ridge', 'triangle', NEAR, [0.12, 0.7, 0.8, 0.42], [-0.2, 0.8, 1.3, 0.26])
    .shape('Near ridge, left', 'triangle', NEAR, [-0.3, 0.74, 0.7, 0.4], [-0.6, 0.84, 1.2, 0.22]);
}

/** Waiting, a break and the end under a night sky with ridges; a name, alerts and a goal in the same lines. */
export function fellLines(): Kit {
  const kit = new KitBuilder('fell');
  const sky = kit.ground('Fell sky', {
    look: 'gradient',
    from: GROUND,
    to: '#2A4257',
    angleDeg: 180,
    shape: 'linear',
  });
  const goal = kit.goal({
    ...{ name: 'A new lantern', key: 'lantern', of: 'follow', target: 50, start: 0 },
    ...{ sinceMs: 0, deadlineMs: null },
  });

  kit.scene('Before the start', GROUND, {
    folder: 'Fell lines',
    mark: 'larch',
    transition: { ...FADE, seconds: 0.8 },
  });
  kit.picture('Sky', sky);
  ridges(kit);
  kit
    .words('Title', '{{show-title}}', TITLE, [0.08, 0.14, 0.84, 0.16], [0.08, 0.16, 0.84, 0.14])
    .words('Line', 'We begin in a moment', LINE, [0.08, 0.31, 0.6, 0.07], [0.08, 0.31, 0.84, 0.05])
    .layer(
      'Countdown',
      {
        type: 'widget',
        widget: startWidget('countdown'),
        style: { ...DEFAULT_TEXT_STYLE, font: 'JetBrains Mono Variable', sizePx: 96, colour: LAMP },
        accent: LAMP,
      },
      [0.08, 0.4, 0.34, 0.13],
      [0.08, 0.38, 0.6, 0.08],
    );

  kit.scene('Short break', GROUND, {
    folder: 'Fell lines',
    mark: 'slate',
    transition: { ...FADE, seconds: 0.6 },
  });
  kit.picture('Sky', sky);
  ridges(kit);
  kit
    .words('Title', 'Back in a moment', TITLE, [0.08, 0.12, 0.84, 0.16], [0.08, 0.1, 0.84, 0.14])
    .layer(
      'Chat panel',
      {
        type: 'chatPanel',
        style: { ...DEFAULT_TEXT_STYLE, sizePx: 30, colour: WORDS, box: '#101B26A0' },
        keepSeconds: 600,
        panel: START_CHAT_PANEL,
        accent: LAMP,
      },
      [0.08, 0.32, 0.4, 0.34],
      [0.08, 0.28, 0.84, 0.3],
      { wide: { cornerPx: 18 }, tall: { cornerPx: 18 } },
    )
    .layer(
      'Goal',
      {
        type: 'widget',
        widget: { of: 'goal', goalId: goal },
        style: { ...DEFAULT_TEXT_STYLE, sizePx: 34, colour: WORDS },
        accent: LAMP,
      },
      [0.56, 0.34, 0.36, 0.12],
      [0.08, 0.6, 0.84, 0.06],
    );

  kit.scene('Goodbye', GROUND, { folder: 'Fell lines', mark: 'rose', transition: { ...FADE, seconds: 1.2 } });
  kit.picture('Sky', sky);
  ridges(kit);
  kit
    .words('Title', 'Thank you, and good night', TITLE, [0.08, 0.14, 0.84, 0.16], [0.08, 0.14, 0.84, 0.16])
    .words(
      'Handle',
      '{{handle}}',
      { ...LINE, colour: LAMP },
      [0.08, 0.31, 0.6, 0.07],
      [0.08, 0.31, 0.84, 0.05],
    );

  kit.scene('Name, lower third', GROUND, { folder: 'Fell lines', mark: 'glacier', transition: CUT });
  kit
    .shape('Plate', 'rectangle', NEAR, [0.05, 0.78, 0.38, 0.13], [0.06, 0.7, 0.7, 0.075], {
      ...{ wide: { cornerPx: 14, opacity: 0.94 }, tall: { cornerPx: 14, opacity: 0.94 } },
      motion: { enter: 'wipe', leave: 'wipe', side: 'left', timing: null },
    })
    .shape('Edge', 'rectangle', LAMP, [0.05, 0.78, 0.006, 0.13], [0.06, 0.7, 0.012, 0.075])
    .words(
      'Name',
      '{{host}}',
      { ...TITLE, sizePx: 54 },
      [0.068, 0.79, 0.35, 0.065],
      [0.085, 0.702, 0.65, 0.038],
    )
    .words(
      'Role',
      '{{role}}',
      { ...LINE, sizePx: 32 },
      [0.068, 0.852, 0.35, 0.045],
      [0.085, 0.741, 0.65, 0.028],
    );

  kit
    .alert({
      name: 'Fell lines: new follower',
      event: 'follow',
      text: '{{name}} walks with us',
      motionIn: 'rise',
    })
    .alert({
      ...{ name: 'Fell lines: donation', event: 'donation', text: '{{name}} lights a lamp: {{amount}}' },
      ...{ motionIn: 'zoom', seconds: 8, sound: { type: 'simulated', effect: 'bell' }, priority: 'high' },
    })
    .alert({
      name: 'Fell lines: raid',
      event: 'raid',
      text: '{{name}} comes over the pass with {{count}}',
      motionIn: 'slide',
    });

  return kit.done(
    'Fell lines',
    'A night under the fells: waiting, break, goodbye, a name, three alerts and a goal. Made with Dolomite; free for any use.',
    { 'show-title': 'Tonight', handle: '', role: '' },
    [
      { role: 'Ground', colour: GROUND },
      { role: 'Words', colour: WORDS },
      { role: 'Ridge', colour: RIDGE },
      { role: 'Near ridge', colour: NEAR },
      { role: 'Lamp', colour: LAMP },
    ],
  );
}
