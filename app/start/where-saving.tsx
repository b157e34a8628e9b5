import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useTranslation } from '../words/words';
import { TEST_SECONDS } from './use-where';

/** Saving and measuring, its progress, and what went wrong with it: all have their place, so that nothing moves. */
export function WhereSaving({ testing, problem }: { testing: boolean; problem: string }) {
  const { t } = useTranslation();
  return (
    <>
      <div className="start-save">
        <Button type="submit" disabled={testing} className="raised">
          {t('start.where.save')}
        </Button>
        {testing && (
          <span className="start-testing">
            <LinearProgress aria-label={t('start.where.testing', { seconds: TEST_SECONDS })} />
          </span>
        )}
      </div>
      <p role="alert" className="start-problem">
        {problem && `◆ ${problem}`}
      </p>
    </>
  );
}
