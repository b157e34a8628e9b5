import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import {
  BACKGROUND_TEXTURES,
  type BackgroundInput,
  type BackgroundLook,
} from '~/core/show/inputs/background';
import { fullPlacements } from '~/core/show/stage-edits';
import { ChoiceRow } from '../../studio/choice-row';
import { ColourField } from '../../studio/colour-field';
import { NumberField } from '../../studio/number-field';
import { FIELD_GRID } from '../field-layout';
import type { InputFieldsProps, InputPart } from '../input-parts';

const LOOKS: Record<BackgroundLook['look'], BackgroundLook> = {
  plain: { look: 'plain', colour: '#26324F' },
  gradient: { look: 'gradient', from: '#26324F', to: '#14181D', angleDeg: 180, shape: 'linear' },
  texture: { look: 'texture', texture: 'strata', colour: '#26324F', ink: '#3A4A70', seed: 9 },
};

export const part: InputPart<BackgroundInput> = {
  type: 'background',
  Fields: BackgroundFields,
  offers: [
    {
      rank: 10,
      words: (t) => t('addInput.background'),
      bring: ({ document, addInput }) =>
        addInput('Background', { type: 'background', ...LOOKS.gradient }, fullPlacements(document)),
    },
  ],
};

function BackgroundFields({ source, set }: InputFieldsProps<BackgroundInput>) {
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
