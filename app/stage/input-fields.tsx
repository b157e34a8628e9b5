import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { recordsOf } from '~/core/show/document';
import { TURNS, type InputRecord } from '~/core/show/records';
import { NumberField } from '../studio/number-field';
import { Toggle } from '../studio/toggle';
import { useDesk } from '../studio/studio-context';
import { FIELD_GRID, FieldHeading } from './field-layout';
import { InputStatus } from './input-status';
import { InputView } from './input-view';
import { SourceFields } from './source-fields';
import { useStage } from './stage-context';

/** An input's own adjustment: what it counts for every layer that shows it. */
export function InputFields({ input }: { input: InputRecord }) {
  const { document, edit } = useStage();
  const { inputs } = useDesk();
  const state = inputs.find((i) => i.inputId === input.id);
  const set = (what: string, change: Partial<InputRecord>) =>
    edit(`${what} of ${input.name}`, [{ ...input, ...change }]);
  const { crop } = input;
  return (
    <>
      <InputView input={input} state={state ?? null} />
      <InputStatus state={state ?? null} />
      <SourceFields input={input} failed={state?.state === 'failed'} />
      <FieldHeading>Adjusted for every layer</FieldHeading>
      <div style={FIELD_GRID}>
        {(['left', 'right', 'top', 'bottom'] as const).map((side) => {
          const opposite = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' } as const;
          return (
            <NumberField
              key={side}
              label={`Cut ${side}`}
              unit="%"
              digits={1}
              value={crop[side] * 100}
              min={0}
              max={95 - crop[opposite[side]] * 100}
              onCommit={(percent) => set('Crop', { crop: { ...crop, [side]: percent / 100 } })}
            />
          );
        })}
      </div>
      <div style={{ ...FIELD_GRID, marginTop: 8 }}>
        <TextField
          select
          label="Turned"
          value={input.turnDeg}
          onChange={(e) => set('Turn', { turnDeg: Number(e.target.value) as InputRecord['turnDeg'] })}
        >
          {TURNS.map((turn) => (
            <MenuItem key={turn} value={turn}>
              {turn === 0 ? 'Upright' : `${turn}°`}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Stands in"
          value={input.standInId ?? ''}
          onChange={(e) => set('Stand-in', { standInId: e.target.value === '' ? null : e.target.value })}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">Placeholder</MenuItem>
          {recordsOf(document, 'input')
            .filter((other) => other.id !== input.id)
            .map((other) => (
              <MenuItem key={other.id} value={other.id}>
                {other.name}
              </MenuItem>
            ))}
        </TextField>
      </div>
      <Toggle label="Mirrored" on={input.mirrored} onChange={(mirrored) => set('Mirror', { mirrored })} />
      <Toggle
        label="Kept ready when not shown"
        on={input.keepReady}
        onChange={(keepReady) => set('Kept ready', { keepReady })}
      />
    </>
  );
}
