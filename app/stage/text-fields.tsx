import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { missingFields } from '~/core/scene/fields';
import type { TextStyle } from '~/core/show/records';
import { ChoiceRow } from '../studio/choice-row';
import { ColourField } from '../studio/colour-field';
import { NumberField } from '../studio/number-field';
import { Toggle } from '../studio/toggle';
import { FIELD_GRID } from './field-layout';
import { FontField } from './font-field';
import { useTranslation } from '../words/words';

/** The words of a text; a field without a value is named, since viewers would see it as written. */
export function WordsField({
  text,
  fields,
  onCommit,
}: {
  text: string;
  fields: Readonly<Record<string, string>>;
  onCommit: (text: string) => void;
}) {
  const { t } = useTranslation();
  const [value, setValue] = useState(text);
  useEffect(() => setValue(text), [text]);
  const missing = missingFields(value, fields);
  return (
    <TextField
      multiline
      minRows={2}
      maxRows={5}
      label={t('layout.wordsWithField', { field: '{{host}}' })}
      value={value}
      error={missing.length > 0}
      helperText={
        missing.length > 0
          ? t('layout.noValueFor', { names: missing.map((name) => `{{${name}}}`).join(', ') })
          : undefined
      }
      onChange={(e) => setValue(e.target.value)}
      onBlur={() => value !== text && onCommit(value)}
      onKeyDown={(e) => e.stopPropagation()}
    />
  );
}

/** Look of words: font, size, colours, edges, wrapping and running. */
export function StyleFields({
  style,
  onChange,
  runs = false,
}: {
  style: TextStyle;
  onChange: (style: TextStyle) => void;
  /** Whether the words may run as a ticker and be kept on their lines. */
  runs?: boolean;
}) {
  const { t } = useTranslation();
  const boxed = style.box !== 'none';
  const number = (
    label: string,
    key: 'sizePx' | 'weight' | 'outlinePx' | 'shadowPx' | 'tickerPxPerSecond',
    unit: string,
    min: number,
    max: number,
    step = 1,
  ) => (
    <NumberField
      label={label}
      unit={unit}
      value={style[key]}
      min={min}
      max={max}
      step={step}
      onCommit={(value) => onChange({ ...style, [key]: value })}
    />
  );
  return (
    <div style={{ display: 'grid', gap: 6, marginTop: 8 }}>
      <FontField
        font={style.font}
        ownFont={style.ownFont}
        onChange={({ font, ownFont }) => {
          const { ownFont: _before, ...rest } = style;
          onChange({ ...rest, font, ...(ownFont && { ownFont }) });
        }}
      />
      <div style={FIELD_GRID}>
        {number('Size', 'sizePx', 'px', 6, 1000)}
        {number('Weight', 'weight', '', 100, 900, 50)}
        <ColourField
          label={t('layout.colour')}
          value={style.colour}
          onChange={(colour) => onChange({ ...style, colour })}
        />
        {boxed ? (
          <ColourField
            label={t('layout.box')}
            value={style.box}
            onChange={(box) => onChange({ ...style, box })}
          />
        ) : (
          <Button onClick={() => onChange({ ...style, box: '#14181DC8' })}>{t('layout.addABox')}</Button>
        )}
        {number('Outline', 'outlinePx', 'px', 0, 100)}
        <ColourField
          label={t('layout.outline')}
          value={style.outlineColour}
          onChange={(outlineColour) => onChange({ ...style, outlineColour })}
        />
        {number('Shadow', 'shadowPx', 'px', 0, 100)}
        {runs && number('Scroll speed', 'tickerPxPerSecond', 'px/s', 0, 4000, 10)}
      </div>
      <ChoiceRow
        label={t('layout.alignment')}
        options={[
          { value: 'left', words: t('layout.left') },
          { value: 'center', words: t('layout.centre') },
          { value: 'right', words: t('layout.right') },
        ]}
        value={style.align}
        onChange={(align) => onChange({ ...style, align })}
      />
      {boxed && <Button onClick={() => onChange({ ...style, box: 'none' })}>{t('layout.noBox')}</Button>}
      {runs && (
        <Toggle
          label={t('layout.wrapText')}
          on={style.wrap}
          onChange={(wrap) => onChange({ ...style, wrap })}
        />
      )}
    </div>
  );
}
