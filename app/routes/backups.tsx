import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useFetcher } from 'react-router';
import { backupOrderSchema } from '~/protocol/backup';
import { BackupRow } from '../backups/backup-row';
import { momentOf } from '../home/format';
import { When } from '../home/when';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import { Panel } from '../studio/panel';
import { ThemeSwitch } from '../studio/theme-switch';
import { useTranslation } from '../words/words';
import type { Route } from './+types/backups';

export const meta = () => [{ title: 'Backups – Dolomite' }];

export async function loader({ context }: Route.LoaderArgs) {
  const { backups } = studioOf(context);
  return {
    list: await backups.list(),
    folder: backups.folder,
    drilled: backups.drilled,
    problem: backups.problem,
  };
}

/** Orders as `backupOrderSchema` has them. */
export async function action({ request, context }: Route.ActionArgs) {
  const { backups, keeper, access } = studioOf(context);
  const { error, value } = backupOrderSchema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    switch (value.intent) {
      case 'make':
        await backups.make('asked');
        break;
      case 'drill':
        await backups.drill();
        break;
      case 'folder':
        await backups.choose(value.folder === '' ? null : value.folder);
        break;
      case 'restore': {
        const wanted = value.showId === '' ? null : [value.showId];
        const made = await backups.restore(value.name, wanted, (name) =>
          keeper.free(`${name} (${value.name.slice(0, 10)})`),
        );
        access.audit(context.visitor, 'restored', value.name);
        return Response.json({ restored: made.length });
      }
    }
    return Response.json({ done: true });
  } catch (fault) {
    return faultResponse(fault);
  }
}

export default function Backups({ loaderData: { list, folder, drilled, problem } }: Route.ComponentProps) {
  const { t } = useTranslation();
  const orders = useFetcher<{ message?: string; restored?: number }>();
  const [place, setPlace] = useState(folder);
  const busy = orders.state !== 'idle';
  const order = (fields: Record<string, string>) => void orders.submit(fields, { method: 'post' });
  const wrong = orders.data?.message ?? problem;
  return (
    <main className="backups">
      <header>
        <h1>{t('backups.title')}</h1>
        <ThemeSwitch />
        <Button component="a" href="/">
          {t('home.title')}
        </Button>
      </header>
      <p role="status" className="backups-message">
        {wrong !== '' && <span style={{ color: 'var(--rose)' }}>◆ {wrong}</span>}
        {wrong === '' && busy && t('backups.working')}
        {wrong === '' &&
          !busy &&
          orders.data?.restored !== undefined &&
          t('backups.restored', { count: orders.data.restored })}
      </p>
      <div className="backups-columns">
        <Panel
          label={t('backups.list')}
          title={t('backups.list')}
          aside={
            <Button
              disabled={busy}
              onClick={() => order({ intent: 'make' })}
              sx={{ bgcolor: 'var(--raised)' }}
            >
              {t('backups.now')}
            </Button>
          }
        >
          {list.length === 0 && <p className="hint">{t('backups.none')}</p>}
          <ul className="backups-list">
            {list.map((backup) => (
              <BackupRow
                key={backup.name}
                backup={backup}
                busy={busy}
                onRestore={(showId) => order({ intent: 'restore', name: backup.name, showId })}
              />
            ))}
          </ul>
        </Panel>
        <div className="backups-side">
          <Panel label={t('backups.drill')} title={t('backups.drill')}>
            <p>
              {drilled === null ? (
                t('backups.notDrilled')
              ) : (
                <When
                  words={() =>
                    t(drilled.problem === '' ? 'backups.drilled' : 'backups.drillFailed', {
                      ...drilled,
                      when: momentOf(drilled.atMs),
                    })
                  }
                />
              )}
            </p>
            <Button disabled={busy || list.length === 0} onClick={() => order({ intent: 'drill' })}>
              {t('backups.drillNow')}
            </Button>
          </Panel>
          <Panel label={t('backups.where')} title={t('backups.where')}>
            <p className="hint">{t('backups.whereHint')}</p>
            <form
              onSubmit={(event) => {
                event.preventDefault();
                order({ intent: 'folder', folder: place });
              }}
            >
              <TextField
                label={t('backups.folder')}
                value={place}
                onChange={(e) => setPlace(e.target.value)}
              />
              <Button type="submit" disabled={busy || place === folder} sx={{ mt: 1 }}>
                {t('backups.use')}
              </Button>
            </form>
          </Panel>
        </div>
      </div>
    </main>
  );
}
