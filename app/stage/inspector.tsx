import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { findRecord } from '~/core/show/document';
import {
  FONTS,
  type InputRecord,
  type LayerRecord,
  type Placement,
  type TextStyle,
} from '~/core/show/records';
import { CaptureDevices } from '~/engine/inputs/capture-devices';
import { NumberField } from '../studio/number-field';
import { Panel } from '../studio/panel';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { frameOf } from './layer-edits';

const GRID = { display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 6 } as const;
const HEADING = { color: 'var(--quiet)', fontSize: 12.5, fontWeight: 600, margin: '12px 0 6px' } as const;

/** Numbers and settings of the chosen layer. */
export function Inspector({ layerId }: { layerId: string | null }) {
  const document = useDocument();
  const layer = findRecord(document, 'layer', layerId);
  if (!layer)
    return (
      <Panel label="Layer settings">
        <p style={{ color: 'var(--quiet)', margin: 4, lineHeight: 1.5 }}>
          Choose a layer on the frame or in the list: its place, size and look are set here.
        </p>
      </Panel>
    );
  return (
    <Panel
      label="Layer settings"
      title={<span style={{ color: 'var(--text)', fontSize: 14 }}>{layer.name}</span>}
    >
      {layer.placements.wide && <PlacementFields layer={layer} placement={layer.placements.wide} />}
      <ContentFields layer={layer} />
    </Panel>
  );
}

function PlacementFields({ layer, placement }: { layer: LayerRecord; placement: Placement }) {
  const { store } = useStudio();
  const document = useDocument();
  const frame = frameOf(document);
  const set = (what: string, change: Partial<Placement>) =>
    store.edit(`${what} of ${layer.name}`, [
      { ...layer, placements: { ...layer.placements, wide: { ...placement, ...change } } },
    ]);
  const off = layer.locked;
  const far = 20_000;
  return (
    <>
      {off && (
        <p style={{ color: 'var(--larch)', margin: '0 0 8px', fontSize: 12.5 }}>
          Locked: unlock it in the list to change its place.
        </p>
      )}
      <div style={GRID}>
        <NumberField
          label="Centre x"
          unit="px"
          value={placement.cx}
          min={-far}
          max={far}
          disabled={off}
          onCommit={(cx) => set('Place', { cx })}
        />
        <NumberField
          label="Centre y"
          unit="px"
          value={placement.cy}
          min={-far}
          max={far}
          disabled={off}
          onCommit={(cy) => set('Place', { cy })}
        />
        <NumberField
          label="Width"
          unit="px"
          value={placement.width}
          min={8}
          max={far}
          disabled={off}
          onCommit={(width) => set('Size', { width })}
        />
        <NumberField
          label="Height"
          unit="px"
          value={placement.height}
          min={8}
          max={far}
          disabled={off}
          onCommit={(height) => set('Size', { height })}
        />
        <NumberField
          label="Turn"
          unit="°"
          value={placement.rotationDeg}
          min={-360}
          max={360}
          digits={1}
          disabled={off}
          onCommit={(rotationDeg) => set('Turn', { rotationDeg })}
        />
        <NumberField
          label="Corner"
          unit="px"
          value={placement.cornerPx}
          min={0}
          max={1000}
          disabled={off}
          onCommit={(cornerPx) => set('Corner', { cornerPx })}
        />
        <NumberField
          label="Opacity"
          unit="%"
          value={placement.opacity * 100}
          min={0}
          max={100}
          disabled={off}
          onCommit={(percent) => set('Opacity', { opacity: percent / 100 })}
        />
        <NumberField
          label="Border"
          unit="px"
          value={placement.borderPx}
          min={0}
          max={100}
          disabled={off}
          onCommit={(borderPx) => set('Border', { borderPx })}
        />
      </div>
      <div style={{ display: 'flex', gap: 6, marginTop: 8 }}>
        <Button
          disabled={off}
          onClick={() =>
            set('Place', {
              cx: frame.width / 2,
              cy: frame.height / 2,
              width: frame.width,
              height: frame.height,
              rotationDeg: 0,
            })
          }
        >
          Fill frame
        </Button>
        <Button disabled={off} onClick={() => set('Place', { cx: frame.width / 2, cy: frame.height / 2 })}>
          Centre
        </Button>
      </div>
      {layer.content.type === 'input' && (
        <>
          <h3 style={HEADING}>Crop</h3>
          <div style={GRID}>
            {(['left', 'right', 'top', 'bottom'] as const).map((side) => {
              const opposite = { left: 'right', right: 'left', top: 'bottom', bottom: 'top' }[
                side
              ] as keyof Placement['crop'];
              return (
                <NumberField
                  key={side}
                  label={side[0].toUpperCase() + side.slice(1)}
                  unit="%"
                  digits={1}
                  value={placement.crop[side] * 100}
                  min={0}
                  max={95 - placement.crop[opposite] * 100}
                  disabled={off}
                  onCommit={(percent) => set('Crop', { crop: { ...placement.crop, [side]: percent / 100 } })}
                />
              );
            })}
          </div>
        </>
      )}
    </>
  );
}

function ContentFields({ layer }: { layer: LayerRecord }) {
  const { store } = useStudio();
  const document = useDocument();
  const { content } = layer;
  switch (content.type) {
    case 'text':
      return (
        <>
          <h3 style={HEADING}>Words</h3>
          <WordsField
            key={layer.id}
            text={content.text}
            onCommit={(text) =>
              store.edit(`Words of ${layer.name}`, [{ ...layer, content: { ...content, text } }])
            }
          />
          <StyleFields
            style={content.style}
            onChange={(style) =>
              store.edit(`Look of ${layer.name}`, [{ ...layer, content: { ...content, style } }])
            }
          />
        </>
      );
    case 'chatPanel':
      return (
        <>
          <h3 style={HEADING}>Chat panel</h3>
          <NumberField
            label="Messages stay"
            unit="s"
            value={content.keepSeconds}
            min={1}
            max={3600}
            onCommit={(keepSeconds) =>
              store.edit('Chat panel', [{ ...layer, content: { ...content, keepSeconds } }])
            }
          />
          <StyleFields
            style={content.style}
            onChange={(style) =>
              store.edit(`Look of ${layer.name}`, [{ ...layer, content: { ...content, style } }])
            }
          />
        </>
      );
    case 'alert':
      return (
        <>
          <h3 style={HEADING}>Alert</h3>
          <StyleFields
            style={content.style}
            onChange={(style) =>
              store.edit(`Look of ${layer.name}`, [{ ...layer, content: { ...content, style } }])
            }
          />
        </>
      );
    case 'fill':
      return (
        <>
          <h3 style={HEADING}>Colour</h3>
          <ColourField
            label="Colour"
            value={content.colour}
            onChange={(colour) =>
              store.edit(`Colour of ${layer.name}`, [{ ...layer, content: { ...content, colour } }])
            }
          />
        </>
      );
    case 'input': {
      const input = findRecord(document, 'input', content.inputId);
      return (
        <>
          <div style={{ marginTop: 8 }}>
            <TextField
              select
              label="Into the box"
              value={content.fit}
              onChange={(e) =>
                store.edit(`Fit of ${layer.name}`, [
                  { ...layer, content: { ...content, fit: e.target.value as typeof content.fit } },
                ])
              }
            >
              <MenuItem value="fill">Fill, cutting what is over</MenuItem>
              <MenuItem value="fit">Fit, leaving room</MenuItem>
              <MenuItem value="stretch">Stretch</MenuItem>
            </TextField>
          </div>
          {input && <InputFields input={input} />}
        </>
      );
    }
  }
}

function InputFields({ input }: { input: InputRecord }) {
  const { store, desk, say } = useStudio();
  const { inputs } = useDesk();
  const { source } = input;
  const state = inputs.find((i) => i.inputId === input.id);
  const chooseScreen = async () => {
    const answer = await CaptureDevices.askScreen();
    if ('problem' in answer) say(answer.problem);
    else desk.useScreen(input.id, answer.stream);
  };
  return (
    <>
      <h3 style={HEADING}>Input: {input.name}</h3>
      <p
        style={{
          margin: '0 0 8px',
          fontSize: 12.5,
          color: state?.state === 'failed' ? 'var(--rose)' : 'var(--quiet)',
          lineHeight: 1.4,
        }}
      >
        {state?.state === 'ready' ? (
          <>
            running, <span className="figure">{`${state.width}×${state.height}`}</span>
          </>
        ) : (
          (state?.message ?? 'starting')
        )}
      </p>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        {source.type === 'camera' && (
          <>
            <Button
              onClick={() =>
                store.edit(`Mirror ${input.name}`, [
                  { ...input, source: { ...source, mirrored: !source.mirrored } },
                ])
              }
            >
              {source.mirrored ? 'Do not mirror' : 'Mirror'}
            </Button>
            {state?.state === 'failed' && <Button onClick={() => desk.retryDevices()}>Try again</Button>}
          </>
        )}
        {source.type === 'screen' && (
          <Button onClick={() => void chooseScreen()}>Choose screen or window</Button>
        )}
        {source.type === 'video' && (
          <Button
            onClick={() =>
              store.edit(`Loop ${input.name}`, [{ ...input, source: { ...source, loop: !source.loop } }])
            }
          >
            {source.loop ? 'Play once' : 'Loop'}
          </Button>
        )}
      </div>
    </>
  );
}

function WordsField({ text, onCommit }: { text: string; onCommit: (text: string) => void }) {
  const [value, setValue] = useState(text);
  useEffect(() => setValue(text), [text]);
  return (
    <TextField
      multiline
      minRows={2}
      maxRows={5}
      label="Words; {{host}} puts in a field"
      value={value}
      onChange={(e) => setValue(e.target.value)}
      onBlur={() => value !== text && onCommit(value)}
      onKeyDown={(e) => e.stopPropagation()}
    />
  );
}

function StyleFields({ style, onChange }: { style: TextStyle; onChange: (style: TextStyle) => void }) {
  const boxed = style.box !== 'none';
  return (
    <div style={{ display: 'grid', gap: 6, marginTop: 8 }}>
      <TextField
        select
        label="Font"
        value={style.font}
        onChange={(e) => onChange({ ...style, font: e.target.value as TextStyle['font'] })}
      >
        {FONTS.map((font) => (
          <MenuItem key={font} value={font} style={{ fontFamily: `"${font}"` }}>
            {font.replace(' Variable', '')}
          </MenuItem>
        ))}
      </TextField>
      <div style={GRID}>
        <NumberField
          label="Size"
          unit="px"
          value={style.sizePx}
          min={6}
          max={1000}
          onCommit={(sizePx) => onChange({ ...style, sizePx })}
        />
        <NumberField
          label="Weight"
          unit=""
          value={style.weight}
          min={100}
          max={900}
          step={50}
          onCommit={(weight) => onChange({ ...style, weight })}
        />
        <ColourField
          label="Words"
          value={style.colour}
          onChange={(colour) => onChange({ ...style, colour })}
        />
        {boxed ? (
          <ColourField label="Box" value={style.box} onChange={(box) => onChange({ ...style, box })} />
        ) : (
          <Button onClick={() => onChange({ ...style, box: '#14181DC8' })}>Add a box</Button>
        )}
      </div>
      <div style={{ display: 'flex', gap: 6 }}>
        {(['left', 'center', 'right'] as const).map((align) => (
          <Button
            key={align}
            aria-pressed={style.align === align}
            onClick={() => onChange({ ...style, align })}
            sx={{ flex: 1, minWidth: 0, color: style.align === align ? 'var(--glacier)' : undefined }}
          >
            {align === 'center' ? 'Centre' : align === 'left' ? 'Left' : 'Right'}
          </Button>
        ))}
        {boxed && <Button onClick={() => onChange({ ...style, box: 'none' })}>No box</Button>}
      </div>
    </div>
  );
}

/** A colour; its transparency (the last two digits) is kept when the colour changes. */
function ColourField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) {
  return (
    <label
      style={{
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'space-between',
        background: 'var(--ground)',
        borderRadius: 6,
        padding: '0 8px',
        height: 30,
        fontSize: 12,
        color: 'var(--quiet)',
      }}
    >
      {label}
      <input
        type="color"
        value={value.slice(0, 7)}
        onChange={(e) => onChange(e.target.value + value.slice(7))}
        style={{ width: 38, height: 20, padding: 0, border: 0, background: 'none' }}
      />
    </label>
  );
}
