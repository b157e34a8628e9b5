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
  const { t } = useTranslation();
  const section = (i: number, part: Partial<CreditsSection>) =>
    onChange({ ...widget, sections: widget.sections.map((s, n) => (n === i ? { ...s, ...part } : s)) });
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <ChoiceRow
        label={t('kinds.rolls')}
        value={widget.run}
        options={[
          { value: 'once', words: t('kinds.once') },
          { value: 'loop', words: t('kinds.againAndAgain') },
        ]}
        onChange={(run) => onChange({ ...widget, run })}
      />
      <ChoiceRow
        label={t('kinds.howLong')}
        value={widget.fit}
        options={[
          { value: 'length', words: t('kinds.aLength') },
          { value: 'music', words: t('kinds.asTheMusicLasts') },
        ]}
        onChange={(fit) => onChange({ ...widget, fit })}
      />
      <NumberField
        label={widget.fit === 'music' ? t('kinds.withoutMusic') : t('kinds.takes')}
        unit="s"
        value={widget.seconds}
        min={1}
        max={3600}
        onCommit={(seconds) => onChange({ ...widget, seconds })}
      />
      {widget.sections.map((one, i) => (
        <div key={i} style={{ display: 'grid', gap: 6 }}>
          <CommitField
            label={t('kinds.headingNumber', { number: i + 1 })}
            value={one.title}
            max={80}
            allowEmpty
            onCommit={(title) => section(i, { title })}
          />
          <TextField
            select
            label={t('kinds.names')}
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
              label={t('kinds.onePerLine')}
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
            {t('kinds.removeThisPart')}
          </Button>
        </div>
      ))}
      <Button
        disabled={widget.sections.length >= 20}
        onClick={() =>
          onChange({
            ...widget,
            sections: [...widget.sections, { title: t('kinds.with'), of: 'list', lines: '' }],
          })
        }
      >
        {t('kinds.addAPart')}
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
