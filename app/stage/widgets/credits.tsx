import CloseRounded from '@mui/icons-material/CloseRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { CreditsSection, CreditsWidget } from '~/core/audience/widgets/kinds/credits';
import type { ListedFile } from '~/core/show/records';
import { assetUrl } from '~/engine/asset-url';
import { ChoiceRow } from '../../studio/choice-row';
import { CommitField } from '../../studio/commit-field';
import { FileButton } from '../../studio/file-button';
import { NumberField } from '../../studio/number-field';
import { SmallButton } from '../../studio/small-button';
import { useTranslation } from '../../words/words';
import type { WidgetFieldsProps, WidgetPart } from '../widget-parts';

const SECTION_WORDS: Record<CreditsSection['of'], string> = {
  list: 'A list of mine',
  supporters: 'Supporters tonight',
  moderators: 'Moderators tonight',
  chatters: 'Everybody in the chat',
  comments: 'Comments tonight',
  logos: 'A wall of logos',
};

export const part: WidgetPart<CreditsWidget> = { of: 'credits', Fields: CreditsFields };

function CreditsFields({ widget, onChange }: WidgetFieldsProps<CreditsWidget>) {
  const section = (i: number, part: Partial<CreditsSection>) =>
    onChange({ ...widget, sections: widget.sections.map((s, n) => (n === i ? { ...s, ...part } : s)) });
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <ChoiceRow
        label="Rolls"
        value={widget.run}
        options={[
          { value: 'once', words: 'Once' },
          { value: 'loop', words: 'Again and again' },
        ]}
        onChange={(run) => onChange({ ...widget, run })}
      />
      <ChoiceRow
        label="How long"
        value={widget.fit}
        options={[
          { value: 'length', words: 'A length' },
          { value: 'music', words: 'As the music lasts' },
        ]}
        onChange={(fit) => onChange({ ...widget, fit })}
      />
      <NumberField
        label={widget.fit === 'music' ? 'Without music' : 'Takes'}
        unit="s"
        value={widget.seconds}
        min={1}
        max={3600}
        onCommit={(seconds) => onChange({ ...widget, seconds })}
      />
      {widget.sections.map((one, i) => (
        <div key={i} style={{ display: 'grid', gap: 6 }}>
          <CommitField
            label={`Heading ${i + 1}`}
            value={one.title}
            max={80}
            allowEmpty
            onCommit={(title) => section(i, { title })}
          />
          <TextField
            select
            label="Names"
            value={one.of}
            onChange={(e) => section(i, { of: e.target.value as CreditsSection['of'] })}
          >
            {Object.entries(SECTION_WORDS).map(([value, words]) => (
              <MenuItem key={value} value={value}>
                {words}
              </MenuItem>
            ))}
          </TextField>
          {one.of === 'list' && (
            <CommitField
              label="One per line"
              value={one.lines}
              max={10_000}
              lines={3}
              allowEmpty
              onCommit={(lines) => section(i, { lines })}
            />
          )}
          {one.of === 'logos' && (
            <LogoList files={one.files ?? []} onChange={(files) => section(i, { files })} />
          )}
          <Button
            sx={{ justifySelf: 'start' }}
            onClick={() => onChange({ ...widget, sections: widget.sections.filter((_, n) => n !== i) })}
          >
            Remove this part
          </Button>
        </div>
      ))}
      <Button
        disabled={widget.sections.length >= 20}
        onClick={() =>
          onChange({ ...widget, sections: [...widget.sections, { title: 'With', of: 'list', lines: '' }] })
        }
      >
        Add a part
      </Button>
    </div>
  );
}

/** Pictures of a wall, in their order; more can be chosen several at once. */
function LogoList({ files, onChange }: { files: ListedFile[]; onChange: (files: ListedFile[]) => void }) {
  const { t } = useTranslation();
  return (
    <div style={{ display: 'grid', gap: 4 }}>
      {files.map(({ assetId, name }, i) => (
        <div key={`${assetId}${i}`} className="logo-row">
          <img src={assetUrl(assetId)} alt="" />
          <span className="one-line">{name}</span>
          <SmallButton
            label={t('credits.removeLogo', { name })}
            onClick={() => onChange(files.filter((_, at) => at !== i))}
          >
            <CloseRounded />
          </SmallButton>
        </div>
      ))}
      <FileButton
        label={t('credits.addLogos')}
        accept="image/*"
        onFiles={(more) => onChange([...files, ...more.map(({ assetId, name }) => ({ assetId, name }))])}
      />
    </div>
  );
}
