import Button from '@mui/material/Button';
import type { ChosenDevice } from '~/core/show/new-show';
import { useTranslation } from '../words/words';
import { ChoiceList } from './choice-list';
import type { Devices } from './use-devices';

const NONE = 'none';

/** Which of the cameras or microphones, or none; what keeps them away is said, with a way on. */
export function DeviceChoice({
  of,
  devices,
  chosen,
  onChoose,
}: {
  of: 'me' | 'voice';
  devices: Devices;
  /** The device that is in use, or null for none; the default one has an empty id. */
  chosen: ChosenDevice | null;
  onChoose: (device: ChosenDevice | null) => void;
}) {
  const { t } = useTranslation();
  const { state, problem, again } = devices;
  const named = devices.devices.map(({ deviceId, label }, i) => ({
    id: deviceId,
    title: label || t(`start.${of}.unnamed`, { number: i + 1 }),
  }));
  // The browser's default stands first in its list.
  const chosenId = chosen === null ? NONE : chosen.deviceId === '' ? (named[0]?.id ?? null) : chosen.deviceId;
  const away =
    chosen !== null && chosen.deviceId !== '' && !named.some(({ id }) => id === chosen.deviceId)
      ? [{ id: chosen.deviceId, title: chosen.deviceLabel }]
      : [];
  return (
    <>
      <ChoiceList
        label={t(of === 'me' ? 'start.me.cameras' : 'start.voice.microphones')}
        choices={[
          ...named,
          ...away,
          { id: NONE, title: t(`start.${of}.none`), hint: t(`start.${of}.noneHint`) },
        ]}
        chosen={chosenId}
        onChoose={(id) => {
          const device = named.find((one) => one.id === id);
          onChoose(id === NONE || !device ? null : { deviceId: device.id, deviceLabel: device.title });
        }}
      />
      <p className="hint" role="status">
        {state === 'asking' && t(`start.${of}.asking`)}
        {state === 'ready' && named.length === 0 && t(`start.${of}.noDevices`)}
        {state === 'refused' && (
          <span style={{ color: 'var(--rose)' }}>
            ◆ {problem} <Button onClick={again}>{t(`start.${of}.again`)}</Button>
          </span>
        )}
      </p>
    </>
  );
}
