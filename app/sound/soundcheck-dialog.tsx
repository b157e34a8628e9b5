import { withMinus } from '~/core/format/numbers';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useRef, useState } from 'react';
import { messageOf } from '~/core/fault';
import type { ChannelRecord } from '~/core/show/records';
import type { SoundcheckResult, SoundcheckTakes } from '~/core/sound/analysis/soundcheck';
import { useStudio } from '../studio/studio-context';
import { useChannelEdit } from './channel-edit';
import { MeterTrack } from './meter-track';
import { useTranslation } from '../words/words';

const STEPS = [
  {
    take: 'quiet',
    title: 'Be silent',
    seconds: 7,
    text: 'Hands off the keyboard, fan and all as it will be tonight.',
  },
  {
    take: 'talk',
    title: 'Talk as you do',
    seconds: 10,
    text: 'Greet your viewers and say what is on. Keep talking until the bar is full.',
  },
  {
    take: 'shout',
    title: 'Be as loud as you get',
    seconds: 4,
    text: 'The best moment of the evening: cheer.',
  },
] as const;

type Stage =
  | { at: 'ready' | 'counting' | 'recording'; step: number }
  | { at: 'thinking' }
  | { at: 'done'; result: SoundcheckResult };

/** Half a minute that sets a microphone up: silence, talk, a shout. */
export function SoundcheckDialog({
  channel,
  targetLufs,
  onClose,
}: {
  channel: ChannelRecord;
  targetLufs: number;
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const { edit } = useChannelEdit(channel);
  const [stage, setStage] = useState<Stage>({ at: 'ready', step: 0 });
  const [progress, setProgress] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  const [run, setRun] = useState(0);
  const abort = useRef<AbortController | null>(null);
  useEffect(() => () => abort.current?.abort(), []);

  const begin = async () => {
    const controller = new AbortController();
    abort.current?.abort();
    abort.current = controller;
    setProblem(null);
    try {
      const takes: SoundcheckTakes = {
        quiet: new Float32Array(0),
        talk: new Float32Array(0),
        shout: new Float32Array(0),
      };
      for (const [step, { take, seconds }] of STEPS.entries()) {
        setProgress(0);
        setStage({ at: 'counting', step });
        // Time to read what to do, and for the hand to leave the mouse.
        await new Promise((resolve) => setTimeout(resolve, 1800));
        if (controller.signal.aborted) return;
        setStage({ at: 'recording', step });
        takes[take] = await desk.listener.recordRaw(seconds, setProgress, controller.signal);
      }
      setStage({ at: 'thinking' });
      const result = await desk.listener.soundcheck(takes, targetLufs);
      if (!controller.signal.aborted) setStage({ at: 'done', result });
    } catch (error) {
      if (controller.signal.aborted) return;
      setProblem(messageOf(error));
      setStage({ at: 'ready', step: 0 });
    }
  };
  const again = () => {
    setRun(run + 1);
    void begin();
  };
  const step =
    stage.at === 'counting' || stage.at === 'recording' || stage.at === 'ready' ? STEPS[stage.step] : null;
  const faults = stage.at === 'done' ? stage.result.notes.filter((n) => n.kind === 'fault') : [];
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="soundcheck-title">
      <DialogTitle id="soundcheck-title">{t('sound.soundcheckOf', { name: channel.name })}</DialogTitle>
      <DialogContent>
        {step && (
          <>
            <ol className="steps" aria-label={t('sound.steps')}>
              {STEPS.map((s, i) => (
                <li key={s.take} aria-current={stage.at !== 'ready' && s === step ? 'step' : undefined}>
                  {i + 1} {s.title} <span className="figure">{s.seconds} s</span>
                </li>
              ))}
            </ol>
            <div aria-live="polite" style={{ minHeight: 84 }}>
              <h3 className="big">
                {stage.at === 'ready'
                  ? t('sound.halfAMinuteThreeParts')
                  : stage.at === 'counting'
                    ? `${step.title} …`
                    : step.title}
              </h3>
              <p className="hint">{stage.at === 'ready' ? t('sound.itListensToTheMicrophone') : step.text}</p>
              {problem && <p style={{ color: 'var(--rose)' }}>{problem}</p>}
            </div>
            <LinearProgress
              variant="determinate"
              value={stage.at === 'recording' ? progress * 100 : 0}
              aria-label={t('sound.progress')}
            />
            <div style={{ marginTop: 12 }}>
              <MeterTrack
                name={channel.name}
                read={() => desk.readMeter(channel.id)}
                gainDb={0}
                muted={false}
              />
            </div>
          </>
        )}
        {stage.at === 'thinking' && (
          <div style={{ minHeight: 150 }}>
            <p className="hint">{t('sound.tryingTheSettingsOnWhat')}</p>
            <LinearProgress aria-label={t('sound.working')} />
          </div>
        )}
        {stage.at === 'done' && (
          <>
            {faults.length === 0 && (
              <p className="big" data-testid="soundcheck-result">
                {t('sound.fromTo', {
                  from: lufs(stage.result.talkLufs),
                  to: lufs(stage.result.resultLufs),
                })}
              </p>
            )}
            <ul className="notes">
              {stage.result.notes
                .filter((n) => faults.length === 0 || n.kind !== 'step')
                .map((note) => (
                  <li key={note.title} data-kind={note.kind}>
                    <b>{note.title}</b> {note.text}
                  </li>
                ))}
            </ul>
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{stage.at === 'done' ? t('sound.discard') : t('sound.cancel')}</Button>
        {stage.at === 'ready' && (
          <Button variant="contained" onClick={() => void begin()}>
            {t('sound.begin')}
          </Button>
        )}
        {stage.at === 'done' && <Button onClick={again}>{t('sound.doItAgain')}</Button>}
        {stage.at === 'done' && faults.length === 0 && (
          <Button
            variant="contained"
            onClick={() => {
              edit(t('sound.soundcheck'), {
                trimDb: stage.result.trimDb,
                chain: stage.result.chain,
                gainDb: 0,
              });
              onClose();
            }}
          >
            {t('sound.apply')}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

function lufs(value: number): string {
  return Number.isFinite(value) ? withMinus(value.toFixed(1)) : '—';
}
