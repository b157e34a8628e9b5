import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { fieldOfSeat } from '~/core/guests/guest-scene';
import { recordsOf } from '~/core/show/document';
import { SEAT_SEES, type SeatSource } from '~/core/show/inputs/seat';
import type { InputRecord } from '~/core/show/records';
import { Toggle } from '../studio/toggle';
import { useDocument } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** What whoever sits on a seat is sent back. */
export function SeatFields({
  input,
  source,
  set,
}: {
  input: InputRecord;
  source: SeatSource;
  set: (what: string, next: SeatSource) => void;
}) {
  const { t } = useTranslation();
  const others = recordsOf(useDocument(), 'input').filter(({ source: of }) => of.type !== 'seat');
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <p className="computer-hint">{t('guests.seatHint', { field: `{{${fieldOfSeat(input.name)}}}` })}</p>
      <TextField
        select
        label={t('guests.sees')}
        value={source.sees}
        onChange={(event) => {
          const sees = event.target.value as SeatSource['sees'];
          const inputId = sees === 'input' ? (source.inputId ?? others[0]?.id ?? null) : source.inputId;
          set(t('guests.sees'), { ...source, sees, inputId });
        }}
      >
        {SEAT_SEES.map((sees) => (
          <MenuItem key={sees} value={sees}>
            {t(`guests.seesOf.${sees}`)}
          </MenuItem>
        ))}
      </TextField>
      {source.sees === 'input' && (
        <TextField
          select
          label={t('guests.seesInput')}
          value={others.some(({ id }) => id === source.inputId) ? source.inputId : ''}
          onChange={(event) => set(t('guests.seesInput'), { ...source, inputId: event.target.value })}
        >
          {others.map(({ id, name }) => (
            <MenuItem key={id} value={id}>
              {name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Toggle
        label={t('guests.hearsProgramme')}
        on={source.hearsProgramme}
        onChange={(hearsProgramme) => set(t('guests.hearsProgramme'), { ...source, hearsProgramme })}
      />
    </div>
  );
}
