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
import { useTranslation } from '../../words/words';

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
  const { t } = useTranslation();
  const change = (look: BackgroundLook) => set(t('kinds.look'), { type: 'background', ...look });
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <ChoiceRow
        label={t('kinds.look')}
        options={[
          { value: 'plain', words: t('kinds.plain') },
          { value: 'gradient', words: t('kinds.gradient') },
          { value: 'texture', words: t('kinds.texture') },
        ]}
        value={source.look}
        onChange={(look) => change(LOOKS[look])}
      />
      <div style={FIELD_GRID}>
        {source.look === 'plain' && (
          <ColourField
            label={t('kinds.colour')}
            value={source.colour}
            onChange={(colour) => change({ ...source, colour })}
          />
        )}
        {source.look === 'gradient' && (
          <>
            <ColourField
              label={t('kinds.from')}
              value={source.from}
              onChange={(from) => change({ ...source, from })}
            />
            <ColourField
              label={t('kinds.to')}
              value={source.to}
              onChange={(to) => change({ ...source, to })}
            />
            <NumberField
              label={t('kinds.angle')}
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
              {source.shape === 'radial' ? t('kinds.radial') : t('kinds.linear')}
            </Button>
          </>
        )}
        {source.look === 'texture' && (
          <>
            <ColourField
              label={t('kinds.ground')}
              value={source.colour}
              onChange={(colour) => change({ ...source, colour })}
            />
            <ColourField
              label={t('kinds.pattern')}
              value={source.ink}
              onChange={(ink) => change({ ...source, ink })}
            />
            <TextField
              select
              label={t('kinds.pattern')}
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
              label={t('kinds.variant')}
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
