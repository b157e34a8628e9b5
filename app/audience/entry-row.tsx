import CheckRounded from '@mui/icons-material/CheckRounded';
import MoreHorizRounded from '@mui/icons-material/MoreHorizRounded';
import PushPinRounded from '@mui/icons-material/PushPinRounded';
import SpeakerNotesRounded from '@mui/icons-material/SpeakerNotesRounded';
import { memo, type MouseEvent } from 'react';
import { tokensOf } from '~/core/audience/chat-filter';
import { eventWords, type AudienceEvent, type ChatMessage } from '~/core/audience/events';
import { moneyText } from '~/core/audience/money';
import { cleanName, cleanText, shownName } from '~/core/audience/words';
import type { EntryMark, ListedEntry } from '~/protocol/audience-bus';
import { SmallButton } from '../studio/small-button';
import { useTranslation } from '../words/words';

const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const HUES = ['#E2AE45', '#A7C7E0', '#B7A6E0', '#83B168', '#E39A88', '#63BDBB'] as const;

/** A colour for each platform; its name always stands beside it. */
export function platformColour(platform: string): string {
  const known = ['larch', 'cairn', 'marmot'].indexOf(platform);
  if (known >= 0) return HUES[known];
  let hash = 0;
  for (let i = 0; i < platform.length; i++) hash = (hash * 31 + platform.charCodeAt(i)) >>> 0;
  return HUES[hash % HUES.length];
}

/** What was said or done, in words, safe to show. */
export function wordsOf(event: AudienceEvent): string {
  if (event.type === 'chat') return cleanText(event.text, 500);
  const said = cleanText(event.message, 300);
  return `${cleanText(eventWords(event, moneyText), 200)}${said && event.type !== 'command' ? ` — ${said}` : ''}`;
}

/** A message with its emotes as pictures. */
function ChatWords({ message }: { message: ChatMessage }) {
  if (message.emotes.length === 0) return wordsOf(message);
  return tokensOf(message, { blockedWords: [], maskLinks: false }).map((token, i) =>
    'emote' in token ? (
      <img
        key={i}
        className="emote"
        alt={token.emote}
        src={`/files/emotes/${encodeURIComponent(message.platform)}/${encodeURIComponent(token.emote)}`}
      />
    ) : (
      <span key={i}>{token.text}</span>
    ),
  );
}

export interface RowActions {
  mark: (seq: number, mark: EntryMark) => void;
  readOut: (seq: number) => void;
  menu: (entry: ListedEntry, anchor: HTMLElement) => void;
}

/** One row of the list. Kept as it is while its entry is the same: a storm redraws only what is new. */
export const EntryRow = memo(function EntryRow({
  entry,
  masked,
  dense,
  actions,
  chosen,
  active,
}: {
  entry: ListedEntry;
  masked: boolean;
  dense: boolean;
  actions: RowActions;
  chosen: boolean;
  /** Whether it shows its buttons. */
  active: boolean;
}) {
  const { t } = useTranslation();
  const { event, done, pinned, hidden } = entry;
  const isChat = event.type === 'chat';
  const test = !isChat && event.test;
  const name = shownName(cleanName(event.viewer), masked ? 'hidden' : 'full');
  return (
    <div
      className="entry"
      data-seq={event.seq}
      data-kind={isChat ? 'chat' : 'event'}
      data-chosen={chosen || undefined}
      style={{ opacity: hidden || done ? 0.6 : 1 }}
    >
      {!dense && (
        <span className="figure entry-time" aria-hidden>
          {TIME.format(event.atMs)}
        </span>
      )}
      <span className="entry-words" style={{ textDecoration: hidden ? 'line-through' : undefined }}>
        <b>{name}</b> {isChat ? <ChatWords message={event} /> : wordsOf(event)}
        {done && <i> {t('audience.done')}</i>}
        {hidden && <i> {t('audience.removed')}</i>}
        {pinned && <i> {t('audience.pinned')}</i>}
      </span>
      <span className="entry-where" style={{ borderColor: platformColour(test ? 'test' : event.platform) }}>
        {test ? t('audience.test2') : event.platform}
      </span>
      {active && <EntryActions entry={entry} name={name} dense={dense} actions={actions} />}
    </div>
  );
});

/** What can be done with an entry, over the end of its row. */
function EntryActions({
  entry,
  name,
  dense,
  actions,
}: {
  entry: ListedEntry;
  name: string;
  dense: boolean;
  actions: RowActions;
}) {
  const { t } = useTranslation();
  const { event, done, pinned, hidden } = entry;
  const press = (act: () => void) => (e: MouseEvent) => {
    e.stopPropagation();
    act();
  };
  return (
    <span className="entry-actions">
      {event.type === 'chat' && !hidden && (
        <SmallButton
          label={t('audience.readOutName', { name })}
          title={t('audience.readOutPutItOn')}
          onClick={press(() => actions.readOut(event.seq))}
        >
          <SpeakerNotesRounded />
        </SmallButton>
      )}
      {event.type !== 'chat' && (
        <SmallButton
          label={t('audience.doneName', { name })}
          title={done ? t('audience.notDoneAfterAll') : t('audience.doneThankedAnswered')}
          pressed={done}
          onClick={press(() => actions.mark(event.seq, done ? 'not-done' : 'done'))}
        >
          <CheckRounded />
        </SmallButton>
      )}
      {!dense && (
        <SmallButton
          label={t('audience.pinName', { name })}
          title={pinned ? t('audience.unpin') : t('audience.pin')}
          pressed={pinned}
          onClick={press(() => actions.mark(event.seq, pinned ? 'not-pinned' : 'pinned'))}
        >
          <PushPinRounded />
        </SmallButton>
      )}
      <SmallButton
        label={t('audience.moreForName', { name })}
        title={t('audience.more')}
        onClick={(e) => actions.menu(entry, e.currentTarget)}
      >
        <MoreHorizRounded />
      </SmallButton>
    </span>
  );
}
