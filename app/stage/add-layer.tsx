import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import LinearProgress from '@mui/material/LinearProgress';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { DEFAULT_TEXT_STYLE, type LayerContent, type Placement } from '~/core/show/records';
import { explainDeviceError } from '~/engine/inputs/device-error';
import { CaptureDevices } from '~/engine/inputs/capture-devices';
import { useDocument, useStudio } from '../studio/studio-context';
import { frameOf, newInputWithLayer, newLayer, shapedPlacement } from './layer-edits';
import { uploadFile } from './upload-file';

const newId = () => crypto.randomUUID();

/** Adds a layer on top of the scene: a device, a file, words, a widget, or an input the show already has. */
export function AddLayer({ sceneId, onAdded }: { sceneId: string; onAdded: (layerId: string) => void }) {
  const { store, desk, say, showId } = useStudio();
  const document = useDocument();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [cameras, setCameras] = useState<MediaDeviceInfo[] | null>(null);
  const [progress, setProgress] = useState<{ name: string; share: number } | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const frame = frameOf(document);
  const close = () => {
    setAnchor(null);
    setCameras(null);
  };

  const addContent = (name: string, content: LayerContent, placement: Partial<Placement>) => {
    close();
    const layer = newLayer(document, sceneId, newId(), name, content, placement);
    store.edit(`Add ${name}`, [layer]);
    onAdded(layer.id);
  };

  const chooseCamera = async () => {
    try {
      // Names of devices are told only after the first permission.
      const probe = await navigator.mediaDevices.getUserMedia({ video: true });
      for (const track of probe.getTracks()) track.stop();
      setCameras((await navigator.mediaDevices.enumerateDevices()).filter((d) => d.kind === 'videoinput'));
    } catch (error) {
      close();
      say(explainDeviceError(error, 'The camera'));
    }
  };

  const addCamera = (device: MediaDeviceInfo) => {
    close();
    const name = device.label.replace(/ \([0-9a-f:]+\)$/, '') || 'Camera';
    const source = {
      type: 'camera',
      deviceId: device.deviceId,
      deviceLabel: name,
      width: 1280,
      height: 720,
      fps: 30,
      mirrored: false,
    } as const;
    const { records, layer } = newInputWithLayer(
      document,
      sceneId,
      newId,
      name,
      source,
      shapedPlacement(frame, 16, 9, 0.5),
    );
    store.edit(`Add ${name}`, records);
    onAdded(layer.id);
  };

  const addScreen = async () => {
    close();
    const answer = await CaptureDevices.askScreen();
    if ('problem' in answer) return say(answer.problem);
    const [track] = answer.stream.getVideoTracks();
    const { width = 16, height = 9, displaySurface } = track.getSettings();
    const name = displaySurface === 'window' ? 'Window' : displaySurface === 'browser' ? 'Tab' : 'Screen';
    const { records, input, layer } = newInputWithLayer(
      document,
      sceneId,
      newId,
      name,
      { type: 'screen' },
      shapedPlacement(frame, width, height, 0.8),
    );
    store.edit(`Add ${name}`, records);
    desk.useScreen(input.id, answer.stream);
    onAdded(layer.id);
  };

  const addFile = async (chosen: File) => {
    setProgress({ name: chosen.name, share: 0 });
    try {
      const asset = await uploadFile(`/show/${showId}/assets`, chosen, (share) =>
        setProgress({ name: chosen.name, share }),
      );
      const name = chosen.name.replace(/\.[^.]+$/, '').slice(0, 60) || 'File';
      const video = asset.mime.startsWith('video/');
      const shape = video ? { width: 16, height: 9 } : await pictureSize(chosen);
      const { records, layer } = newInputWithLayer(
        store.document(),
        sceneId,
        newId,
        name,
        video ? { type: 'video', assetId: asset.id, loop: true } : { type: 'picture', assetId: asset.id },
        shapedPlacement(frame, shape.width, shape.height, 0.5),
      );
      store.edit(`Add ${name}`, records);
      onAdded(layer.id);
    } catch (error) {
      say(error instanceof Error ? error.message : String(error));
    } finally {
      setProgress(null);
    }
  };

  return (
    <>
      <Button startIcon={<AddRounded />} onClick={(e) => setAnchor(e.currentTarget)} aria-haspopup="menu">
        Add layer
      </Button>
      {progress && (
        <span style={{ width: 150, fontSize: 12, color: 'var(--quiet)' }}>
          {progress.name.slice(0, 22)}
          <LinearProgress
            variant="determinate"
            value={progress.share * 100}
            aria-label={`Bringing in ${progress.name}`}
          />
        </span>
      )}
      <input
        ref={file}
        type="file"
        hidden
        data-testid="file"
        accept="image/png,image/jpeg,image/webp,image/gif,image/avif,video/mp4,video/webm,video/quicktime,video/x-matroska,.mkv"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = '';
          if (chosen) void addFile(chosen);
        }}
      />
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close}>
        {cameras
          ? [
              ...(cameras.length === 0
                ? [
                    <MenuItem key="none" disabled>
                      No camera found
                    </MenuItem>,
                  ]
                : []),
              ...cameras.map((device, i) => (
                <MenuItem key={device.deviceId} onClick={() => addCamera(device)}>
                  {device.label || `Camera ${i + 1}`}
                </MenuItem>
              )),
            ]
          : [
              <MenuItem key="camera" onClick={() => void chooseCamera()}>
                Camera…
              </MenuItem>,
              <MenuItem key="screen" onClick={() => void addScreen()}>
                Screen, window or tab…
              </MenuItem>,
              <MenuItem
                key="file"
                onClick={() => {
                  close();
                  file.current?.click();
                }}
              >
                Picture or video file…
              </MenuItem>,
              <MenuItem
                key="text"
                onClick={() =>
                  addContent(
                    'Text',
                    {
                      type: 'text',
                      text: 'Words',
                      style: { ...DEFAULT_TEXT_STYLE, box: '#14181DC8', align: 'center' },
                    },
                    { width: 520, height: 96, cornerPx: 20 },
                  )
                }
              >
                Text
              </MenuItem>,
              <MenuItem
                key="fill"
                onClick={() => addContent('Colour', { type: 'fill', colour: '#26324F' }, {})}
              >
                Colour
              </MenuItem>,
              <MenuItem
                key="chat"
                onClick={() =>
                  addContent(
                    'Chat panel',
                    {
                      type: 'chatPanel',
                      style: { ...DEFAULT_TEXT_STYLE, sizePx: 32, weight: 500, box: '#14181DB8' },
                      keepSeconds: 60,
                    },
                    { cx: 1640, cy: 540, width: 480, height: 640, cornerPx: 22 },
                  )
                }
              >
                Chat panel
              </MenuItem>,
              <Divider key="line" />,
              ...recordsOf(document, 'input').map((input) => (
                <MenuItem
                  key={input.id}
                  onClick={() =>
                    addContent(
                      input.name,
                      { type: 'input', inputId: input.id, fit: 'fill' },
                      shapedPlacement(frame, 16, 9, 0.5),
                    )
                  }
                >
                  {input.name}
                </MenuItem>
              )),
            ]}
      </Menu>
    </>
  );
}

/** A picture's size; a picture the browser cannot read gets a square, and its input says what is wrong. */
async function pictureSize(file: File): Promise<{ width: number; height: number }> {
  try {
    const bitmap = await createImageBitmap(file);
    const { width, height } = bitmap;
    bitmap.close();
    return { width, height };
  } catch {
    return { width: 1, height: 1 };
  }
}
