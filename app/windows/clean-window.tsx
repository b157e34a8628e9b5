import { useEffect, useState, useSyncExternalStore } from 'react';
import { planInUse } from '~/core/delivery/live-plan';
import { recordsOf } from '~/core/show/document';
import type { FrameName } from '~/core/show/records';
import type { CameraPlace } from '~/protocol/camera';
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
        <WindowCamera frame={frame} />
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

/** The same frame as a camera for calls and other programs, while this window is open. */
function WindowCamera({ frame }: { frame: FrameName }) {
  const { camera } = useStudio();
  const now = useSyncExternalStore(camera.subscribe, camera.snapshot);
  const document = useDocument();
  const [places, setPlaces] = useState<readonly CameraPlace[] | null>(null);
  const [problem, setProblem] = useState('');
  const { t } = useTranslation();
  useEffect(() => {
    const gone = new AbortController();
    fetch('/cameras', { signal: gone.signal })
      .then(async (response) => {
        if (!response.ok) throw new Error(String(response.status));
        setPlaces(((await response.json()) as { places: CameraPlace[] }).places);
      })
      .catch(() => !gone.signal.aborted && setProblem(t('windows.cameraUnknown')));
    return () => {
      gone.abort();
      if (camera.now?.frame === frame) camera.stop();
    };
  }, [camera, frame, t]);
  const mine = now?.frame === frame ? now : null;
  const choose = (id: string) => {
    const place = places?.find((one) => one.id === id);
    const size = recordsOf(document, 'show')[0]?.frames[frame];
    if (place && size) void camera.start(place, frame, size, planInUse(document)?.fps ?? 30);
    else camera.stop();
  };
  return (
    <>
      <select
        aria-label={t('windows.camera')}
        disabled={!places || places.length === 0}
        value={mine?.place.id ?? OFF}
        onChange={({ target }) => choose(target.value)}
      >
        <option value={OFF}>{t('windows.cameraOff')}</option>
        {places?.map(({ id, type, name }) => (
          <option key={id} value={id}>
            {type === 'device' ? name : t('windows.cameraPipe')}
          </option>
        ))}
      </select>
      {problem !== '' && <span role="alert">◆ {problem}</span>}
      {mine && (
        <span role="status" className="clean-camera" data-state={mine.state}>
          {mine.state === 'failed'
            ? t('windows.cameraFailed', { why: mine.message })
            : mine.state === 'running'
              ? t('windows.cameraOn', { name: mine.place.name })
              : mine.state === 'waiting'
                ? t('windows.cameraWaits', { path: mine.place.path })
                : t('windows.cameraStarts')}
        </span>
      )}
      {!mine && places && !places.some(({ type }) => type === 'device') && (
        <span className="clean-hint">{t('windows.cameraNone')}</span>
      )}
    </>
  );
}

export async function toggleFull({ document: of }: Window): Promise<void> {
  if (of.fullscreenElement) return of.exitFullscreen();
  // Refused without a click: nothing is lost by that.
  await of.documentElement.requestFullscreen().catch(() => undefined);
}
