import Button from '@mui/material/Button';
import type { HomeShow } from './home-show';
import { useTranslation } from '../words/words';

/** The ways to a new show, the quickest first. */
export function NewShow({
  last,
  hasDemonstration,
  busy,
  onOrder,
}: {
  /** The show that was used last; a copy of it is offered. */
  last: HomeShow | null;
  hasDemonstration: boolean;
  busy: boolean;
  onOrder: (fields: Record<string, string>) => void;
}) {
  const { t } = useTranslation();
  return (
    <section aria-label={t('home.newShow')} className="home-new">
      <h2>{t('home.newShow')}</h2>
      <Button
        className="home-first"
        disabled={busy}
        onClick={() => onOrder({ intent: 'first', name: t('home.firstName') })}
      >
        <b>{t('home.withCamera')}</b>
        <span>{t('home.withCameraHint')}</span>
      </Button>
      {last && (
        <Button
          disabled={busy}
          title={t('home.copyOf', { name: last.name })}
          onClick={() =>
            onOrder({
              intent: 'copy',
              showId: last.id,
              name: t('home.copyName', { name: last.name }).slice(0, 120),
            })
          }
        >
          <span className="home-cut">{t('home.copyOf', { name: last.name })}</span>
        </Button>
      )}
      <Button disabled={busy} onClick={() => onOrder({ intent: 'blank', name: t('home.blankName') })}>
        {t('home.blank')}
      </Button>
      {!hasDemonstration && (
        <Button disabled={busy} onClick={() => onOrder({ intent: 'demonstration' })} className="home-first">
          <b>{t('home.demonstration')}</b>
          <span>{t('home.demonstrationHint')}</span>
        </Button>
      )}
    </section>
  );
}
