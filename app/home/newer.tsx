import { useTranslation } from '../words/words';

/** There is a newer version: said once, here, and left to whoever wants it. */
export function Newer({ version, about }: { version: string; about: string | null }) {
  const { t } = useTranslation();
  return (
    <span>
      {t('home.newer', { version })}
      {about !== null && (
        <>
          {' '}
          <a href={about} target="_blank" rel="noreferrer">
            {t('home.newerAbout')}
          </a>
        </>
      )}
    </span>
  );
}
