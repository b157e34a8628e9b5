import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useState, type ReactNode } from 'react';
import type { ArrangeCommand, Corner, Region } from '~/core/geometry/arrange';
import { NumberField } from '../studio/number-field';
import { useStudio } from '../studio/studio-context';
import { FieldHeading } from './field-layout';
import { useStageCommands } from './stage-commands';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** A small drawing of where a command puts a layer: the frame, and the part of it. */
function Sketch({ x, y, width, height }: { x: number; y: number; width: number; height: number }) {
  return (
    <svg viewBox="0 0 30 18" width={30} height={18} aria-hidden>
      <rect x={0.5} y={0.5} width={29} height={17} rx={2} fill="none" stroke="var(--line)" />
      <rect x={x * 30} y={y * 18} width={width * 30} height={height * 18} rx={1.5} fill="var(--glacier)" />
    </svg>
  );
}

const PLACES: { name: string; command: ArrangeCommand; sketch: readonly [number, number, number, number] }[] =
  [
    ...(
      [
        ['Left half', 'left-half', [0, 0, 0.5, 1]],
        ['Right half', 'right-half', [0.5, 0, 0.5, 1]],
        ['Top half', 'top-half', [0, 0, 1, 0.5]],
        ['Bottom half', 'bottom-half', [0, 0.5, 1, 0.5]],
        ['Left third', 'left-third', [0, 0, 0.333, 1]],
        ['Middle third', 'middle-third', [0.333, 0, 0.333, 1]],
        ['Right third', 'right-third', [0.667, 0, 0.333, 1]],
        ['Top third', 'top-third', [0, 0, 1, 0.333]],
        ['Centre third', 'centre-third', [0, 0.333, 1, 0.333]],
        ['Bottom third', 'bottom-third', [0, 0.667, 1, 0.333]],
        ['Left two thirds', 'left-two-thirds', [0, 0, 0.667, 1]],
        ['Right two thirds', 'right-two-thirds', [0.333, 0, 0.667, 1]],
        ['Top two thirds', 'top-two-thirds', [0, 0, 1, 0.667]],
        ['Bottom two thirds', 'bottom-two-thirds', [0, 0.333, 1, 0.667]],
      ] as const
    ).map(([name, region, sketch]) => ({
      name,
      command: { type: 'region', region: region satisfies Region } as const,
      sketch,
    })),
  ];

const CORNER_SKETCHES: [string, Corner, readonly [number, number, number, number]][] = [
  ['Top left', 'top-left', [0.06, 0.1, 0.34, 0.34]],
  ['Top right', 'top-right', [0.6, 0.1, 0.34, 0.34]],
  ['Bottom left', 'bottom-left', [0.06, 0.56, 0.34, 0.34]],
  ['Bottom right', 'bottom-right', [0.6, 0.56, 0.34, 0.34]],
];

const FRAME_COMMANDS: [string, ArrangeCommand, string][] = [
  ['Fit', { type: 'fit' }, 'As large as it goes, all of it seen'],
  ['Fill', { type: 'fill' }, 'Over the whole frame, its shape kept'],
  ['Stretch', { type: 'stretch' }, 'Exactly the frame'],
  ['Centre', { type: 'centre' }, 'Into the middle, size kept'],
  ['Flip horizontal', { type: 'flip', axis: 'x' }, 'Left and right exchanged'],
  ['Flip vertical', { type: 'flip', axis: 'y' }, 'Top and bottom exchanged'],
  ['Reset', { type: 'reset' }, 'Upright, whole, plain, as large as it fits'],
];

const ALIGN_COMMANDS: [string, ArrangeCommand][] = [
  ['Left', { type: 'align', to: 'left' }],
  ['Centre', { type: 'align', to: 'centre' }],
  ['Right', { type: 'align', to: 'right' }],
  ['Top', { type: 'align', to: 'top' }],
  ['Middle', { type: 'align', to: 'middle' }],
  ['Bottom', { type: 'align', to: 'bottom' }],
];

/** Commands that put the chosen layers in their place. It stays open, to try one after another. */
export function ArrangeMenu() {
  const { t } = useTranslation();
  const { say } = useStudio();
  const { movable, chosen, scene } = useStage();
  const commands = useStageCommands();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [marginPx, setMarginPx] = useState(40);
  const count = movable.length;
  const button = (
    name: string,
    command: ArrangeCommand,
    title = name,
    disabled = false,
    words: ReactNode = name,
  ) => (
    <Button
      key={name}
      title={title}
      aria-label={name}
      disabled={disabled}
      onClick={() => commands.arrange(command, name)}
      sx={{ minWidth: 0, px: 1 }}
    >
      {words}
    </Button>
  );
  const clipboard = async (take: (text: string) => Promise<void>) => {
    let text: string;
    try {
      text = await navigator.clipboard.readText();
    } catch {
      return say(t('layout.theBrowserDidNotGive'));
    }
    await take(text);
  };
  const standing = chosen.length > 0 && chosen.every((l) => l.sceneId === null);
  return (
    <>
      <Button
        aria-haspopup="dialog"
        title={t('layout.placesOrderGroupsAndPasting')}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        {t('layout.arrange')}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { sx: { p: 1.5, width: 388 }, 'aria-label': 'Arrange', role: 'dialog' } }}
      >
        <Row>{FRAME_COMMANDS.map(([name, command, title]) => button(name, command, title, count === 0))}</Row>
        <FieldHeading>{t('layout.intoAPartOfThe')}</FieldHeading>
        <Row>
          {PLACES.map(({ name, command, sketch: [x, y, width, height] }) =>
            button(name, command, name, count === 0, <Sketch x={x} y={y} width={width} height={height} />),
          )}
        </Row>
        <FieldHeading>{t('layout.intoACorner')}</FieldHeading>
        <Row>
          {CORNER_SKETCHES.map(([name, corner, [x, y, width, height]]) =>
            button(
              name,
              { type: 'corner', corner, marginPx },
              name,
              count === 0,
              <Sketch x={x} y={y} width={width} height={height} />,
            ),
          )}
          <div style={{ width: 150 }}>
            <NumberField
              label={t('layout.margin')}
              unit="px"
              value={marginPx}
              min={0}
              max={1000}
              onCommit={setMarginPx}
            />
          </div>
        </Row>
        <FieldHeading>
          {count > 1 ? t('layout.alignWithOneAnother') : t('layout.alignWithTheFrame')}
        </FieldHeading>
        <Row>
          {ALIGN_COMMANDS.map(([name, command]) =>
            button(`Align ${name.toLowerCase()}`, command, name, count === 0, name),
          )}
        </Row>
        <Row>
          {button(
            'Distribute horizontally',
            { type: 'distribute', axis: 'x' },
            'For three and more',
            count < 3,
          )}
          {button(
            'Distribute vertically',
            { type: 'distribute', axis: 'y' },
            'For three and more',
            count < 3,
          )}
          {button('Same size', { type: 'sameSize' }, 'As the first one chosen', count < 2)}
          {button('Same place', { type: 'samePlace' }, 'As the first one chosen', count < 2)}
        </Row>
        <FieldHeading>{t('layout.orderAndGroups')}</FieldHeading>
        <Row>
          {(
            [
              ['Bring to front', () => commands.order('top')],
              ['Bring forward', () => commands.order('up')],
              ['Send backward', () => commands.order('down')],
              ['Send to back', () => commands.order('bottom')],
              ['Group', commands.group],
              ['Ungroup', commands.ungroup],
              ['Duplicate', commands.duplicate],
              [standing ? 'In this scene only' : 'Above every scene', () => commands.setStanding(!standing)],
            ] as const
          ).map(([name, act], i) => (
            <Button
              // Not by name: the last one changes its words when pressed, and must keep the focus.
              key={i}
              onClick={act}
              disabled={
                chosen.length === 0 || (name === 'Ungroup' && !chosen.some((l) => l.content.type === 'group'))
              }
              title={
                name === 'In this scene only'
                  ? t('layout.onlyInNameFromNow', { name: scene.name })
                  : undefined
              }
              sx={{ minWidth: 0, px: 1 }}
            >
              {name}
            </Button>
          ))}
        </Row>
        <FieldHeading>{t('layout.fromTheClipboard')}</FieldHeading>
        <Row>
          <Button
            onClick={() => void clipboard((text) => commands.paste(text, 'in the middle'))}
            sx={{ minWidth: 0, px: 1 }}
          >
            {t('layout.pasteInTheMiddle')}
          </Button>
          <Button
            disabled={count === 0}
            title={t('layout.theChosenLayersStandWhere')}
            onClick={() => void clipboard((text) => commands.takePlace(text))}
            sx={{ minWidth: 0, px: 1 }}
          >
            {t('layout.pastePlacement')}
          </Button>
        </Row>
      </Popover>
    </>
  );
}

function Row({ children }: { children: ReactNode }) {
  return <div style={{ display: 'flex', flexWrap: 'wrap', gap: 5, marginBottom: 5 }}>{children}</div>;
}
