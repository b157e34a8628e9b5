import HeadphonesRounded from '@mui/icons-material/HeadphonesRounded';
import MenuItem from '@mui/material/MenuItem';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { NumberField } from '../studio/number-field';
import { useDesk, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const OFF = 'off';

/** Where the host hears the monitor, and how loud. Kept in this browser, since devices belong to a computer. */
export function MonitorControl() {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const { switches, monitorProblem } = useDesk((now) => now.sound);
  const { monitor } = switches;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [devices, setDevices] = useState<MediaDeviceInfo[]>([]);
  useEffect(() => {
    if (!anchor) return;
    const list = () =>
      void navigator.mediaDevices
        .enumerateDevices()
        .then((all) => setDevices(all.filter((d) => d.kind === 'audiooutput' && d.deviceId !== '')));
    list();
    navigator.mediaDevices.addEventListener('devicechange', list);
    return () => navigator.mediaDevices.removeEventListener('devicechange', list);
  }, [anchor]);
  const on = monitor.deviceId !== null;
  return (
    <>
      <button
        type="button"
        className="chip tall"
        aria-haspopup="dialog"
        aria-pressed={on}
        data-tone={monitorProblem ? 'rose' : on ? 'glacier' : undefined}
        style={{ width: 132 }}
        onClick={(e) => setAnchor(e.currentTarget)}
      >
        <HeadphonesRounded sx={{ fontSize: 15, verticalAlign: '-3px', mr: 0.5 }} />
        {monitorProblem ? t('sound.headphones') : on ? t('sound.headphonesOn') : t('sound.headphonesOff')}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Headphones', sx: { p: 2, width: 320 } } }}
      >
        <TextField
          select
          fullWidth
          size="small"
          label={t('sound.monitorOutput')}
          value={
            monitor.deviceId === null
              ? OFF
              : devices.some((d) => d.deviceId === monitor.deviceId)
                ? monitor.deviceId
                : 'default'
          }
          onChange={(e) =>
            desk.sound.setSwitches({
              monitor: {
                ...monitor,
                deviceId: e.target.value === OFF ? null : e.target.value === 'default' ? '' : e.target.value,
              },
            })
          }
          sx={{ mb: 1.5 }}
        >
          <MenuItem value={OFF}>{t('sound.off2')}</MenuItem>
          <MenuItem value="default">{t('sound.theSystemsOwn')}</MenuItem>
          {devices
            .filter((d) => d.deviceId !== 'default')
            .map((d) => (
              <MenuItem key={d.deviceId} value={d.deviceId}>
                {d.label || 'Output'}
              </MenuItem>
            ))}
        </TextField>
        <NumberField
          label={t('sound.level')}
          unit="dB"
          digits={1}
          value={monitor.gainDb}
          min={-60}
          max={10}
          onCommit={(gainDb) => desk.sound.setSwitches({ monitor: { ...monitor, gainDb } })}
        />
        <p className="hint" style={{ margin: '10px 0 0', color: monitorProblem ? 'var(--rose)' : undefined }}>
          {monitorProblem ??
            'You hear the channels whose monitor is on, and whatever you solo. Use headphones: loudspeakers get into the microphone.'}
        </p>
      </Popover>
    </>
  );
}
