import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import LinearProgress from '@mui/material/LinearProgress';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import { showsScene } from '~/core/show/containment';
import { recordsOf } from '~/core/show/document';
import { kindOf } from '~/core/show/input-kinds';
import { DEFAULT_TEXT_STYLE } from '~/core/show/records';
import { guessedPlacements } from '~/core/show/guessed-place';
import type { InputSource } from '~/core/show/records';
import { boxPlacements, fullPlacements, shapedPlacements } from '~/core/show/stage-edits';
import { explainDeviceError } from '~/engine/inputs/device-error';
import { HiddenFile } from '../studio/hidden-file';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { INPUT_OFFERS, type AddWays, type FileAsk } from './input-parts';
import { useStage } from './stage-context';
import { newWidgets } from './new-widgets';
import { useAdd } from './use-add';

const PICTURES = 'image/png,image/apng,image/jpeg,image/webp,image/gif,image/avif';
const VIDEOS = 'video/mp4,video/webm,video/quicktime,video/x-matroska,.mkv';
const ACCEPT: Record<FileAsk, string> = {
  any: `${PICTURES},${VIDEOS},image/svg+xml,.json,.lottie`,
  clips: VIDEOS,
  slides: PICTURES,
};

type Page = 'main' | 'cameras' | 'scenes' | 'inputs' | 'widgets';

/** Adds a layer on top of the scene: a device, a file, words, a shape, something of the audience, a scene, or an input the show has. */
export function AddLayer() {
  const { say } = useStudio();
  const { document, scene, panel } = useStage();
  const adding = useAdd();
  const { addContent, addInput, addFiles, addList, progress } = adding;
  const { t } = useTranslation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [page, setPage] = useState<Page>('main');
  const [cameras, setCameras] = useState<MediaDeviceInfo[]>([]);
  const file = useRef<HTMLInputElement>(null);
  const wanted = useRef<FileAsk>('any');
  const listOnly = panel === 'inputs';
  const close = () => setAnchor(null);

  const findCameras = async () => {
    try {
      // Names of devices are told only after the first permission.
      const probe = await navigator.mediaDevices.getUserMedia({ video: true });
      for (const track of probe.getTracks()) track.stop();
      setCameras((await navigator.mediaDevices.enumerateDevices()).filter((d) => d.kind === 'videoinput'));
      setPage('cameras');
    } catch (error) {
      close();
      say(explainDeviceError(error, 'The camera'));
    }
  };
  const addCamera = (device: MediaDeviceInfo) => {
    close();
    const name = device.label.replace(/ \([0-9a-f:]+\)$/, '') || 'Camera';
    const { deviceId } = device;
    // What it has best for this show is proposed once it runs and tells.
    const size = { width: 1280, height: 720, fps: 30 };
    const source: InputSource = {
      type: 'camera',
      deviceId,
      deviceLabel: name,
      ...size,
      controls: {},
      deinterlace: false,
    };
    addInput(name, source, guessedPlacements(document, scene.id, source, { width: 16, height: 9 }, 0.5));
  };
  const chooseCamera = () => void findCameras();
  const askFiles = (kind: FileAsk) => {
    wanted.current = kind;
    file.current!.accept = ACCEPT[kind];
    file.current!.click();
  };
  const then = (action: () => void) => () => {
    close();
    action();
  };
  const item = (words: string, onClick: () => void) => (
    <MenuItem key={words} onClick={onClick}>
      {words}
    </MenuItem>
  );

  const ways: AddWays = { ...adding, document, sceneId: scene.id, t, chooseCamera, askFiles };
  const main = [
    ...INPUT_OFFERS.map(({ words, stays, bring }) =>
      item(words(t), () => {
        if (!stays) close();
        bring(ways);
      }),
    ),
    ...(listOnly
      ? []
      : [
          <Divider key="line" />,
          item(
            'Text',
            then(() =>
              addContent(
                'Text',
                {
                  type: 'text',
                  text: 'Words',
                  style: { ...DEFAULT_TEXT_STYLE, box: '#14181DC8', align: 'center' },
                },
                boxPlacements(document, { width: 520, height: 96 }, { cornerPx: 20 }),
              ),
            ),
          ),
          item(
            'Shape',
            then(() =>
              addContent(
                'Shape',
                { type: 'shape', shape: 'rectangle', colour: '#26324F' },
                boxPlacements(document, { width: 640, height: 360 }),
              ),
            ),
          ),
          item('Audience…', () => setPage('widgets')),
          item('Scene in this scene…', () => setPage('scenes')),
          item('Input of the show…', () => setPage('inputs')),
        ]),
  ];
  const pages: Record<Page, React.ReactNode[]> = {
    main,
    cameras:
      cameras.length === 0
        ? [
            <MenuItem key="none" disabled>
              {t('layout.noCameraFound')}
            </MenuItem>,
          ]
        : cameras.map((device, i) => (
            <MenuItem key={device.deviceId} onClick={() => addCamera(device)}>
              {device.label || `Camera ${i + 1}`}
            </MenuItem>
          )),
    scenes: [
      <ListSubheader key="title">{t('layout.sceneInThisScene')}</ListSubheader>,
      ...recordsOf(document, 'scene').map((other) => (
        <MenuItem
          key={other.id}
          disabled={showsScene(document, other.id, scene.id)}
          onClick={then(() =>
            addContent(
              other.name,
              { type: 'inset', sceneId: other.id, fit: 'fill' },
              shapedPlacements(document, { width: 16, height: 9 }, 0.5),
            ),
          )}
        >
          {other.name}
        </MenuItem>
      )),
    ],
    widgets: [
      <ListSubheader key="title">{t('layout.audienceOnThePicture')}</ListSubheader>,
      ...newWidgets(recordsOf(document, 'goal')[0]?.id ?? '').map(({ name, content, size }) =>
        item(
          name,
          then(() => addContent(name, content, boxPlacements(document, size, { cornerPx: 22 }))),
        ),
      ),
    ],
    inputs: [
      <ListSubheader key="title">{t('layout.inputOfTheShow')}</ListSubheader>,
      ...recordsOf(document, 'input').map((input) => (
        <MenuItem
          key={input.id}
          onClick={then(() =>
            addContent(
              input.name,
              {
                type: 'input',
                inputId: input.id,
                fit: kindOf(input.source).fills ? 'fill' : 'fit',
              },
              input.source.type === 'background'
                ? fullPlacements(document)
                : guessedPlacements(document, scene.id, input.source, { width: 16, height: 9 }, 0.5),
            ),
          )}
        >
          {input.name}
        </MenuItem>
      )),
    ],
  };

  return (
    <>
      <Button
        startIcon={<AddRounded />}
        onClick={(e) => {
          setPage('main');
          setAnchor(e.currentTarget);
        }}
        aria-haspopup="menu"
      >
        {listOnly ? t('layout.addInput') : t('layout.addLayer')}
      </Button>
      {progress && (
        <span
          role="status"
          style={{
            position: 'fixed',
            left: 220,
            bottom: 76,
            width: 260,
            padding: '8px 14px',
            borderRadius: 8,
            background: 'var(--raised)',
            fontSize: 12.5,
            zIndex: 5,
          }}
        >
          {`Bringing in ${progress.name.slice(0, 30)}`}
          <LinearProgress
            variant="determinate"
            value={progress.share * 100}
            aria-label={t('layout.bringingInName', { name: progress.name })}
            sx={{ mt: 0.75 }}
          />
        </span>
      )}
      <HiddenFile
        of={file}
        label={t('addInput.files')}
        multiple
        accept={ACCEPT.any}
        onFiles={(chosen) => {
          const kind = wanted.current;
          wanted.current = 'any';
          void (kind === 'any' ? addFiles(chosen) : addList(kind, chosen));
        }}
      />
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close}>
        {pages[page]}
      </Menu>
    </>
  );
}
