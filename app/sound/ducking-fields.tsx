import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { recordsOf } from '~/core/show/document';
import type { ChannelRecord } from '~/core/show/records';
import { DUCKING_RANGES, type DuckingValues } from '~/core/sound/ducker';
import { useDocument } from '../studio/studio-context';
import { useChannelEdit } from './channel-edit';
import { ParameterSlider } from './parameter-slider';
import { useTranslation } from '../words/words';

/** Turns a channel down while another one speaks. */
export function DuckingFields({ channel }: { channel: ChannelRecord }) {
  const { t } = useTranslation();
  const others = recordsOf(useDocument(), 'channel').filter((c) => c.id !== channel.id);
  const { edit, preview, commit } = useChannelEdit(channel);
  const { ducking } = channel;
  const choose = (byChannelId: string) =>
    edit(t('sound.ducking'), {
      ducking:
        byChannelId === ''
          ? null
          : {
              ...(Object.fromEntries(
                Object.entries(DUCKING_RANGES).map(([name, range]) => [name, range.start]),
              ) as unknown as DuckingValues),
              ...ducking,
              byChannelId,
            },
    });
  return (
    <div>
      <TextField
        select
        fullWidth
        size="small"
        label={t('sound.goesDownWhileThisOne')}
        value={others.some((c) => c.id === ducking?.byChannelId) ? ducking!.byChannelId : ''}
        onChange={(e) => choose(e.target.value)}
        sx={{ mb: 1.5 }}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">{t('sound.none')}</MenuItem>
        {others.map((c) => (
          <MenuItem key={c.id} value={c.id}>
            {c.name}
          </MenuItem>
        ))}
      </TextField>
      {ducking &&
        (Object.keys(DUCKING_RANGES) as (keyof DuckingValues)[]).map((name) => (
          <ParameterSlider
            key={name}
            of="Ducking"
            range={DUCKING_RANGES[name]}
            value={ducking[name]}
            onPreview={(value) => preview({ ducking: { ...ducking, [name]: value } })}
            onCommit={(value) => commit('Ducking', { ducking: { ...ducking, [name]: value } })}
          />
        ))}
    </div>
  );
}
