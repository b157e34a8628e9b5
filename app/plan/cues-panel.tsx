import AddRounded from '@mui/icons-material/AddRounded';
import ArrowUpwardRounded from '@mui/icons-material/ArrowUpwardRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import PlayArrowRounded from '@mui/icons-material/PlayArrowRounded';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { cueCircle } from '~/core/commands/cues';
import { recordsOf } from '~/core/show/document';
import type { CueRecord, CueStep } from '~/core/show/rundown-records';
import { newPress, PressFields } from '../commands/press-fields';
import { pressWords } from '../commands/press-words';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { SmallButton } from '../studio/small-button';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** Cues: actions in order, with waits between them. */
export function CuesPanel() {
  const { store, showId } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const cues = recordsOf(document, 'cue');
  return (
    <div className="plan-fields">
      <p className="hint">{t('plan.cuesHint')}</p>
      {cues.map((cue) => (
        <Cue key={cue.id} cue={cue} />
      ))}
      <div className="plan-head">
        <Button
          startIcon={<AddRounded />}
          onClick={() =>
            store.edit('Add cue', [
              {
                kind: 'cue',
                id: crypto.randomUUID(),
                showId,
                name: t('plan.newCue'),
                position: (cues.at(-1)?.position ?? -1) + 1,
                steps: [{ type: 'press', press: newPress(document, 'marker') }],
              },
            ])
          }
        >
          {t('plan.addCue')}
        </Button>
      </div>
    </div>
  );
}

function Cue({ cue }: { cue: CueRecord }) {
  const { store, control, say } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const [open, setOpen] = useState<number | null>(null);
  const set = (steps: CueStep[]) => {
    const next = { ...cue, steps };
    const circle = cueCircle(document, next);
    if (circle) return say(t('plan.cueCircle', { names: circle.join(' → ') }));
    store.edit(`Steps of ${cue.name}`, [next]);
  };
  const put = (at: number, step: CueStep) => set(cue.steps.map((one, i) => (i === at ? step : one)));
  const run = () =>
    void control
      .press({ command: 'cue', params: { cueId: cue.id } }, 'page')
      .then((problem) => problem && say(problem));
  return (
    <section aria-label={cue.name} className="cue">
      <div className="press-line">
        <CommitField
          label={t('plan.cueName')}
          value={cue.name}
          onCommit={(name) => store.edit('Name of a cue', [{ ...cue, name }])}
        />
        <SmallButton label={t('plan.runCue', { name: cue.name })} onClick={run}>
          <PlayArrowRounded />
        </SmallButton>
        <SmallButton
          label={t('plan.removeCue', { name: cue.name })}
          onClick={() => store.edit(`Remove ${cue.name}`, [], [cue.id])}
        >
          <CloseRounded />
        </SmallButton>
      </div>
      <ol className="cue-steps">
        {cue.steps.map((step, i) => (
          <li key={i} className="press-row">
            <div className="press-line">
              {step.type === 'wait' ? (
                <NumberField
                  label={t('plan.wait')}
                  unit="s"
                  digits={1}
                  step={0.5}
                  min={0}
                  max={3600}
                  value={step.seconds}
                  onCommit={(seconds) => put(i, { type: 'wait', seconds })}
                />
              ) : (
                <button
                  type="button"
                  className="press-name"
                  aria-expanded={open === i}
                  onClick={() => setOpen(open === i ? null : i)}
                >
                  {step.type === 'press'
                    ? pressWords(step.press, document)
                    : (document.get(step.cueId)?.name ?? t('params.gone'))}
                </button>
              )}
              <SmallButton
                label={t('plan.moveStepUp', { n: i + 1 })}
                disabled={i === 0}
                onClick={() => {
                  const steps = [...cue.steps];
                  [steps[i - 1], steps[i]] = [steps[i], steps[i - 1]];
                  set(steps);
                }}
              >
                <ArrowUpwardRounded />
              </SmallButton>
              <SmallButton
                label={t('plan.removeStep', { n: i + 1 })}
                onClick={() => set(cue.steps.filter((_, at) => at !== i))}
              >
                <CloseRounded />
              </SmallButton>
            </div>
            {open === i && step.type === 'press' && (
              <PressFields press={step.press} onChange={(press) => put(i, { type: 'press', press })} />
            )}
          </li>
        ))}
      </ol>
      <div className="plan-head">
        <Button
          disabled={cue.steps.length >= 100}
          onClick={() => {
            set([...cue.steps, { type: 'press', press: newPress(document, 'marker') }]);
            setOpen(cue.steps.length);
          }}
        >
          {t('plan.addStep')}
        </Button>
        <Button
          disabled={cue.steps.length >= 100}
          onClick={() => set([...cue.steps, { type: 'wait', seconds: 2 }])}
        >
          {t('plan.addWait')}
        </Button>
      </div>
    </section>
  );
}
