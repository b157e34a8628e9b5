import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { useCallback, useEffect, useRef, useState } from 'react';
import { messageOf } from '~/core/fault';
import { waveFile } from '~/core/sound/wave-file';
import type { TakeFigures } from '~/protocol/sound-engine';
import { useStudio } from '../studio/studio-context';
import { levelText } from './use-readings';
import { useTranslation } from '../words/words';

const SECONDS = 10;

/** Records what viewers would hear, without broadcasting, and plays it back with its figures. */
export function TenSecondTest({ targetLufs, onClose }: { targetLufs: number; onClose: () => void }) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const [progress, setProgress] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  const [take, setTake] = useState<{ url: string; figures: TakeFigures } | null>(null);
  const abort = useRef<AbortController | null>(null);
  const record = useCallback(async () => {
    const controller = new AbortController();
    abort.current?.abort();
    abort.current = controller;
    setTake(null);
    setProblem(null);
    setProgress(0);
    try {
      const { left, right } = await desk.listener.recordProgramme(SECONDS, setProgress, controller.signal);
      const url = URL.createObjectURL(new Blob([waveFile([left, right], 48_000)], { type: 'audio/wav' }));
      setTake({ url, figures: await desk.listener.measure(left, right) });
    } catch (error) {
      if (!controller.signal.aborted) setProblem(messageOf(error));
    }
  }, [desk]);
  useEffect(() => {
    void record();
    return () => abort.current?.abort();
  }, [record]);
  useEffect(() => () => void (take && URL.revokeObjectURL(take.url)), [take]);
  const off = take ? take.figures.integratedLufs - targetLufs : 0;
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="take-title">
      <DialogTitle id="take-title">{t('sound.tenSecondTest')}</DialogTitle>
      <DialogContent sx={{ minHeight: 220 }}>
        {problem && <p style={{ color: 'var(--rose)' }}>{problem}</p>}
        {!take && !problem && (
          <>
            <p className="hint">{t('sound.talkAndPlayAsYou')}</p>
            <LinearProgress variant="determinate" value={progress * 100} aria-label={t('sound.recording')} />
          </>
        )}
        {take && (
          <>
            <audio
              controls
              src={take.url}
              aria-label={t('sound.whatViewersWouldHear')}
              style={{ width: '100%' }}
            />
            <dl className="figures" data-testid="take-figures">
              <dt>{t('sound.loudness')}</dt>
              <dd className="figure">{levelText(take.figures.integratedLufs, 'LUFS')}</dd>
              <dt>{t('sound.loudestMoment')}</dt>
              <dd className="figure">{levelText(take.figures.maxMomentaryLufs, 'LUFS')}</dd>
              <dt>{t('sound.truePeak')}</dt>
              <dd className="figure">{levelText(take.figures.truePeakDbtp, 'dBTP')}</dd>
            </dl>
            <p className="hint">
              {!Number.isFinite(take.figures.integratedLufs)
                ? t('sound.silenceIsAnythingMuted')
                : Math.abs(off) < 1.5
                  ? `As loud as aimed at (${targetLufs} LUFS).`.replace('-', '−')
                  : `${Math.abs(off).toFixed(1)} LU ${off > 0 ? 'louder' : 'quieter'} than aimed at.`}
            </p>
          </>
        )}
      </DialogContent>
      <DialogActions>
        {take && (
          <Button component="a" href={take.url} download="ten-seconds.wav">
            {t('sound.keepAsWav')}
          </Button>
        )}
        <Button onClick={() => void record()}>{t('sound.recordAgain')}</Button>
        <Button variant="contained" onClick={onClose}>
          {t('sound.done')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
