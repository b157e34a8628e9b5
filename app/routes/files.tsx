import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import { useFetcher, useRevalidator } from 'react-router';
import { fileOrderSchema } from '~/protocol/files';
import { FileRow } from '../files/file-row';
import { sizeWords } from '../files/size-words';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import { ChoiceRow } from '../studio/choice-row';
import { Panel } from '../studio/panel';
import { SelectField } from '../studio/select-field';
import { ThemeSwitch } from '../studio/theme-switch';
import { useTranslation } from '../words/words';
import type { Route } from './+types/files';

export const meta = () => [{ title: 'Files – Dolomite' }];

export function loader({ context }: Route.LoaderArgs) {
  const { files } = studioOf(context);
  return { list: files.list(), rule: files.rule };
}

/** Orders as `fileOrderSchema` has them. */
export async function action({ request, context }: Route.ActionArgs) {
  const { files, access } = studioOf(context);
  const { error, value } = fileOrderSchema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    switch (value.intent) {
      case 'remove':
      case 'restore': {
        const ids = value.ids.split(',');
        files[value.intent](ids);
        access.audit(
          context.visitor,
          value.intent === 'remove' ? 'filesRemoved' : 'filesRestored',
          `${ids.length}`,
        );
        return Response.json({ [`${value.intent}d`]: ids.length });
      }
      case 'replace':
        return Response.json({ replaced: files.replace(value.id, value.by) });
      case 'rule':
        files.rule = value.days;
        await files.sweep();
        return Response.json({});
    }
  } catch (fault) {
    return faultResponse(fault);
  }
}

const FILTERS = ['all', 'unused', 'removed'] as const;
const RULES = { '0': 'never', '30': 'month', '90': 'quarter', '365': 'year' } as const;

interface Answer {
  message?: string;
  removed?: number;
  restored?: number;
  replaced?: number;
}

export default function Files({ loaderData: { list, rule } }: Route.ComponentProps) {
  const { t } = useTranslation();
  const orders = useFetcher<Answer>();
  const { revalidate } = useRevalidator();
  const [shown, setShown] = useState<(typeof FILTERS)[number]>('all');
  const [search, setSearch] = useState('');
  const [uploading, setUploading] = useState<string | null>(null);
  const [problem, setProblem] = useState('');
  const order = (fields: Record<string, string>) => {
    setProblem('');
    void orders.submit(fields, { method: 'post' });
  };
  const there = list.filter(({ removedMs }) => removedMs === null);
  const unused = there.filter(({ uses }) => uses.length === 0);
  const removed = list.filter(({ removedMs }) => removedMs !== null);
  const of = { all: there, unused, removed }[shown];
  const found = useMemo(() => {
    const wanted = search.trim().toLowerCase();
    return of.filter(({ name }) => name.toLowerCase().includes(wanted));
  }, [of, search]);
  const bytes = (files: typeof list) => files.reduce((sum, file) => sum + file.bytes, 0);
  const replace = async (id: string, showId: string, file: File) => {
    setProblem('');
    setUploading(file.name);
    try {
      const response = await fetch(`/show/${showId}/assets`, {
        method: 'POST',
        headers: { 'x-file-name': encodeURIComponent(file.name) },
        body: file,
      });
      const made = (await response.json()) as { id?: string; message?: string };
      if (!response.ok || !made.id) setProblem(made.message ?? `status ${response.status}`);
      else order({ intent: 'replace', id, by: made.id });
    } catch {
      setProblem(t('home.notReachable'));
    } finally {
      setUploading(null);
      void revalidate();
    }
  };
  const busy = orders.state !== 'idle' || uploading !== null;
  const { data } = orders;
  const wrong = problem || data?.message;
  return (
    <main className="files">
      <header>
        <h1>{t('files.title')}</h1>
        <ThemeSwitch />
        <Button component="a" href="/">
          {t('home.title')}
        </Button>
      </header>
      <p role="status" className="files-message">
        {wrong ? (
          <span className="files-wrong">◆ {wrong}</span>
        ) : uploading !== null ? (
          t('files.uploading', { name: uploading })
        ) : busy ? (
          t('files.working')
        ) : data?.removed !== undefined ? (
          t('files.removed', { count: data.removed })
        ) : data?.restored !== undefined ? (
          t('files.restored', { count: data.restored })
        ) : data?.replaced !== undefined ? (
          data.replaced === 0 ? (
            t('files.replacedNone')
          ) : (
            t('files.replaced', { count: data.replaced })
          )
        ) : (
          t('files.about')
        )}
      </p>
      <div className="files-bar">
        <ChoiceRow
          label={t('files.which')}
          value={shown}
          options={FILTERS.map((value) => ({ value, words: t(`files.filters.${value}`) }))}
          onChange={setShown}
        />
        <TextField label={t('files.search')} value={search} onChange={(e) => setSearch(e.target.value)} />
        <SelectField
          label={t('files.rule')}
          value={String(rule)}
          options={Object.entries(RULES).map(([value, name]) => ({ value, words: t(`files.rules.${name}`) }))}
          onChange={(days) => order({ intent: 'rule', days })}
        />
        <span className="figure files-sum">
          {t('files.sum', { count: of.length, size: sizeWords(bytes(of)) })}
        </span>
        {shown === 'removed' ? (
          <Button
            disabled={busy || removed.length === 0}
            onClick={() => order({ intent: 'restore', ids: removed.map(({ id }) => id).join() })}
          >
            {t('files.restoreAll', { count: removed.length })}
          </Button>
        ) : (
          <Button
            disabled={busy || unused.length === 0}
            onClick={() => order({ intent: 'remove', ids: unused.map(({ id }) => id).join() })}
          >
            {t('files.removeUnused', { count: unused.length, size: sizeWords(bytes(unused)) })}
          </Button>
        )}
      </div>
      <Panel label={t('files.title')}>
        {found.length === 0 ? (
          <p className="hint">
            {search.trim() === '' ? t(`files.none.${shown}`) : t('files.noneFound', { search })}
          </p>
        ) : (
          <table>
            <thead>
              <tr>
                <th scope="col">{t('files.file')}</th>
                <th scope="col">{t('files.size')}</th>
                <th scope="col">{t('files.added')}</th>
                <th scope="col">{t('files.used')}</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {found.map((file) => (
                <FileRow
                  key={file.id}
                  file={file}
                  busy={busy}
                  onReplace={(chosen) => void replace(file.id, file.uses[0].showId, chosen)}
                  onRemove={() => order({ intent: 'remove', ids: file.id })}
                  onRestore={() => order({ intent: 'restore', ids: file.id })}
                />
              ))}
            </tbody>
          </table>
        )}
      </Panel>
    </main>
  );
}
