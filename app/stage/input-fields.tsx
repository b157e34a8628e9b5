import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { greyBalance } from '~/core/picture/grade';
import { START_KEY } from '~/core/show/colour-records';
import { findRecord, recordsOf } from '~/core/show/document';
import { TURNS, type InputRecord } from '~/core/show/records';
import { ClipTransport } from '../studio/clip-transport';
import { NumberField } from '../studio/number-field';
import { Toggle } from '../studio/toggle';
import { useDesk, useStudio } from '../studio/studio-context';
import { GradeFields, KeyFields } from './colour-fields';
import { FIELD_GRID, FieldHeading } from './field-layout';
import { InputStatus } from './input-status';
import { InputView } from './input-view';
import { SourceFields } from './input-parts';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** An input's own adjustment: what it counts for every layer that shows it. */
export function InputFields({ input }: { input: InputRecord }) {
  const { t } = useTranslation();
  const { document, edit } = useStage();
  const { desk, say } = useStudio();
  const inputs = useDesk((now) => now.inputs);
  const [picking, setPicking] = useState<'grey' | 'key' | null>(null);
  const [bare, setBare] = useState(false);
  const state = inputs.find((i) => i.inputId === input.id);
  const set = (what: string, change: Partial<InputRecord>) =>
    edit(t('layout.whatOfName', { what, name: input.name }), [{ ...input, ...change }]);
  const { crop } = input;
  const take = async (x: number, y: number) => {
    const why = picking;
    setPicking(null);
    const colour = await desk.samples.ask(input.id, x, y);
    if (!colour) return say(t('layout.nameHasNoPictureTo', { name: input.name }));
    if (why === 'key') {
      const hex = colour
        .map((v) =>
          Math.round(v * 255)
            .toString(16)
            .padStart(2, '0'),
        )
        .join('');
      return edit(t('layout.keyOfName', { name: input.name }), [
        { ...input, key: { ...START_KEY, ...input.key, colour: `#${hex}` } },
      ]);
    }
    const balance = greyBalance(colour);
    if (!balance) return say(t('layout.thatPlaceIsTooDark'));
    const grade = findRecord(document, 'grade', input.gradeId);
    if (grade)
      edit(t('layout.balanceOfName', { name: grade.name }), [
        { ...grade, values: { ...grade.values, ...balance } },
      ]);
  };
  return (
    <>
      <InputView
        input={input}
        state={state ?? null}
        bare={bare || picking !== null}
        onPoint={picking && ((x, y) => void take(x, y))}
      />
      {input.source.type === 'clips' && <ClipTransport inputId={input.id} name={input.name} />}
      <InputStatus state={state ?? null} />
      {(input.gradeId !== null || input.key !== null) && (
        <Button aria-pressed={bare} onClick={() => setBare(!bare)} title={t('layout.onlyHereViewersSeeIt')}>
          {bare ? t('layout.beforePressToSeeAfter') : t('layout.afterPressToSeeBefore')}
        </Button>
      )}
      <SourceFields input={input} failed={state?.state === 'failed'} />
      <FieldHeading>{t('layout.adjustedForEveryLayer')}</FieldHeading>
      <div style={FIELD_GRID}>
        {(['left', 'right', 'top', 'bottom'] as const).map((side) => {
          const opposite = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' } as const;
          return (
            <NumberField
              key={side}
              label={t('layout.cropSide', { side })}
              unit="%"
              digits={1}
              value={crop[side] * 100}
              min={0}
              max={95 - crop[opposite[side]] * 100}
              onCommit={(percent) => set(t('layout.crop'), { crop: { ...crop, [side]: percent / 100 } })}
            />
          );
        })}
      </div>
      <div style={{ ...FIELD_GRID, marginTop: 8 }}>
        <TextField
          select
          label={t('layout.rotation')}
          value={input.turnDeg}
          onChange={(e) =>
            set(t('layout.turn'), { turnDeg: Number(e.target.value) as InputRecord['turnDeg'] })
          }
        >
          {TURNS.map((turn) => (
            <MenuItem key={turn} value={turn}>
              {`${turn}°`}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label={t('layout.standIn')}
          value={input.standInId ?? ''}
          onChange={(e) =>
            set(t('layout.standIn'), { standInId: e.target.value === '' ? null : e.target.value })
          }
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">
            {input.source.type === 'page' ? t('layout.nothing') : t('layout.placeholder')}
          </MenuItem>
          {recordsOf(document, 'input')
            .filter((other) => other.id !== input.id)
            .map((other) => (
              <MenuItem key={other.id} value={other.id}>
                {other.name}
              </MenuItem>
            ))}
        </TextField>
      </div>
      <GradeFields owner={input} onPick={setPicking} />
      <KeyFields input={input} onPick={() => setPicking('key')} />
      <FieldHeading>{t('layout.more')}</FieldHeading>
      <Toggle
        label={t('layout.mirrored')}
        on={input.mirrored}
        onChange={(mirrored) => set(t('layout.mirror'), { mirrored })}
      />
      <Toggle
        label={t('layout.keptReadyWhenNotShown')}
        on={input.keepReady}
        onChange={(keepReady) => set(t('layout.keptReady'), { keepReady })}
      />
    </>
  );
}
