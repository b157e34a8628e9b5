import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import { data, Link, redirect, useFetcher, useRevalidator } from 'react-router';
import { homeOrderSchema } from '~/protocol/home';
import { BringIn } from '../home/bring-in';
import { momentOf, sizeOf } from '../home/format';
import type { HomeShow } from '../home/home-show';
import { NewShow } from '../home/new-show';
import { Newer } from '../home/newer';
import { Ridge } from '../home/ridge';
import { ShowCard } from '../home/show-card';
import { When } from '../home/when';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import { ThemeSwitch } from '../studio/theme-switch';
import { useTranslation, type Translate } from '../words/words';
import type { Route } from './+types/home';

export const meta = () => [{ title: 'Dolomite' }];

/** The shows of this computer. */
export async function loader({ context }: Route.LoaderArgs) {
  const studio = studioOf(context);
  const shows = studio.showFacts();
  return {
    shows: shows.map((show) => ({
      ...show,
      pictureMs: studio.pictures.madeMs(show.id),
      bytes: studio.sizes.of(show.id),
    })),
    newer: studio.newer.told,
    onAir: studio.broadcast.showId,
    freeBytes: studio.recordings.place.freeBytes(),
    hasDemonstration: studio.keeper.hasDemonstration,
    backedUpMs: (await studio.backups.list())[0]?.madeMs ?? null,
    backupProblem: studio.backups.problem || (studio.backups.drilled?.problem ?? ''),
  };
}

/** Orders as `homeOrderSchema` has them: a new show is opened, everything else stays here. */
export async function action({ request, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { error, value } = homeOrderSchema.validate(Object.fromEntries(await formOf(request)));
  if (error) return data({ message: error.message }, { status: 400 });
  const { keeper, access } = studio;
  try {
    switch (value.intent) {
      case 'first':
        return redirect(`/show/${keeper.first(value.name, value.handle)}/start`);
      case 'blank':
        return redirect(`/show/${keeper.blank(value.name)}/stage`);
      case 'copy':
        keeper.copy(value.showId, value.name);
        break;
      case 'rename':
        keeper.rename(value.showId, value.name);
        break;
      case 'archive':
      case 'unarchive':
        keeper.archive(value.showId, value.intent === 'archive');
        break;
      case 'delete':
        keeper.remove(value.showId);
        access.audit(context.visitor, 'deleted', 'a show');
        break;
      case 'restore':
        keeper.restore(value.showId);
        break;
      case 'plan':
        keeper.plan(value.showId, value.nextMs);
        break;
      case 'demonstration':
        keeper.demonstration();
        break;
    }
    return { message: '' };
  } catch (fault) {
    return faultResponse(fault);
  }
}

/** Until sizes that were not known yet are asked for again. */
const SIZES_MS = 1500;

interface Undo {
  words: string;
  fields: Record<string, string>;
}

/** How an order that was just given is taken back; null for those that another one in the menu takes back. */
function undoOf(
  t: Translate,
  { id, name, nextMs }: HomeShow,
  { intent }: Record<string, string>,
): Undo | null {
  if (intent === 'delete')
    return { words: t('home.removed', { name }), fields: { intent: 'restore', showId: id } };
  if (intent === 'plan')
    return {
      words: t('home.planned', { name }),
      fields: { intent: 'plan', showId: id, nextMs: String(nextMs ?? '') },
    };
  if (intent === 'rename')
    return { words: t('home.renamed', { name }), fields: { intent: 'rename', showId: id, name } };
  return null;
}

export default function Home({ loaderData }: Route.ComponentProps) {
  const { t } = useTranslation();
  const { shows, onAir, freeBytes, hasDemonstration, backedUpMs, backupProblem, newer } = loaderData;
  const orders = useFetcher<{ message?: string }>();
  const [search, setSearch] = useState('');
  const [all, setAll] = useState(false);
  const [undo, setUndo] = useState<Undo | null>(null);
  // How large they are is counted when it is asked for first.
  const { revalidate } = useRevalidator();
  const counting = shows.some(({ bytes }) => bytes === null);
  useEffect(() => {
    if (!counting) return;
    const timer = setTimeout(() => void revalidate(), SIZES_MS);
    return () => clearTimeout(timer);
  }, [counting, revalidate, loaderData]);
  const there = shows.filter((show) => show.removedMs === null);
  const listed = all ? shows : there.filter((show) => show.archivedMs === null);
  const found = listed.filter(({ name }) => name.toLowerCase().includes(search.trim().toLowerCase()));
  const order = (fields: Record<string, string>) => void orders.submit(fields, { method: 'post' });
  const problem = orders.data?.message ?? '';
  return (
    <main className="home">
      <Ridge />
      <header>
        <div>
          <h1>{t('common.product')}</h1>
          <p>
            {t('home.shows', { count: there.length })}
            {' · '}
            {backedUpMs === null ? (
              t('home.notBackedUp')
            ) : (
              <When words={() => t('home.backedUp', { when: momentOf(backedUpMs) })} />
            )}
            {freeBytes !== null && ` · ${t('home.free', { size: sizeOf(freeBytes) })}`}
          </p>
        </div>
        <span style={{ flex: 1 }} />
        {there.length > 6 && (
          <TextField
            label={t('home.search')}
            value={search}
            onChange={(e) => setSearch(e.target.value)}
            sx={{ width: 240 }}
          />
        )}
        <ThemeSwitch />
        <BringIn />
        <Button component={Link} to="/backups" sx={{ color: backupProblem ? 'var(--rose)' : undefined }}>
          {backupProblem ? '◆ ' : ''}
          {t('home.backups')}
        </Button>
        <Button component={Link} to="/files">
          {t('files.title')}
        </Button>
        <Button component="a" href="/computer">
          {t('home.thisComputer')}
        </Button>
      </header>
      <div role="status" className="home-message">
        {problem !== '' && <span style={{ color: 'var(--rose)' }}>◆ {problem}</span>}
        {problem === '' && !undo && newer && <Newer {...newer} />}
        {problem === '' && undo && (
          <>
            {undo.words}
            <Button
              onClick={() => {
                order(undo.fields);
                setUndo(null);
              }}
            >
              {t('home.undo')}
            </Button>
          </>
        )}
      </div>
      <section aria-label={t('home.list')} className="home-list">
        {there.length === 0 && <p className="hint">{t('home.none')}</p>}
        {there.length > 0 && found.length === 0 && (
          <p className="hint">{t('home.noneFound', { search: search.trim() })}</p>
        )}
        <ul>
          {found.map((show) => (
            <ShowCard
              key={show.id}
              show={show}
              onAir={show.id === onAir}
              onOrder={(fields) => {
                setUndo(undoOf(t, show, fields));
                order(fields);
              }}
            />
          ))}
        </ul>
        {shows.length > there.filter((show) => show.archivedMs === null).length && (
          <Button onClick={() => setAll(!all)} aria-expanded={all}>
            {all ? t('home.showLess') : t('home.showMore')}
          </Button>
        )}
      </section>
      <NewShow
        last={there[0] ?? null}
        hasDemonstration={hasDemonstration}
        onOrder={order}
        busy={orders.state !== 'idle'}
      />
    </main>
  );
}
