import AddRounded from '@mui/icons-material/AddRounded';
import ArrowDownwardRounded from '@mui/icons-material/ArrowDownwardRounded';
import ArrowUpwardRounded from '@mui/icons-material/ArrowUpwardRounded';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useRef } from 'react';
import {
  BACKGROUND_TEXTURES,
  type BackgroundLook,
  type InputRecord,
  type InputSource,
  type ListedFile,
} from '~/core/show/records';
import { ChoiceRow } from '../studio/choice-row';
import { ColourField } from '../studio/colour-field';
import { NumberField } from '../studio/number-field';
import { SmallButton } from '../studio/small-button';
import { Toggle } from '../studio/toggle';
import { useStudio } from '../studio/studio-context';
import { FeedFields, PageFields } from './address-fields';
import { SeatFields } from '../guests/seat-fields';
import { CameraFields } from './camera-fields';
import { FIELD_GRID } from './field-layout';
import { FileCost } from './heavy-media';
import { useStage } from './stage-context';
import { useAdd } from './use-add';

type Source<T extends InputSource['type']> = Extract<InputSource, { type: T }>;

/** Settings of what an input takes its picture from. */
export function SourceFields({ input, failed }: { input: InputRecord; failed: boolean }) {
  const { edit } = useStage();
  const { desk, say } = useStudio();
  const { source } = input;
  const set = (what: string, next: InputSource) =>
    edit(`${what} of ${input.name}`, [{ ...input, source: next }]);
  switch (source.type) {
    case 'camera':
      return <CameraFields inputId={input.id} source={source} failed={failed} set={set} />;
    case 'screen': {
      const choose = async () => {
        const answer = await desk.askScreen(source.surface);
        if ('problem' in answer) say(answer.problem);
        else desk.useScreen(input.id, answer.stream);
      };
      return <Button onClick={() => void choose()}>Choose screen or window</Button>;
    }
    case 'picture':
      return (
        <Toggle
          label="Loop, if it moves"
          on={source.loop}
          onChange={(loop) => set('Loop', { ...source, loop })}
        />
      );
    case 'lottie':
      return (
        <>
          <NumberField
            label="Speed"
            unit="%"
            value={source.speed * 100}
            min={5}
            max={2000}
            step={5}
            onCommit={(percent) => set('Speed', { ...source, speed: percent / 100 })}
          />
          <Toggle label="Loop" on={source.loop} onChange={(loop) => set('Loop', { ...source, loop })} />
        </>
      );
    case 'clips':
      return <ClipsFields input={input} source={source} set={set} />;
    case 'slides':
      return <SlidesFields source={source} set={set} />;
    case 'background':
      return <BackgroundFields source={source} set={set} />;
    case 'page':
      return <PageFields key={input.id} input={input} source={source} set={set} />;
    case 'feed':
      return <FeedFields key={input.id} input={input} source={source} set={set} />;
    case 'seat':
      return <SeatFields input={input} source={source} set={set} />;
    case 'simulated':
      return (
        <p style={{ color: 'var(--quiet)', fontSize: 12.5, margin: 0, lineHeight: 1.45 }}>
          A simulated picture that ships with the studio, for trying things out.
        </p>
      );
  }
}

/** Files of a playlist whose cost is looked at: each is asked for. */
const MAX_COSTS = 12;
type Set = (what: string, next: InputSource) => void;

function ClipsFields({ input, source, set }: { input: InputRecord; source: Source<'clips'>; set: Set }) {
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <FileRows files={source.files} kind="clips" onChange={(files) => set('Files', { ...source, files })} />
      {source.files.slice(0, MAX_COSTS).map((file) => (
        <FileCost
          key={file.assetId}
          input={input}
          file={file}
          onReplace={(lighter) =>
            set('Lighter copy', {
              ...source,
              files: source.files.map((f) => (f.assetId === file.assetId ? lighter : f)),
            })
          }
        />
      ))}
      <ChoiceRow
        label="At the end"
        options={[
          { value: 'loop', words: 'Loop', title: 'Begin again' },
          { value: 'stop', words: 'Stop', title: 'Hold last frame' },
          { value: 'next', words: 'Next scene', title: 'Bring the next scene on air' },
        ]}
        value={source.atEnd}
        onChange={(atEnd) => set('End', { ...source, atEnd })}
      />
      <ChoiceRow
        label="Begins"
        options={[
          { value: 'on-air', words: 'When it comes on air' },
          { value: 'always', words: 'Always running' },
        ]}
        value={source.start}
        onChange={(start) => set('Start', { ...source, start })}
      />
      {source.files.length > 1 && (
        <Toggle
          label="Shuffled"
          on={source.order === 'shuffled'}
          onChange={(on) => set('Order', { ...source, order: on ? 'shuffled' : 'listed' })}
        />
      )}
    </div>
  );
}

function SlidesFields({ source, set }: { source: Source<'slides'>; set: Set }) {
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <FileRows files={source.files} kind="slides" onChange={(files) => set('Files', { ...source, files })} />
      <div style={FIELD_GRID}>
        <NumberField
          label="Each"
          unit="s"
          digits={1}
          value={source.intervalSeconds}
          min={0.2}
          max={3600}
          onCommit={(intervalSeconds) => set('Interval', { ...source, intervalSeconds })}
        />
        <NumberField
          label="Fade"
          unit="s"
          digits={1}
          step={0.1}
          value={source.fadeSeconds}
          min={0}
          max={30}
          onCommit={(fadeSeconds) => set('Fade', { ...source, fadeSeconds })}
        />
      </div>
      <Toggle
        label="Shuffled"
        on={source.order === 'shuffled'}
        onChange={(on) => set('Order', { ...source, order: on ? 'shuffled' : 'listed' })}
      />
    </div>
  );
}

/** The files of a list: in order, to be moved, removed and added to. */
function FileRows({
  files,
  kind,
  onChange,
}: {
  files: readonly ListedFile[];
  kind: 'clips' | 'slides';
  onChange: (files: ListedFile[]) => void;
}) {
  const { takeFiles, progress } = useAdd();
  const chooser = useRef<HTMLInputElement>(null);
  const move = (from: number, to: number) => {
    const next = [...files];
    next.splice(to, 0, ...next.splice(from, 1));
    onChange(next);
  };
  const add = async (chosen: File[]) => {
    const wanted = kind === 'clips' ? 'video/' : 'image/';
    const came = (await takeFiles(chosen)).filter((c) => c.mime.startsWith(wanted));
    if (came.length > 0) onChange([...files, ...came.map((c) => c.listed)]);
  };
  return (
    <div>
      <ol aria-label="Files" style={{ listStyle: 'none', margin: 0, padding: 0 }}>
        {files.map((file, i) => (
          <li key={`${file.assetId}${i}`} style={{ display: 'flex', alignItems: 'center', minHeight: 28 }}>
            <span
              title={file.name}
              style={{
                flex: 1,
                minWidth: 0,
                fontSize: 12.5,
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                whiteSpace: 'nowrap',
              }}
            >
              {file.name}
            </span>
            <SmallButton label={`Move ${file.name} up`} disabled={i === 0} onClick={() => move(i, i - 1)}>
              <ArrowUpwardRounded />
            </SmallButton>
            <SmallButton
              label={`Move ${file.name} down`}
              disabled={i === files.length - 1}
              onClick={() => move(i, i + 1)}
            >
              <ArrowDownwardRounded />
            </SmallButton>
            <SmallButton
              label={`Take ${file.name} out`}
              disabled={files.length === 1}
              onClick={() => onChange(files.filter((_, n) => n !== i))}
            >
              <DeleteOutlineRounded />
            </SmallButton>
          </li>
        ))}
      </ol>
      <Button
        startIcon={<AddRounded />}
        disabled={progress !== null}
        onClick={() => chooser.current?.click()}
        sx={{ mt: 0.5 }}
      >
        {progress ? `Bringing in ${Math.round(progress.share * 100)}%` : 'Add files'}
      </Button>
      <input
        ref={chooser}
        type="file"
        multiple
        hidden
        accept={kind === 'clips' ? 'video/*,.mkv' : 'image/*'}
        onChange={(e) => {
          const chosen = [...(e.target.files ?? [])];
          e.target.value = '';
          if (chosen.length > 0) void add(chosen);
        }}
      />
    </div>
  );
}

const LOOKS: Record<BackgroundLook['look'], BackgroundLook> = {
  plain: { look: 'plain', colour: '#26324F' },
  gradient: { look: 'gradient', from: '#26324F', to: '#14181D', angleDeg: 180, shape: 'linear' },
  texture: { look: 'texture', texture: 'strata', colour: '#26324F', ink: '#3A4A70', seed: 9 },
};

function BackgroundFields({ source, set }: { source: Source<'background'>; set: Set }) {
  const change = (look: BackgroundLook) => set('Look', { type: 'background', ...look });
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <ChoiceRow
        label="Look"
        options={[
          { value: 'plain', words: 'Plain' },
          { value: 'gradient', words: 'Gradient' },
          { value: 'texture', words: 'Texture' },
        ]}
        value={source.look}
        onChange={(look) => change(LOOKS[look])}
      />
      <div style={FIELD_GRID}>
        {source.look === 'plain' && (
          <ColourField
            label="Colour"
            value={source.colour}
            onChange={(colour) => change({ ...source, colour })}
          />
        )}
        {source.look === 'gradient' && (
          <>
            <ColourField label="From" value={source.from} onChange={(from) => change({ ...source, from })} />
            <ColourField label="To" value={source.to} onChange={(to) => change({ ...source, to })} />
            <NumberField
              label="Angle"
              unit="°"
              value={source.angleDeg}
              min={-360}
              max={360}
              step={5}
              onCommit={(angleDeg) => change({ ...source, angleDeg })}
            />
            <Button
              aria-pressed={source.shape === 'radial'}
              onClick={() => change({ ...source, shape: source.shape === 'radial' ? 'linear' : 'radial' })}
            >
              {source.shape === 'radial' ? 'Radial' : 'Linear'}
            </Button>
          </>
        )}
        {source.look === 'texture' && (
          <>
            <ColourField
              label="Ground"
              value={source.colour}
              onChange={(colour) => change({ ...source, colour })}
            />
            <ColourField label="Pattern" value={source.ink} onChange={(ink) => change({ ...source, ink })} />
            <TextField
              select
              label="Pattern"
              value={source.texture}
              onChange={(e) => change({ ...source, texture: e.target.value as typeof source.texture })}
            >
              {BACKGROUND_TEXTURES.map((texture) => (
                <MenuItem key={texture} value={texture}>
                  {texture[0].toUpperCase() + texture.slice(1)}
                </MenuItem>
              ))}
            </TextField>
            <NumberField
              label="Variant"
              unit=""
              value={source.seed}
              min={0}
              max={9999}
              onCommit={(seed) => change({ ...source, seed: Math.round(seed) })}
            />
          </>
        )}
      </div>
    </div>
  );
}
