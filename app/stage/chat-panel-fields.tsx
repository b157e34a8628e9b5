import { CHAT_THEMES, type ChatPanelSettings } from '~/core/audience/widgets/chat-settings';
import { ChoiceRow } from '../studio/choice-row';
import { Toggle } from '../studio/toggle';

const THEME_WORDS = { plain: 'Plain', cards: 'Cards', lines: 'Lines' } as const;

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
