import Button from '@mui/material/Button';
import { useState } from 'react';
import { findRecord, recordsOf } from '~/core/show/document';
import {
  GRADE_RANGES,
  NO_GRADE,
  START_KEY,
  type ColourKey,
  type GradeFields as Grade,
  type GradeValues,
} from '~/core/show/colour-records';
import type { AnyRecord, GradeRecord, InputRecord, LayerRecord } from '~/core/show/records';
import { freeName } from '~/core/show/stage-edits';
import type { ParameterRange } from '~/core/sound/chain/chain-settings';
import { FileButton } from '../studio/file-button';
import { ParameterSlider } from '../sound/parameter-slider';
import { RenameField } from '../studio/rename-field';
import { useStudio } from '../studio/studio-context';
import { ColourField } from '../studio/colour-field';
import { Toggle } from '../studio/toggle';
import { FieldHeading } from './field-layout';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

const LABELS: Record<keyof GradeValues, string> = {
  brightness: 'Brightness',
  contrast: 'Contrast',
  saturation: 'Saturation',
  temperature: 'Temperature',
  tint: 'Tint',
  gamma: 'Gamma',
};
const NAMES = Object.keys(LABELS) as (keyof GradeValues)[];

/** A share is shown in percent; gamma is halved or doubled either way. */
function rangeOf(name: keyof GradeValues): ParameterRange {
  const label = LABELS[name];
  if (name === 'gamma')
    return { ...GRADE_RANGES.gamma, min: 20, max: 500, start: 100, unit: '%', label, logarithmic: true };
  const { min, max } = GRADE_RANGES[name];
  return { min: min * 100, max: max * 100, start: 0, unit: '%', label };
}
const SHARE = (label: string): ParameterRange => ({ min: 0, max: 100, start: 0, unit: '%', label });

/** Which grade an input or a layer has, and what it does: a grade is shared, so it changes wherever it is used. */
export function GradeFields({
  owner,
  onPick,
}: {
  owner: InputRecord | LayerRecord;
  /** Waits for a press in the input's picture; not given where there is none. */
  onPick?: (why: 'grey') => void;
}) {
  const { t } = useTranslation();
  const { store, say } = useStudio();
  const { document, edit, written } = useStage();
  const [renaming, setRenaming] = useState(false);
  const grades = recordsOf(document, 'grade');
  const grade = findRecord(document, 'grade', owner.gradeId);
  const users =
    recordsOf(document, 'input').filter((i) => i.gradeId === grade?.id).length +
    recordsOf(document, 'layer').filter((l) => l.gradeId === grade?.id).length;
  const choose = (value: string) => {
    if (value !== 'new')
      return void edit(t('layout.gradeOfName', { name: owner.name }), [{ ...owner, gradeId: value || null }]);
    const made: GradeRecord = {
      kind: 'grade',
      id: crypto.randomUUID(),
      showId: owner.showId,
      name: freeName(
        grades.map((g) => g.name),
        `${owner.name} colour`.slice(0, 110),
      ),
      position: (grades.at(-1)?.position ?? -1) + 1,
      values: grade?.values ?? NO_GRADE,
      table: grade?.table ?? null,
      smoothing: grade?.smoothing ?? 0,
    };
    edit(t('layout.newGradeForName', { name: owner.name }), [made, { ...owner, gradeId: made.id }]);
  };
  const change = (part: Partial<Grade>) => grade && { ...grade, ...part };
  const preview = (part: Partial<Grade>) => {
    const next = change(part);
    if (next) store.preview(written([next]));
  };
  const commit = (what: string, part: Partial<Grade>) => {
    const next = change(part);
    if (next) store.edit(t('layout.whatOfName', { what, name: next.name }), written([next]));
  };
  const valueSlider = (name: keyof GradeValues) => {
    const set = (value: number): Partial<Grade> => ({
      values: { ...grade!.values, [name]: value / 100 },
    });
    return (
      <ParameterSlider
        key={name}
        of={grade!.name}
        range={rangeOf(name)}
        value={grade!.values[name] * 100}
        onPreview={(v) => preview(set(v))}
        onCommit={(v) => commit(LABELS[name], set(v))}
      />
    );
  };
  const takeTable = ({ assetId, name, mime }: { assetId: string; name: string; mime: string }) => {
    if (mime !== 'text/x-cube-table') return say(t('layout.nameIsNoColourTable', { name }));
    commit('Table', { table: { assetId, name, strength: 1 } });
  };
  return (
    <>
      <FieldHeading>{t('layout.grade')}</FieldHeading>
      <div style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
        {renaming && grade ? (
          <RenameField
            name={grade.name}
            label={t('layout.nameOfTheGrade')}
            onDone={(name) => {
              setRenaming(false);
              if (name) edit(t('layout.renameGrade'), [{ ...grade, name }]);
            }}
          />
        ) : (
          <select
            aria-label={t('layout.gradeOfName', { name: owner.name })}
            className="plain-select"
            value={grade?.id ?? ''}
            onChange={(e) => choose(e.target.value)}
          >
            <option value="">{t('layout.none')}</option>
            {grades.map((g) => (
              <option key={g.id} value={g.id}>
                {g.name}
              </option>
            ))}
            <option value="new">{grade ? t('layout.makeItACopy') : t('layout.newGrade')}</option>
          </select>
        )}
        {grade && (
          <Button onClick={() => setRenaming(true)} sx={{ flex: 'none' }}>
            {t('layout.rename')}
          </Button>
        )}
      </div>
      {grade && (
        <>
          {users > 1 && <p className="quiet-note">{t('layout.sharedWhatIsChangedHere', { users })}</p>}
          <div className="parameters" style={{ display: 'grid', gap: 4, marginTop: 8 }}>
            {NAMES.map(valueSlider)}
            <ParameterSlider
              of={grade.name}
              range={SHARE('Skin smoothed')}
              value={grade.smoothing * 100}
              onPreview={(v) => preview({ smoothing: v / 100 })}
              onCommit={(v) => commit('Smoothing', { smoothing: v / 100 })}
            />
          </div>
          <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', margin: '8px 0' }}>
            {onPick && (
              <Button onClick={() => onPick('grey')} title={t('layout.thenPressSomethingInThe')}>
                {t('layout.balanceByAGrey')}
              </Button>
            )}
            <Button onClick={() => commit('Reset', { values: NO_GRADE, smoothing: 0 })}>
              {t('layout.reset')}
            </Button>
            <Button
              onClick={() =>
                edit(t('layout.deleteName', { name: grade.name }), [{ ...owner, gradeId: null }], [grade.id])
              }
            >
              {t('layout.delete')}
            </Button>
          </div>
          {grade.table ? (
            <>
              <div style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
                <span className="pose-name" title={grade.table.name}>
                  {t('layout.tableName', { name: grade.table.name })}
                </span>
                <Button onClick={() => commit('No table', { table: null })}>{t('layout.remove')}</Button>
              </div>
              <ParameterSlider
                of={grade.name}
                range={SHARE('Strength of the table')}
                value={grade.table.strength * 100}
                onPreview={(v) => preview({ table: { ...grade.table!, strength: v / 100 } })}
                onCommit={(v) => commit('Table', { table: { ...grade.table!, strength: v / 100 } })}
              />
            </>
          ) : (
            <FileButton
              accept=".cube"
              label={t('layout.importLutCube')}
              onFiles={(files) => takeTable(files[0])}
            />
          )}
        </>
      )}
    </>
  );
}

const KEY_LABELS = {
  tolerance: 'Tolerance',
  softness: 'Softness',
  spill: 'Spill suppression',
  edge: 'Edge shrink',
} as const;

/** A colour of the input that becomes transparent. */
export function KeyFields({ input, onPick }: { input: InputRecord; onPick: () => void }) {
  const { t } = useTranslation();
  const { store } = useStudio();
  const { edit, written } = useStage();
  const { key } = input;
  const set = (part: Partial<ColourKey>): AnyRecord => ({ ...input, key: { ...START_KEY, ...key, ...part } });
  return (
    <>
      <FieldHeading>{t('layout.chromaKey')}</FieldHeading>
      <Toggle
        label={t('layout.chromaKey')}
        on={key !== null}
        onChange={(on) =>
          edit(t('layout.keyOfName', { name: input.name }), [{ ...input, key: on ? START_KEY : null }])
        }
      />
      {key && (
        <>
          <div style={{ display: 'grid', gridTemplateColumns: '1fr auto', gap: 6, margin: '4px 0 8px' }}>
            <ColourField
              label={t('layout.colour')}
              value={key.colour}
              onChange={(colour) => edit(t('layout.keyOfName', { name: input.name }), [set({ colour })])}
            />
            <Button onClick={onPick} title={t('layout.thenPressTheColourIn')}>
              {t('layout.pick')}
            </Button>
          </div>
          <div style={{ display: 'grid', gap: 4 }}>
            {(Object.keys(KEY_LABELS) as (keyof typeof KEY_LABELS)[]).map((name) => (
              <ParameterSlider
                key={name}
                of={`Key of ${input.name}`}
                range={SHARE(KEY_LABELS[name])}
                value={key[name] * 100}
                onPreview={(v) => store.preview(written([set({ [name]: v / 100 })]))}
                onCommit={(v) =>
                  store.edit(t('layout.keyOfName', { name: input.name }), written([set({ [name]: v / 100 })]))
                }
              />
            ))}
          </div>
        </>
      )}
    </>
  );
}
