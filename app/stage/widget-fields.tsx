import CloseRounded from '@mui/icons-material/CloseRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import {
  CHAT_THEMES,
  TITLE_LOOKS,
  type ChatPanelSettings,
  type CreditsSection,
  type WidgetSettings,
} from '~/core/audience/widgets/widget-settings';
import type { GoalRecord } from '~/core/show/audience-records';
import type { ListedFile } from '~/core/show/records';
import { assetUrl } from '~/engine/asset-url';
import { ChoiceRow } from '../studio/choice-row';
import { ColourField } from '../studio/colour-field';
import { CommitField } from '../studio/commit-field';
import { FileButton } from '../studio/file-button';
import { NumberField } from '../studio/number-field';
import { SmallButton } from '../studio/small-button';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';
import { FIELD_GRID } from './field-layout';

const LOOK_WORDS = {
  plate: 'Plate',
  stack: 'Stack',
  rule: 'Rule',
  tab: 'Tab',
  lamp: 'Lamp',
  strata: 'Strata',
} as const;
const THEME_WORDS = { plain: 'Plain', cards: 'Cards', lines: 'Lines' } as const;
const SECTION_WORDS: Record<CreditsSection['of'], string> = {
  list: 'A list of mine',
  supporters: 'Supporters tonight',
  moderators: 'Moderators tonight',
  chatters: 'Everybody in the chat',
  comments: 'Comments tonight',
  logos: 'A wall of logos',
};

/** How chat stands in its box. */
export function ChatPanelFields({
  panel,
  onChange,
}: {
  panel: ChatPanelSettings;
  onChange: (panel: ChatPanelSettings) => void;
}) {
  const set = (part: Partial<ChatPanelSettings>) => onChange({ ...panel, ...part });
  return (
    <div style={{ display: 'grid', gap: 6, marginTop: 6 }}>
      <ChoiceRow
        label="Theme"
        value={panel.theme}
        options={CHAT_THEMES.map((value) => ({ value, words: THEME_WORDS[value] }))}
        onChange={(theme) => set({ theme })}
      />
      <ChoiceRow
        label="Newest message"
        value={panel.direction}
        options={[
          { value: 'up', words: 'Newest below' },
          { value: 'down', words: 'Newest above' },
        ]}
        onChange={(direction) => set({ direction })}
      />
      <Toggle label="Badges" on={panel.badges} onChange={(badges) => set({ badges })} />
      <Toggle label="Emotes as pictures" on={panel.emotes} onChange={(emotes) => set({ emotes })} />
      <Toggle
        label="Name of the platform"
        on={panel.platforms}
        onChange={(platforms) => set({ platforms })}
      />
    </div>
  );
}

/** Settings of one widget. */
export function WidgetFields({
  widget,
  goals,
  onChange,
}: {
  widget: WidgetSettings;
  goals: readonly GoalRecord[];
  onChange: (widget: WidgetSettings) => void;
}) {
  switch (widget.of) {
    case 'viewers':
      return (
        <ChoiceRow
          label="Viewers"
          value={widget.show}
          options={[
            { value: 'sum', words: 'All together' },
            { value: 'each', words: 'Each platform' },
          ]}
          onChange={(show) => onChange({ ...widget, show })}
        />
      );
    case 'supporters':
      return (
        <ChoiceRow
          label="Supporters"
          value={widget.show}
          options={[
            { value: 'latest', words: 'Latest' },
            { value: 'largest', words: 'Largest' },
            { value: 'evening', words: 'Tonight' },
          ]}
          onChange={(show) => onChange({ ...widget, show })}
        />
      );
    case 'recent':
      return (
        <NumberField
          label="Lines"
          unit=""
          value={widget.lines}
          min={1}
          max={20}
          onCommit={(lines) => onChange({ ...widget, lines })}
        />
      );
    case 'streak':
      return <StreakFields widget={widget} onChange={onChange} />;
    case 'goal':
      return goals.length === 0 ? (
        <p style={{ color: 'var(--quiet)', margin: 0 }}>There is no goal yet: add one in Audience.</p>
      ) : (
        <TextField
          select
          fullWidth
          label="Goal"
          value={goals.some((g) => g.id === widget.goalId) ? widget.goalId : ''}
          onChange={(e) => onChange({ ...widget, goalId: e.target.value })}
        >
          {goals.map((goal) => (
            <MenuItem key={goal.id} value={goal.id}>
              {goal.name}
            </MenuItem>
          ))}
        </TextField>
      );
    case 'countdown':
      return (
        <div style={{ display: 'grid', gap: 6 }}>
          <ChoiceRow
            label="Counts down"
            value={widget.to}
            options={[
              { value: 'length', words: 'For a length' },
              { value: 'clock', words: 'To a time' },
            ]}
            onChange={(to) => onChange({ ...widget, to })}
          />
          {widget.to === 'length' ? (
            <NumberField
              label="Length"
              unit="s"
              value={widget.seconds}
              min={1}
              max={86_400}
              onCommit={(seconds) => onChange({ ...widget, seconds })}
            />
          ) : (
            <TextField
              type="time"
              label="At"
              value={widget.clock}
              onChange={(e) =>
                /^\d\d:\d\d$/.test(e.target.value) && onChange({ ...widget, clock: e.target.value })
              }
              onKeyDown={(e) => e.stopPropagation()}
            />
          )}
          <CommitField
            label="At zero"
            value={widget.endText}
            max={80}
            allowEmpty
            onCommit={(endText) => onChange({ ...widget, endText })}
          />
          <Toggle
            label="Restart when the scene comes on"
            on={widget.restart}
            onChange={(restart) => onChange({ ...widget, restart })}
          />
          <Toggle
            label="Then bring on the next scene"
            on={widget.thenNext}
            onChange={(thenNext) => onChange({ ...widget, thenNext })}
          />
        </div>
      );
    case 'clock':
      return (
        <Toggle
          label="Seconds"
          on={widget.seconds}
          onChange={(seconds) => onChange({ ...widget, seconds })}
        />
      );
    case 'stopwatch':
      return (
        <ChoiceRow
          label="Since"
          value={widget.since}
          options={[
            { value: 'scene', words: 'Scene came on' },
            { value: 'broadcast', words: 'Broadcast began' },
          ]}
          onChange={(since) => onChange({ ...widget, since })}
        />
      );
    case 'credits':
      return <CreditsFields widget={widget} onChange={onChange} />;
    case 'title':
      return (
        <ChoiceRow
          label="Look"
          value={widget.look}
          options={TITLE_LOOKS.map((value) => ({ value, words: LOOK_WORDS[value] }))}
          onChange={(look) => onChange({ ...widget, look })}
        />
      );
    case 'poll':
    case 'readOut':
    case 'speaking':
      return null;
  }
}

function StreakFields({
  widget,
  onChange,
}: {
  widget: Extract<WidgetSettings, { of: 'streak' }>;
  onChange: (widget: WidgetSettings) => void;
}) {
  const level = (i: number, part: Partial<(typeof widget.levels)[number]>) =>
    onChange({ ...widget, levels: widget.levels.map((l, n) => (n === i ? { ...l, ...part } : l)) });
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <NumberField
        label="Falls"
        unit="a minute"
        value={widget.decayPerMinute}
        min={0.01}
        max={600}
        digits={2}
        step={0.1}
        onCommit={(decayPerMinute) => onChange({ ...widget, decayPerMinute })}
      />
      {widget.levels.map((one, i) => (
        <div key={i} style={{ display: 'grid', gap: 4 }}>
          <CommitField
            label={`Level ${i + 1}`}
            value={one.name}
            max={60}
            onCommit={(name) => level(i, { name })}
          />
          <div style={FIELD_GRID}>
            <NumberField
              label="From"
              unit=""
              value={one.from}
              min={0}
              max={1e6}
              onCommit={(from) => level(i, { from })}
            />
            <ColourField label="Colour" value={one.colour} onChange={(colour) => level(i, { colour })} />
          </div>
        </div>
      ))}
      <div style={{ display: 'flex', gap: 6 }}>
        <Button
          disabled={widget.levels.length >= 12}
          onClick={() =>
            onChange({
              ...widget,
              levels: [
                ...widget.levels,
                {
                  from: Math.max(0, ...widget.levels.map((l) => l.from)) + 5,
                  name: 'Next level',
                  colour: '#63BDBB',
                },
              ],
            })
          }
        >
          Add a level
        </Button>
        <Button
          disabled={widget.levels.length === 0}
          onClick={() => onChange({ ...widget, levels: widget.levels.slice(0, -1) })}
        >
          Remove the last
        </Button>
      </div>
    </div>
  );
}

function CreditsFields({
  widget,
  onChange,
}: {
  widget: Extract<WidgetSettings, { of: 'credits' }>;
  onChange: (widget: WidgetSettings) => void;
}) {
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
