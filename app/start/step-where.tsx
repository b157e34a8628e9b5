import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { messageOf } from '~/core/fault';
import { findRecord, recordsOf } from '~/core/show/document';
import { firstDestination } from '~/core/show/new-show';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { ChoiceList } from './choice-list';

const newId = () => crypto.randomUUID();
const TEST_SECONDS = 5;
const SERVER = /^rtmps?:\/\/[^/\s]+(\/\S*)?$/i;

/** Server, key and title; or only a recording. */
export function StepWhere({
  hasKey,
  onMeasured,
  onKey,
}: {
  hasKey: boolean;
  /** The upload that was measured, kbps. */
  onMeasured: (kbps: number) => void;
  onKey: () => void;
}) {
  const { t } = useTranslation();
  const { store, showId } = useStudio();
  const document = useDocument();
  const [before] = recordsOf(document, 'destination');
  const show = findRecord(document, 'show', showId)!;
  const [send, setSend] = useState(before?.enabled ?? true);
  const [url, setUrl] = useState(before?.url ?? '');
  const [key, setKey] = useState('');
  const [title, setTitle] = useState(before?.details.title || (show.fields.title ?? show.name));
  const [problem, setProblem] = useState<{ at: 'url' | 'key' | 'all'; words: string } | null>(null);
  const [testing, setTesting] = useState(false);

  const choose = (id: string) => {
    setSend(id === 'send');
    if (before && before.enabled !== (id === 'send'))
      store.edit(t('start.where.title'), [{ ...before, enabled: id === 'send' }]);
  };
  const save = async () => {
    setProblem(null);
    if (!SERVER.test(url.trim())) return setProblem({ at: 'url', words: t('start.where.wrongServer') });
    if (/\s/.test(key.trim())) return setProblem({ at: 'key', words: t('start.where.spaces') });
    const name = before?.name ?? new URL(url.trim().replace(/^rtmps?/i, 'https')).hostname;
    const made = firstDestination(store.document(), { url: url.trim(), name, title }, newId);
    const secret = key.trim() || made.key;
    if (!secret && !hasKey) return setProblem({ at: 'key', words: t('start.where.noKey') });
    setTesting(true);
    try {
      store.edit(t('start.where.title'), [made.destination, { ...show, fields: { ...show.fields, title } }]);
      setUrl(made.destination.url);
      await store.saved();
      if (secret) {
        await post(`/show/${showId}/keys`, { destinationId: made.destination.id, key: secret });
        setKey('');
        onKey();
      }
      const { test } = await post<{ test: { sustainedKbps: number } }>(`/show/${showId}/line-test`, {
        destinationId: made.destination.id,
        url: made.destination.url,
        seconds: String(TEST_SECONDS),
      });
      onMeasured(test.sustainedKbps);
    } catch (error) {
      setProblem({
        at: 'all',
        words: error instanceof TypeError ? t('home.notReachable') : messageOf(error),
      });
    } finally {
      setTesting(false);
    }
  };
  const wrong = (at: 'url' | 'key') => (problem?.at === at ? problem.words : null);
  return (
    <>
      <h2>{t('start.where.title')}</h2>
      <ChoiceList
        label={t('start.where.title')}
        choices={[
          { id: 'send', title: t('start.where.send') },
          { id: 'record', title: t('start.where.record'), hint: t('start.where.recordHint') },
        ]}
        chosen={send ? 'send' : 'record'}
        onChoose={choose}
      />
      {send && (
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
            error={wrong('url') !== null}
            helperText={wrong('url') ?? t('start.where.serverHint')}
            onChange={(e) => setUrl(e.target.value)}
            onKeyDown={(e) => e.stopPropagation()}
          />
          <TextField
            type="password"
            autoComplete="off"
            label={hasKey ? t('start.where.keySaved') : t('start.where.key')}
            value={key}
            error={wrong('key') !== null}
            helperText={wrong('key') ?? t('start.where.keyHint')}
            onChange={(e) => setKey(e.target.value)}
            onKeyDown={(e) => e.stopPropagation()}
          />
          <TextField
            label={t('start.where.broadcastTitle')}
            value={title}
            onChange={(e) => setTitle(e.target.value.slice(0, 140))}
            onKeyDown={(e) => e.stopPropagation()}
          />
          <div className="start-save">
            <Button type="submit" disabled={testing} sx={{ bgcolor: 'var(--raised)' }}>
              {t('start.where.save')}
            </Button>
            {testing && (
              <span style={{ flex: 1 }}>
                <LinearProgress aria-label={t('start.where.testing', { seconds: TEST_SECONDS })} />
              </span>
            )}
          </div>
          <p role="alert" style={{ color: 'var(--rose)', minHeight: 20, margin: 0 }}>
            {problem?.at === 'all' && `◆ ${problem.words}`}
          </p>
        </form>
      )}
    </>
  );
}

/** @throws Error with what the server says is wrong */
async function post<T>(path: string, form: Record<string, string>): Promise<T> {
  const response = await fetch(path, { method: 'POST', body: new URLSearchParams(form) });
  const answer = (await response.json()) as T & { message?: string };
  if (!response.ok) throw new Error(answer.message ?? `${response.status}`);
  return answer;
}
