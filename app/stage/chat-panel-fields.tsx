import { CHAT_THEMES, type ChatPanelSettings } from '~/core/audience/widgets/chat-settings';
import { ChoiceRow } from '../studio/choice-row';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';

const THEME_WORDS = { plain: 'Plain', cards: 'Cards', lines: 'Lines' } as const;

/** How chat stands in its box. */
export function ChatPanelFields({
  panel,
  onChange,
}: {
  panel: ChatPanelSettings;
  onChange: (panel: ChatPanelSettings) => void;
}) {
  const { t } = useTranslation();
  const set = (part: Partial<ChatPanelSettings>) => onChange({ ...panel, ...part });
  return (
    <div style={{ display: 'grid', gap: 6, marginTop: 6 }}>
      <ChoiceRow
        label={t('layout.theme')}
        value={panel.theme}
        options={CHAT_THEMES.map((value) => ({ value, words: THEME_WORDS[value] }))}
        onChange={(theme) => set({ theme })}
      />
      <ChoiceRow
        label={t('layout.newestMessage')}
        value={panel.direction}
        options={[
          { value: 'up', words: t('layout.newestBelow') },
          { value: 'down', words: t('layout.newestAbove') },
        ]}
        onChange={(direction) => set({ direction })}
      />
      <Toggle label={t('layout.badges')} on={panel.badges} onChange={(badges) => set({ badges })} />
      <Toggle label={t('layout.emotesAsPictures')} on={panel.emotes} onChange={(emotes) => set({ emotes })} />
      <Toggle
        label={t('layout.nameOfThePlatform')}
        on={panel.platforms}
        onChange={(platforms) => set({ platforms })}
      />
    </div>
  );
}
