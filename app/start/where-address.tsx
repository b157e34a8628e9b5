import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { findRecord, recordsOf } from '~/core/show/document';
import { firstDestination } from '~/core/show/new-show';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { useWhere, type WhereProps } from './use-where';
import { WhereSaving } from './where-saving';

const newId = () => crypto.randomUUID();
const SERVER = /^rtmps?:\/\/[^/\s]+(\/\S*)?$/i;

/** Server, key and title, as a platform's page gives them. */
export function WhereAddress({ hasKey, onKey, onMeasured }: WhereProps) {
  const { t } = useTranslation();
  const { store, showId } = useStudio();
  const document = useDocument();
  const [before] = recordsOf(document, 'destination');
  const show = findRecord(document, 'show', showId)!;
  const [url, setUrl] = useState(before?.url ?? '');
  const [key, setKey] = useState('');
  const [title, setTitle] = useState(before?.details.title || (show.fields.title ?? show.name));
  const [wrong, setWrong] = useState<{ at: 'url' | 'key'; words: string } | null>(null);
  const where = useWhere({
    onMeasured,
    onKey: () => {
      setKey('');
      onKey();
    },
  });
  const save = async () => {
    setWrong(null);
    if (!SERVER.test(url.trim())) return setWrong({ at: 'url', words: t('start.where.wrongServer') });
    if (/\s/.test(key.trim())) return setWrong({ at: 'key', words: t('start.where.spaces') });
    const name = before?.name ?? new URL(url.trim().replace(/^rtmps?/i, 'https')).hostname;
    const made = firstDestination(store.document(), { url: url.trim(), name, title }, newId);
    const secret = key.trim() || made.key;
    if (!secret && !hasKey) return setWrong({ at: 'key', words: t('start.where.noKey') });
    setUrl(made.destination.url);
    await where.save(made.destination, secret);
  };
  const wrongIn = (at: 'url' | 'key') => (wrong?.at === at ? wrong.words : null);
  return (
    <form
      className="start-form"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <TextField
        label={t('start.where.server')}
        value={url}
        error={wrongIn('url') !== null}
        helperText={wrongIn('url') ?? t('start.where.serverHint')}
        onChange={(e) => setUrl(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <TextField
        type="password"
        autoComplete="off"
        label={hasKey ? t('start.where.keySaved') : t('start.where.key')}
        value={key}
        error={wrongIn('key') !== null}
        helperText={wrongIn('key') ?? t('start.where.keyHint')}
        onChange={(e) => setKey(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <TextField
        label={t('start.where.broadcastTitle')}
        value={title}
        onChange={(e) => setTitle(e.target.value.slice(0, 140))}
        onKeyDown={(e) => e.stopPropagation()}
      />
      <WhereSaving testing={where.testing} problem={where.problem} />
    </form>
  );
}
