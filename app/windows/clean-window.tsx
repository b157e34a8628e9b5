import { useEffect, useState } from 'react';
import type { FrameName } from '~/core/show/records';
import { LiveView } from '../studio/live-view';
import { useTranslation } from '../words/words';

/** One frame and nothing else, for a projector, a call or one's own eyes. The bar shows itself to a pointer. */
export function CleanWindow({ frame, opened }: { frame: FrameName; opened: Window }) {
  const { t } = useTranslation();
  const [mirrored, setMirrored] = useState(false);
  useEffect(() => {
    const down = ({ key }: KeyboardEvent) => {
      if (key === 'f') void toggleFull(opened);
      else if (key === 'm') setMirrored((now) => !now);
    };
    opened.addEventListener('keydown', down);
    return () => opened.removeEventListener('keydown', down);
  }, [opened]);
  return (
    <div className="clean" data-frame={frame}>
      <div className="clean-picture" data-mirrored={mirrored}>
        <LiveView
          subject={{ type: 'onAir', frame }}
          label={t('windows.clean', { frame: t(`windows.${frame}`) })}
        />
      </div>
      <div className="clean-bar">
        <button
          type="button"
          aria-pressed={mirrored}
          aria-keyshortcuts="M"
          onClick={() => setMirrored(!mirrored)}
        >
          {t('windows.mirror')}
        </button>
        <button type="button" aria-keyshortcuts="F" onClick={() => void toggleFull(opened)}>
          {t('windows.fullScreen')}
        </button>
      </div>
    </div>
  );
}

export async function toggleFull({ document: of }: Window): Promise<void> {
  if (of.fullscreenElement) return of.exitFullscreen();
  // Refused without a click: nothing is lost by that.
  await of.documentElement.requestFullscreen().catch(() => undefined);
}
