import { useTranslation } from '../words/words';
/** What is seen for the moment before the engine is there: the ground and the name, nothing that jumps. */
export function OpeningScreen({ show }: { show: string }) {
  const { t } = useTranslation();
  return (
    <main style={{ padding: '14px 20px' }}>
      <h1 style={{ fontFamily: '"Bricolage Grotesque Variable"', fontSize: 17, margin: 0 }}>{show}</h1>
      <p style={{ color: 'var(--quiet)', margin: '4px 0', fontSize: 13 }}>{t('shell.openingTheStudio')}</p>
    </main>
  );
}
