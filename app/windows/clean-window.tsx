import { useEffect, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import type { FrameName } from '~/core/show/records';
import { LiveView } from '../studio/live-view';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

const OFF = 'off';

/** One frame and nothing else, for a projector, a call or one's own eyes. The bar shows itself to a pointer. */
export function CleanWindow({ frame, opened }: { frame: FrameName; opened: Window }) {
  const { t } = useTranslation();
  const [mirrored, setMirrored] = useState(false);
  useEffect(() => {
    const down = ({ key }: KeyboardEvent) => {
      if (key === 'f') void toggleFull(opened);
      else if (key === 'm') setMirrored((now) => !now);
    };
    opened.addEventListener('keydown', down);
    return () => opened.removeEventListener('keydown', down);
  }, [opened]);
  return (
    <div className="clean" data-frame={frame}>
      <div className="clean-picture" data-mirrored={mirrored}>
        <LiveView
          subject={{ type: 'onAir', frame }}
          label={t('windows.clean', { frame: t(`windows.${frame}`) })}
        />
      </div>
      <div className="clean-bar">
        <button
          type="button"
          aria-pressed={mirrored}
          aria-keyshortcuts="M"
          onClick={() => setMirrored(!mirrored)}
        >
          {t('windows.mirror')}
        </button>
        <WindowSound />
        <button type="button" aria-keyshortcuts="F" onClick={() => void toggleFull(opened)}>
          {t('windows.fullScreen')}
        </button>
      </div>
    </div>
  );
}

/** Clean windows that are open: the last one takes its sound along. */
let open = 0;

/** Where the programme is heard beside this picture, and whose call must not hear itself in it. */
function WindowSound() {
  const { desk } = useStudio();
  const { switches, windowsProblem } = useDesk((now) => now.sound);
  const channels = recordsOf(useDocument(), 'channel');
  const [devices, setDevices] = useState<MediaDeviceInfo[]>([]);
  const { t } = useTranslation();
  const { windows } = switches;
  useEffect(() => {
    open += 1;
    void navigator.mediaDevices
      .enumerateDevices()
      .then((all) => setDevices(all.filter((d) => d.kind === 'audiooutput' && d.deviceId !== '')));
    return () => {
      open -= 1;
      const { windows: now } = desk.sound.switches;
      if (open === 0) desk.sound.setSwitches({ windows: { ...now, deviceId: null } });
    };
  }, [desk]);
  const set = (part: Partial<typeof windows>) => desk.sound.setSwitches({ windows: { ...windows, ...part } });
  return (
    <>
      <select
        aria-label={t('windows.sound')}
        value={windows.deviceId ?? OFF}
        onChange={({ target }) => set({ deviceId: target.value === OFF ? null : target.value })}
      >
        <option value={OFF}>{t('windows.soundOff')}</option>
        <option value="">{t('windows.soundDefault')}</option>
        {devices
          .filter(({ deviceId }) => deviceId !== 'default')
          .map(({ deviceId, label }) => (
            <option key={deviceId} value={deviceId}>
              {label}
            </option>
          ))}
      </select>
      {windows.deviceId !== null && (
        <select
          aria-label={t('windows.without')}
          value={windows.without ?? ''}
          onChange={({ target }) => set({ without: target.value === '' ? null : target.value })}
        >
          <option value="">{t('windows.withAll')}</option>
          {channels.map(({ id, name }) => (
            <option key={id} value={id}>
              {t('windows.withoutOne', { name })}
            </option>
          ))}
        </select>
      )}
      {windowsProblem !== null && windows.deviceId !== null && <span role="alert">◆ {windowsProblem}</span>}
    </>
  );
}

export async function toggleFull({ document: of }: Window): Promise<void> {
  if (of.fullscreenElement) return of.exitFullscreen();
  // Refused without a click: nothing is lost by that.
  await of.documentElement.requestFullscreen().catch(() => undefined);
}
