import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import { cleanName, cleanText } from '~/core/audience/words';
import type { ReadOutOrder } from '~/protocol/audience-bus';
import { ActionMenu } from '../sound/action-menu';
import { useBus, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** The comment that is on the picture, and what comes after it. */
export function ReadOutBar({ compact = false }: { compact?: boolean }) {
  const { t } = useTranslation();
  const { bus } = useStudio();
  const readOut = useBus((now) => now.readOut);
  const { shown, queue, history } = readOut;
  const say = (order: ReadOutOrder, seq: number | null = null) => bus.say({ type: 'readOut', order, seq });
  return (
    <div
      role="group"
      aria-label={t('audience.readOut')}
      className={compact ? 'control-bar compact' : 'control-bar'}
    >
      <span className="one-line">
        <span style={{ color: 'var(--quiet)' }}>{t('audience.readOut2')} </span>
        {shown ? (
          <>
            <b>{cleanName(shown.viewer)}</b> {cleanText(shown.text, 160)}
          </>
        ) : (
          <span style={{ color: 'var(--quiet)' }}>{t('audience.nothingChooseAMessageIn')}</span>
        )}
      </span>
      <Button disabled={history.length === 0} onClick={() => say('previous')}>
        {t('audience.previous')}
      </Button>
      <Button disabled={queue.length === 0} onClick={() => say('next')}>
        {queue.length > 0 ? t('audience.nextLength', { length: queue.length }) : t('audience.next')}
      </Button>
      <Button disabled={shown === null} onClick={() => say('clear')}>
        {t('audience.clear')}
      </Button>
      <ActionMenu label={t('audience.before')} disabled={history.length === 0}>
        {(close) =>
          history.slice(0, 12).map((message) => (
            <MenuItem
              key={message.seq}
              onClick={() => {
                close();
                say('show', message.seq);
              }}
            >
              {`${cleanName(message.viewer)}: ${cleanText(message.text, 60)}`}
            </MenuItem>
          ))
        }
      </ActionMenu>
    </div>
  );
}
