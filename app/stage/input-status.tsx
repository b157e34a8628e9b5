import type { InputState } from '~/protocol/engine';
import { useTranslation } from '../words/words';

/** How an input does: running with its size, or why not. */
export function InputStatus({ state }: { state: InputState | null }) {
  const { t } = useTranslation();
  return (
    <p
      style={{
        margin: '6px 0 8px',
        fontSize: 12.5,
        color: state?.state === 'failed' ? 'var(--rose)' : 'var(--quiet)',
        lineHeight: 1.4,
      }}
    >
      {state?.state === 'ready' ? (
        <>
          {t('layout.runningAt', { size: `${Math.round(state.width)}×${Math.round(state.height)}` })}
          {state.message && `; ${state.message}`}
        </>
      ) : (
        (state?.message ?? t('layout.starting'))
      )}
    </p>
  );
}
