import Button from '@mui/material/Button';
import { useTranslation } from '../words/words';
import { useDesk, useStudio } from './studio-context';

/** Edits of the scene on air unseen, and shows them. */
export function HoldButtons() {
  const { control, say } = useStudio();
  const held = useDesk((now) => now.programme.held);
  const { t } = useTranslation();
  const press = (command: 'hold' | 'showEdits') =>
    void control.press({ command, params: {} }, 'page').then((problem) => problem && say(problem));
  return (
    <>
      <Button
        aria-pressed={held}
        aria-keyshortcuts="H"
        title={t(held ? 'air.heldHint' : 'air.holdHint')}
        className={held ? 'holding' : undefined}
        onClick={() => press('hold')}
      >
        {t('air.hold')}
      </Button>
      <Button
        disabled={!held}
        aria-keyshortcuts="Shift+H"
        title={t('air.showEditsHint')}
        onClick={() => press('showEdits')}
      >
        {t('air.showEdits')}
      </Button>
    </>
  );
}
