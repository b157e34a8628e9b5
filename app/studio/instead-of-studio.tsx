import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { useTranslation } from '../words/words';

function Card({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main style={{ display: 'grid', placeItems: 'center', height: '100vh' }}>
      <section
        style={{
          background: 'var(--surface)',
          borderRadius: 12,
          padding: 32,
          maxWidth: 560,
          lineHeight: 1.5,
        }}
      >
        <h1 style={{ fontFamily: '"Bricolage Grotesque Variable"', fontSize: 22, marginTop: 0 }}>{title}</h1>
        {children}
      </section>
    </main>
  );
}

/** One desk at a time: two would mix and send twice. @param closed the other window is gone by now */
export function DeskElsewhere({ closed, onTakeOver }: { closed: boolean; onTakeOver: () => void }) {
  const { t } = useTranslation();
  if (closed)
    return (
      <Card title={t('shell.theDeskWasClosedIn')}>
        <p>{t('shell.nothingMixesAndSendsThis')}</p>
        <Button variant="contained" color="primary" sx={{ bgcolor: 'primary.main' }} onClick={onTakeOver}>
          {t('shell.goOnHere')}
        </Button>
      </Card>
    );
  return (
    <Card title={t('shell.theDeskIsOpenIn')}>
      <p>{t('shell.oneWindowAtATime')}</p>
      <p style={{ color: 'var(--quiet)' }}>{t('shell.ifYouTakeOverThe')}</p>
      <Button variant="contained" color="primary" sx={{ bgcolor: 'primary.main' }} onClick={onTakeOver}>
        {t('shell.takeOverHere')}
      </Button>
    </Card>
  );
}

export function ShowGone() {
  const { t } = useTranslation();
  return (
    <Card title={t('shell.thisShowWasDeletedIn')}>
      <p>{t('shell.itCanBeBroughtBack')}</p>
      <Button component="a" href="/" variant="contained" color="primary" sx={{ bgcolor: 'primary.main' }}>
        {t('shell.goToHome')}
      </Button>
    </Card>
  );
}

export function MissingFeatures({ missing }: { missing: string[] }) {
  const { t } = useTranslation();
  return (
    <Card title={t('shell.thisBrowserCannotRunThe')}>
      <p>{t('shell.itLacks')}</p>
      <ul>
        {missing.map((name) => (
          <li key={name}>{name}</li>
        ))}
      </ul>
      <p>{t('shell.openThisAddressInA')}</p>
    </Card>
  );
}
