import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { showsScene } from '~/core/show/containment';
import { findRecord, recordsOf } from '~/core/show/document';
import {
  FITS,
  SHAPES,
  type Fit,
  type LayerContent,
  type LayerRecord,
  type TextStyle,
} from '~/core/show/records';
import { audienceFieldNames } from '~/core/audience/fields';
import { widgetKind } from '~/core/audience/widgets/widgets';
import { ColourField } from '../studio/colour-field';
import { NumberField } from '../studio/number-field';
import { useDesk } from '../studio/studio-context';
import { FieldHeading } from './field-layout';
import { FieldsButton } from './fields-dialog';
import { StyleFields, WordsField } from './text-fields';
import { InputStatus } from './input-status';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';
import { ChatPanelFields } from './chat-panel-fields';
import { WidgetFields } from './widget-parts';

const FIT_WORDS: Record<Fit, string> = {
  fill: 'Fill (crop)',
  fit: 'Fit (bars)',
  surround: 'Fit (blurred background)',
  stretch: 'Stretch',
};
const SHAPE_WORDS: Record<(typeof SHAPES)[number], string> = {
  rectangle: 'Rectangle',
  ellipse: 'Ellipse',
  triangle: 'Triangle',
  diamond: 'Diamond',
  star: 'Star',
  arrow: 'Arrow',
  line: 'Line',
};

/** Settings of what a layer shows. */
export function ContentFields({ layer }: { layer: LayerRecord }) {
  const { t } = useTranslation();
  const { document, edit, setPanel, setInputId } = useStage();
  const inputs = useDesk((now) => now.inputs);
  const { content } = layer;
  const show = recordsOf(document, 'show')[0];
  const set = (what: string, next: LayerContent) =>
    edit(t('layout.whatOfName', { what, name: layer.name }), [{ ...layer, content: next }]);
  const look = (style: TextStyle) => set(t('layout.look'), { ...content, style } as LayerContent);
  const fit = (value: Fit) => (
    <TextField
      select
      label={t('layout.scaling')}
      value={value}
      onChange={(e) => set(t('layout.fit'), { ...content, fit: e.target.value } as LayerContent)}
      sx={{ mt: 1.5 }}
    >
      {FITS.map((f) => (
        <MenuItem key={f} value={f}>
          {FIT_WORDS[f]}
        </MenuItem>
      ))}
    </TextField>
  );
  switch (content.type) {
    case 'group':
      return (
        <p style={{ color: 'var(--quiet)', fontSize: 12.5, lineHeight: 1.45, margin: '10px 0 0' }}>
          {t('layout.aGroupShownHiddenLocked')}
        </p>
      );
    case 'text':
      return (
        <>
          <FieldHeading>{t('layout.words')}</FieldHeading>
          <WordsField
            key={layer.id}
            text={content.text}
            fields={{
              ...Object.fromEntries(
                audienceFieldNames(recordsOf(document, 'goal')).map((name) => [name, '']),
              ),
              ...show.fields,
            }}
            onCommit={(text) => set(t('layout.words'), { ...content, text })}
          />
          <FieldsButton />
          <StyleFields style={content.style} onChange={look} runs />
        </>
      );
    case 'chatPanel':
      return (
        <>
          <FieldHeading>{t('layout.chatPanel')}</FieldHeading>
          <MadeUpHint />
          <NumberField
            label={t('layout.messagesStay')}
            unit="s"
            value={content.keepSeconds}
            min={1}
            max={3600}
            onCommit={(keepSeconds) => set(t('layout.chatPanel'), { ...content, keepSeconds })}
          />
          <ChatPanelFields
            panel={content.panel}
            onChange={(panel) => set(t('layout.chatPanel'), { ...content, panel })}
          />
          <StyleFields style={content.style} onChange={look} />
        </>
      );
    case 'widget':
      return (
        <>
          <FieldHeading>{widgetKind(content.widget.of).name}</FieldHeading>
          {widgetKind(content.widget.of).ofViewers && <MadeUpHint />}
          <WidgetFields
            widget={content.widget}
            goals={recordsOf(document, 'goal')}
            onChange={(widget) => set(widgetKind(content.widget.of).name, { ...content, widget })}
          />
          <div style={{ marginTop: 8 }}>
            <ColourField
              label={t('layout.accent')}
              value={content.accent}
              onChange={(accent) => set(t('layout.accent'), { ...content, accent })}
            />
          </div>
          <StyleFields style={content.style} onChange={look} />
        </>
      );
    case 'alert':
      return (
        <>
          <FieldHeading>{t('layout.alert')}</FieldHeading>
          <StyleFields style={content.style} onChange={look} />
        </>
      );
    case 'shape':
      return (
        <>
          <FieldHeading>{t('layout.shape')}</FieldHeading>
          <TextField
            select
            label={t('layout.shape')}
            value={content.shape}
            onChange={(e) =>
              set(t('layout.shape'), { ...content, shape: e.target.value as typeof content.shape })
            }
            sx={{ mb: 1 }}
          >
            {SHAPES.map((shape) => (
              <MenuItem key={shape} value={shape}>
                {SHAPE_WORDS[shape]}
              </MenuItem>
            ))}
          </TextField>
          <ColourField
            label={t('layout.colour')}
            value={content.colour}
            onChange={(colour) => set(t('layout.colour'), { ...content, colour })}
          />
        </>
      );
    case 'inset':
      return (
        <>
          <TextField
            select
            label={t('layout.showsTheScene')}
            value={content.sceneId}
            onChange={(e) => set(t('layout.scene'), { ...content, sceneId: e.target.value })}
            sx={{ mt: 1.5 }}
          >
            {recordsOf(document, 'scene').map((scene) => (
              <MenuItem
                key={scene.id}
                value={scene.id}
                disabled={layer.sceneId !== null && showsScene(document, scene.id, layer.sceneId)}
              >
                {scene.name}
              </MenuItem>
            ))}
          </TextField>
          {fit(content.fit)}
        </>
      );
    case 'input': {
      const input = findRecord(document, 'input', content.inputId);
      return (
        <>
          {fit(content.fit)}
          {input && (
            <Button
              sx={{ mt: 1 }}
              onClick={() => {
                setInputId(input.id);
                setPanel('inputs');
              }}
            >
              {t('layout.inputName', { name: input.name })}
            </Button>
          )}
          {input && <InputStatus state={inputs.find((i) => i.inputId === input.id) ?? null} />}
        </>
      );
    }
  }
}

/** Why there are people in a show to which nobody has come yet. */
function MadeUpHint() {
  const { t } = useTranslation();
  return <p className="computer-hint">{t('stage.madeUp')}</p>;
}
