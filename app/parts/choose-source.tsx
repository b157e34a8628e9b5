import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useEffect, useRef, useState } from 'react';
import { messageOf } from '~/core/fault';
import { withoutKit, type Kit } from '~/core/parts/kit';
import type { Parts } from '~/core/parts/parts';
import { recordsOf } from '~/core/show/document';
import { momentOf } from '../home/format';
import { useStage } from '../stage/stage-context';
import { sendFile } from '../studio/send-file';
import { useStudio } from '../studio/studio-context';
import { HiddenFile } from '../studio/hidden-file';
import { useTranslation } from '../words/words';
import type { Source } from './source';

interface Places {
  shows: { id: string; name: string }[];
  /** Those that have this show. */
  backups: { name: string; madeMs: number }[];
}

/** Which show or kit parts come from; and what is to become of kits that came before. */
export function ChooseSource({
  onChosen,
  onMake,
  onClose,
}: {
  onChosen: (source: Source) => void;
  onMake: () => void;
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const { showId, say } = useStudio();
  const { base, edit } = useStage();
  const [{ shows, backups }, setPlaces] = useState<Places>({ shows: [], backups: [] });
  const [problem, setProblem] = useState('');
  const [share, setShare] = useState<number | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const url = `/show/${showId}`;
  const { kits } = recordsOf(base(), 'show')[0];
  const list = new Intl.ListFormat('en');
  useEffect(() => {
    let gone = false;
    ask<Places>(`${url}/parts`).then(
      (answer) => !gone && setPlaces(answer),
      (error: unknown) => !gone && setProblem(messageOf(error)),
    );
    return () => {
      gone = true;
    };
  }, [url]);
  const guarded = (work: Promise<Source>) =>
    void work.then(onChosen, (error: unknown) => setProblem(messageOf(error))).finally(() => setShare(null));
  const fromShow = async (id: string): Promise<Source> => {
    const { name, parts } = await ask<{ name: string; parts: Parts }>(
      `${url}/parts?of=${encodeURIComponent(id)}`,
    );
    return { name, parts, kit: null, missing: [] };
  };
  const fromBackup = async (name: string, madeMs: number): Promise<Source> => {
    const { parts } = await ask<{ parts: Parts }>(`${url}/parts?backup=${encodeURIComponent(name)}`);
    return { name: t('parts.asOf', { when: momentOf(madeMs) }), parts, kit: null, missing: [] };
  };
  const fromFile = async (file: File): Promise<Source> => {
    setShare(0);
    const never = new AbortController().signal;
    const { kit, missing } = await sendFile<{ kit: Kit; missing: string[] }>(
      `${url}/kit-in`,
      file,
      {},
      setShare,
      never,
    );
    return { name: kit.name, parts: kit, kit, missing };
  };
  const fromShipped = async (id: string): Promise<Source> => {
    // Wanted once in a while: they do not come with the page.
    const { SHIPPED_KITS } = await import('~/core/kits/kits');
    const kit = SHIPPED_KITS.find((one) => one.id === id)!.make();
    return { name: kit.name, parts: kit, kit, missing: [] };
  };
  const takeOut = (id: string, name: string) => {
    try {
      const { put, removed, stays } = withoutKit(base(), id);
      if (!edit(t('parts.takeOutEdit', { name }), put, removed)) return;
      say(
        stays.length === 0
          ? t('parts.takenOut', { name })
          : t('parts.takenOutBut', { name, stays: list.format(stays) }),
      );
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <>
      <DialogContent className="parts">
        <h3>{t('parts.kits')}</h3>
        <div className="parts-sources">
          {(['fell-lines', 'signal-cards'] as const).map((id) => (
            <button type="button" key={id} onClick={() => guarded(fromShipped(id))}>
              <b>{t(`parts.shipped.${id}.name`)}</b>
              <span>{t(`parts.shipped.${id}.about`)}</span>
            </button>
          ))}
        </div>
        <Button className="raised" disabled={share !== null} onClick={() => chooser.current?.click()}>
          {t('parts.fromFile')}
        </Button>
        <HiddenFile
          of={chooser}
          label={t('parts.fromFile')}
          accept=".zip,application/zip"
          onFiles={([file]) => guarded(fromFile(file))}
        />
        {share !== null && (
          <LinearProgress
            variant={share < 1 ? 'determinate' : 'indeterminate'}
            value={share * 100}
            aria-label={t('parts.reading')}
          />
        )}
        <h3>{t('parts.shows')}</h3>
        {shows.length === 0 ? (
          <p className="computer-hint">{t('parts.noShows')}</p>
        ) : (
          <div className="parts-sources">
            {shows.map(({ id, name }) => (
              <button type="button" key={id} onClick={() => guarded(fromShow(id))}>
                <b>{name}</b>
              </button>
            ))}
          </div>
        )}
        {backups.length > 0 && (
          <>
            <h3>{t('parts.backups')}</h3>
            <TextField
              select
              fullWidth
              label={t('parts.backup')}
              value=""
              onChange={(e) => {
                const chosen = backups.find(({ name }) => name === e.target.value);
                if (chosen) guarded(fromBackup(chosen.name, chosen.madeMs));
              }}
            >
              {backups.map(({ name, madeMs }) => (
                <MenuItem key={name} value={name}>
                  {momentOf(madeMs)}
                </MenuItem>
              ))}
            </TextField>
          </>
        )}
        {kits.length > 0 && (
          <>
            <h3>{t('parts.taken')}</h3>
            <ul className="computer-list">
              {kits.map(({ id, name }) => (
                <li key={id} className="computer-entry">
                  <b className="one-line">{name}</b>
                  <Button
                    className="raised"
                    aria-label={t('parts.takeOutOne', { name })}
                    onClick={() => takeOut(id, name)}
                  >
                    {t('parts.takeOut')}
                  </Button>
                </li>
              ))}
            </ul>
          </>
        )}
        <p role="alert" className="computer-problem parts-problem">
          {problem}
        </p>
      </DialogContent>
      <DialogActions>
        <Button onClick={onMake}>{t('parts.make')}</Button>
        <span className="parts-room" />
        <Button onClick={onClose}>{t('parts.close')}</Button>
      </DialogActions>
    </>
  );
}

async function ask<T>(url: string): Promise<T> {
  const response = await fetch(url);
  const answer = (await response.json()) as T & { message?: string };
  if (!response.ok) throw new Error(answer.message ?? response.statusText);
  return answer;
}
