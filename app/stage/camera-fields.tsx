import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { planInUse } from '~/core/delivery/live-plan';
import { fitted } from '~/core/inputs/camera-controls';
import { recordsOf } from '~/core/show/document';
import type { CameraSource } from '~/core/show/inputs/camera';
import type { CameraFacts } from '~/engine/inputs/capture-devices';
import { NumberField } from '../studio/number-field';
import { useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';
import { FIELD_GRID } from './field-layout';
import { useStage } from './stage-context';

/** A camera tells what it does when it is asked: it may take a moment to do what it was told. */
const LOOK_MS = 1000;
/** Without one that tells. */
const COMMON = [
  { width: 640, height: 360 },
  { width: 1280, height: 720 },
  { width: 1920, height: 1080 },
  { width: 3840, height: 2160 },
];
const USUAL_FPS = 30;

/** Which camera, in which of its sizes and rates, and what of it is set by hand. */
export function CameraFields({
  inputId,
  source,
  failed,
  set,
}: {
  inputId: string;
  source: CameraSource;
  failed: boolean;
  set: (what: string, next: CameraSource) => void;
}) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const facts = useCamera(inputId);
  return (
    <div className="camera-fields">
      <DeviceField source={source} set={set} />
      <ModeFields source={source} facts={facts} set={set} />
      <Toggle
        label={t('camera.deinterlace')}
        hint={t('camera.deinterlaceHint')}
        on={source.deinterlace}
        onChange={(deinterlace) => set(t('camera.deinterlace'), { ...source, deinterlace })}
      />
      {facts?.controls.map((control) => (
        <ControlRow
          key={control.control}
          {...control}
          set={source.controls[control.control]}
          onChange={(value) => {
            const { [control.control]: _, ...others } = source.controls;
            const controls = value === null ? others : { ...others, [control.control]: value };
            set(t(`camera.control.${control.control}`), { ...source, controls });
          }}
        />
      ))}
      {facts?.refused && (
        <p role="alert" className="computer-problem">
          {t('camera.refused')}
        </p>
      )}
      {failed && <Button onClick={() => desk.retryDevices()}>{t('camera.again')}</Button>}
    </div>
  );
}

function DeviceField({
  source,
  set,
}: {
  source: CameraSource;
  set: (what: string, next: CameraSource) => void;
}) {
  const { t } = useTranslation();
  const devices = useCameras();
  const known = devices.some((d) => d.deviceId === source.deviceId);
  return (
    <TextField
      select
      label={t('camera.device')}
      value={source.deviceId}
      onChange={(e) => {
        const device = devices.find((d) => d.deviceId === e.target.value);
        if (!device) return;
        const deviceLabel = device.label.replace(/ \([0-9a-f:]+\)$/, '');
        // What was set by hand was set for the other one.
        set(t('camera.device'), { ...source, deviceId: device.deviceId, deviceLabel, controls: {} });
      }}
    >
      {!known && (
        <MenuItem value={source.deviceId}>
          {t('camera.away', { name: source.deviceLabel || t('camera.camera') })}
        </MenuItem>
      )}
      {devices.map((d, i) => (
        <MenuItem key={d.deviceId} value={d.deviceId}>
          {d.label || t('camera.numbered', { number: i + 1 })}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Size and rate, out of what the camera has; what it gives in truth; and what suits the show. */
function ModeFields({
  source,
  facts,
  set,
}: {
  source: CameraSource;
  facts: CameraFacts | null;
  set: (what: string, next: CameraSource) => void;
}) {
  const { t } = useTranslation();
  const { document } = useStage();
  const sizes = facts?.sizes ?? COMMON;
  const size = `${source.width}x${source.height}`;
  const wide = recordsOf(document, 'show')[0].frames.wide;
  const best = facts?.proposed(wide, planInUse(document)?.fps ?? USUAL_FPS);
  const isBest = best?.width === source.width && best.height === source.height && best.fps === source.fps;
  const { gives } = facts ?? {};
  const less =
    gives !== undefined &&
    (gives.width < source.width || gives.height < source.height || gives.fps < source.fps - 0.5);
  return (
    <>
      <div style={FIELD_GRID}>
        <TextField
          select
          label={t('camera.size')}
          value={size}
          onChange={(e) => {
            const [width, height] = e.target.value.split('x').map(Number);
            set(t('camera.size'), { ...source, width, height });
          }}
        >
          {sizes.map(({ width, height }) => (
            <MenuItem key={`${width}x${height}`} value={`${width}x${height}`}>
              {t('camera.sizeIs', { width, height })}
            </MenuItem>
          ))}
          {!sizes.some(({ width, height }) => `${width}x${height}` === size) && (
            <MenuItem value={size}>
              {t('camera.sizeIs', { width: source.width, height: source.height })}
            </MenuItem>
          )}
        </TextField>
        <NumberField
          label={t('camera.rate')}
          unit="fps"
          value={source.fps}
          min={1}
          max={240}
          onCommit={(fps) => set(t('camera.rate'), { ...source, fps })}
        />
      </div>
      {gives && (
        <p className="computer-hint">
          {t(less ? 'camera.givesLess' : 'camera.gives', {
            ...{ width: gives.width, height: gives.height },
            fps: Math.round(gives.fps * 10) / 10,
          })}
        </p>
      )}
      {best && !isBest && (
        <Button className="raised" onClick={() => set(t('camera.best'), { ...source, ...best })}>
          {t('camera.useBest', { ...best })}
        </Button>
      )}
    </>
  );
}

/** One thing of a camera: by itself, or by hand. */
function ControlRow({
  control,
  range,
  value,
  automatic,
  set,
  onChange,
}: CameraFacts['controls'][number] & {
  set: number | undefined;
  onChange: (value: number | null) => void;
}) {
  const { t } = useTranslation();
  const byHand = set !== undefined;
  const now = fitted(set ?? value ?? range.min, range);
  const whole = Number.isInteger(range.step) && range.step > 0 && Number.isInteger(range.min);
  return (
    <div className="camera-control" role="group" aria-label={t(`camera.control.${control}`)}>
      <NumberField
        label={t(`camera.control.${control}`)}
        unit=""
        value={now}
        min={range.min}
        max={range.max}
        step={range.step > 0 ? range.step : (range.max - range.min) / 100}
        digits={whole ? 0 : 2}
        onCommit={(next) => onChange(fitted(next, range))}
      />
      {(automatic || byHand) && (
        <Toggle
          label={t(automatic ? 'camera.automatic' : 'camera.asItWas')}
          on={!byHand}
          onChange={(on) => onChange(on ? null : now)}
        />
      )}
    </div>
  );
}

function useCameras(): MediaDeviceInfo[] {
  const [devices, setDevices] = useState<MediaDeviceInfo[]>([]);
  useEffect(() => {
    let there = true;
    const look = () =>
      void navigator.mediaDevices.enumerateDevices().then((all) => {
        if (there) setDevices(all.filter((d) => d.kind === 'videoinput' && d.deviceId !== ''));
      });
    look();
    navigator.mediaDevices.addEventListener('devicechange', look);
    return () => {
      there = false;
      navigator.mediaDevices.removeEventListener('devicechange', look);
    };
  }, []);
  return devices;
}

/** What the camera tells of itself, asked again while it is looked at. */
function useCamera(inputId: string): CameraFacts | null {
  const { desk } = useStudio();
  const [facts, setFacts] = useState<CameraFacts | null>(null);
  useEffect(() => {
    const look = () => setFacts(desk.camera(inputId));
    look();
    const timer = setInterval(look, LOOK_MS);
    return () => clearInterval(timer);
  }, [desk, inputId]);
  return facts;
}
