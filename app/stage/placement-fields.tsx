import type { FrameName, Placement } from '~/core/show/records';
import { hasOwnPlace, ownPlace } from '~/core/show/placing';
import { findRecord } from '~/core/show/document';
import { usedFrames } from '~/core/show/stage-edits';
import { ChoiceRow } from '../studio/choice-row';
import { ColourField } from '../studio/colour-field';
import { NumberField } from '../studio/number-field';
import { Toggle } from '../studio/toggle';
import { FIELD_GRID, FieldHeading } from './field-layout';
import { namesOf, nameOfFrame, useStageCommands } from './stage-commands';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

const FAR = 20_000;

/** Numbers of where the chosen layers stand in one frame. With several, each shows the first one's and sets all. */
export function PlacementFields() {
  const { t } = useTranslation();
  const stage = useStage();
  const { document, scene, chosen, movable, frame, setFrame, edit } = stage;
  const commands = useStageCommands();
  const frames = usedFrames(document);
  const off = movable.length === 0;
  const shownLayer = movable[0] ?? chosen[0];
  const placement = shownLayer?.placements[frame];
  const record = chosen.length === 1 ? findRecord(document, 'layer', chosen[0].id) : null;
  const set = (what: string, change: Partial<Placement>) =>
    commands.change(`${what} of`, (p) => ({ ...p, ...change }));
  if (!shownLayer) return null;
  const field = (
    label: string,
    key: 'cx' | 'cy' | 'width' | 'height' | 'rotationDeg' | 'cornerPx' | 'borderPx' | 'shadowPx',
    what: string,
    unit: string,
    min: number,
    max: number,
    digits = 0,
  ) =>
    placement && (
      <NumberField
        label={label}
        unit={unit}
        value={placement[key]}
        min={min}
        max={max}
        digits={digits}
        disabled={off}
        onCommit={(value) => set(what, { [key]: value })}
      />
    );
  return (
    <>
      {frames.length > 1 && (
        <div style={{ marginBottom: 8 }}>
          <ChoiceRow<FrameName>
            label={t('layout.frame')}
            options={frames.map((f) => ({ value: f, words: nameOfFrame(f) }))}
            value={frame}
            onChange={setFrame}
            height={28}
          />
        </div>
      )}
      {off && chosen.some((l) => l.locked) && (
        <p style={{ color: 'var(--larch)', margin: '0 0 8px', fontSize: 12.5 }}>
          {t('layout.lockedUnlockItInThe')}
        </p>
      )}
      {record?.sceneId === null && record.content.type !== 'group' && (
        <Toggle
          label={t('layout.overridePlacementInThisScene')}
          on={frames.some((f) => hasOwnPlace(document, record, scene.id, f))}
          onChange={(own) =>
            edit(
              own
                ? `Own place of ${record.name} in ${scene.name}`
                : t('layout.nameCommonPlace', { name: record.name }),
              [ownPlace(record, scene, own)],
            )
          }
        />
      )}
      {!placement && !off && (
        <p style={{ color: 'var(--quiet)', margin: '0 0 8px', fontSize: 12.5, lineHeight: 1.45 }}>
          {`Not in ${nameOfFrame(frame)}. Press its ${frame} sign in the list to put it in.`}
        </p>
      )}
      {placement && (
        <>
          <div style={FIELD_GRID}>
            {field('Centre x', 'cx', 'Place', 'px', -FAR, FAR)}
            {field('Centre y', 'cy', 'Place', 'px', -FAR, FAR)}
            {field('Width', 'width', 'Size', 'px', 1, FAR)}
            {field('Height', 'height', 'Size', 'px', 1, FAR)}
            {field('Rotation', 'rotationDeg', 'Rotation', '°', -360, 360, 1)}
            {field('Corner radius', 'cornerPx', 'Corner radius', 'px', 0, 5000)}
            <NumberField
              label={t('layout.opacity')}
              unit="%"
              value={placement.opacity * 100}
              min={0}
              max={100}
              disabled={off}
              onCommit={(percent) => set(t('layout.opacity'), { opacity: percent / 100 })}
            />
            {field('Shadow', 'shadowPx', 'Shadow', 'px', 0, 200)}
            {field('Border', 'borderPx', 'Border', 'px', 0, 200)}
            <ColourField
              label={t('layout.border')}
              value={placement.borderColour}
              onChange={(borderColour) => set(t('layout.borderColour'), { borderColour })}
            />
          </div>
          {movable.some((l) => l.content.type === 'input' || l.content.type === 'inset') && (
            <CropFields placement={placement} off={off} />
          )}
        </>
      )}
      {chosen.length > 1 && (
        <p style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
          {t('layout.severalChosen', { names: namesOf(chosen) })}
        </p>
      )}
    </>
  );
}

const SIDES = [
  ['left', 'right'],
  ['right', 'left'],
  ['top', 'bottom'],
  ['bottom', 'top'],
] as const;

function CropFields({ placement, off }: { placement: Placement; off: boolean }) {
  const { t } = useTranslation();
  const commands = useStageCommands();
  return (
    <>
      <FieldHeading>{t('layout.crop')}</FieldHeading>
      <div style={FIELD_GRID}>
        {SIDES.map(([side, opposite]) => (
          <NumberField
            key={side}
            label={side[0].toUpperCase() + side.slice(1)}
            unit="%"
            digits={1}
            value={placement.crop[side] * 100}
            min={0}
            max={95 - placement.crop[opposite] * 100}
            disabled={off}
            onCommit={(percent) =>
              commands.change('Crop', (p) => ({ ...p, crop: { ...p.crop, [side]: percent / 100 } }))
            }
          />
        ))}
      </div>
    </>
  );
}
