import Button from '@mui/material/Button';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { carriesPlan, pixelsCarried, type ComputerMeasure } from '~/core/delivery/computer-measure';
import { enabledDestinations, planInUse } from '~/core/delivery/live-plan';
import { mbps } from '~/core/delivery/plan-advice';
import { proposePlan } from '~/core/delivery/propose-plan';
import { findRecord } from '~/core/show/document';
import { FRAME_NAMES } from '~/core/show/records';
import { keepMeasure } from '../delivery/kept-measure';
import { measureComputer } from '../delivery/measure-computer';
import { StartPath, STEPS, type Step } from '../start/start-path';
import { StepAlso } from '../start/step-also';
import { StepMe } from '../start/step-me';
import { StepVoice } from '../start/step-voice';
import { StepWhere } from '../start/step-where';
import { FramePair } from '../studio/frame-pair';
import { Notices } from '../studio/notices';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

/** A picture has come by then, and the studio has opened. */
const MEASURE_AFTER_MS = 4000;
/** Inside one computer nothing limits it; more than this makes no plan better. */
const MOST_LINE_KBPS = 1_000_000;
/** Until the upload is measured. */
const UNKNOWN_LINE_KBPS = 8000;

/** The first minutes of a show: four steps over the running studio, each to be skipped and taken up again. */
export default function Start() {
  const { t } = useTranslation();
  const { data, store, showId } = useStudio();
  const document = useDocument();
  const navigate = useNavigate();
  const [query, setQuery] = useSearchParams();
  const step = STEPS.find((name) => name === query.get('step')) ?? 'me';
  const at = STEPS.indexOf(step);
  const { carried, failed, proposeFor } = useMeasuredPlan();
  const [keys, setKeys] = useState<readonly string[]>(data.destinationsWithKey);
  const destinations = enabledDestinations(document);
  const keyCame = useCallback(
    () => setKeys(enabledDestinations(store.document()).map(({ id }) => id)),
    [store],
  );
  const heading = useRef<HTMLHeadingElement>(null);
  const go = (to: Step) => {
    setQuery({ step: to }, { replace: true });
    heading.current?.focus();
  };
  // Without a destination Delivery says what is missing, and records.
  const finish = () => void navigate(`/show/${showId}/${destinations.length > 0 ? 'air' : 'delivery'}`);
  const next = STEPS[at + 1];
  const show = findRecord(document, 'show', showId)!;
  return (
    <main className="start">
      <header>
        <h1 ref={heading} tabIndex={-1}>
          {t('start.title')}
        </h1>
        <p>{t('start.promise')}</p>
        <span className="figure">{t('start.step', { now: at + 1, all: STEPS.length })}</span>
        <div className="start-notices">
          <Notices />
        </div>
      </header>
      <StartPath now={step} onGo={go} />
      <div className="start-side">
        <div className="start-picture">
          <FramePair subject={{ type: 'onAir' }} label={show.name} gap={10} />
        </div>
        <p className="hint">{t('start.preview')}</p>
        <ComputerPanel carried={carried} failed={failed} />
      </div>
      <section aria-label={t(`start.names.${step}`)} className="start-step">
        {step === 'me' && <StepMe />}
        {step === 'voice' && <StepVoice />}
        {step === 'also' && <StepAlso />}
        {step === 'where' && (
          <StepWhere
            hasKey={destinations.some(({ id }) => keys.includes(id))}
            onKey={keyCame}
            onMeasured={(kbps) => proposeFor(Math.min(MOST_LINE_KBPS, Math.max(1, Math.round(kbps))))}
          />
        )}
      </section>
      <footer>
        {at > 0 && <Button onClick={() => go(STEPS[at - 1])}>{t('start.back')}</Button>}
        <Button component={Link} to={`/show/${showId}/stage`}>
          {t('start.close')}
        </Button>
        <span style={{ flex: 1 }} />
        <Button className="start-next" onClick={next ? () => go(next) : finish}>
          {next
            ? t('start.next', { name: t(`start.names.${next}`) })
            : destinations.length > 0
              ? t('start.finish')
              : t('start.finishWithoutDestination')}
        </Button>
      </footer>
    </main>
  );
}

/** Measures this computer once a picture is there, and keeps the plan at what it and the upload carry. */
function useMeasuredPlan(): {
  carried: ComputerMeasure | null;
  /** It could not be measured here. */
  failed: boolean;
  proposeFor: (lineKbps: number) => void;
} {
  const { desk, store } = useStudio();
  const [carried, setCarried] = useState<ComputerMeasure | null>(null);
  const [failed, setFailed] = useState(false);
  const found = useRef<ComputerMeasure | null>(null);
  const proposeFor = (lineKbps: number | null) => {
    const document = store.document();
    const plan = planInUse(document);
    const show = [...document.values()].find((r) => r.kind === 'show');
    if (!plan || !show) return;
    const used = FRAME_NAMES.filter((frame) => show.frames[frame].used);
    const { plan: proposed } = proposePlan({
      lineKbps: lineKbps ?? plan.lineKbps ?? UNKNOWN_LINE_KBPS,
      headroom: plan.headroom,
      content: plan.content,
      recipients: enabledDestinations(document).filter(({ frame }) => used.includes(frame)),
      frames: Object.fromEntries(used.map((frame) => [frame, show.frames[frame]])),
      pixelsPerSecond: found.current && pixelsCarried(found.current, plan.encoder),
    });
    // What was not measured is not said to be.
    const known = lineKbps ?? plan.lineKbps;
    store.edit('Measured plan', [{ ...plan, ...proposed, lineKbps: known }]);
  };
  const latest = useRef(proposeFor);
  latest.current = proposeFor;
  useEffect(() => {
    const stop = new AbortController();
    const timer = setTimeout(() => {
      measureComputer(desk, 'quick', stop.signal)
        .then((result) => {
          if (stop.signal.aborted) return;
          if (!result) return setFailed(true);
          found.current = result;
          keepMeasure(result);
          setCarried(result);
          latest.current(null);
        })
        // Without it the plan stays one that every computer carries.
        .catch(() => {
          if (!stop.signal.aborted) setFailed(true);
        });
    }, MEASURE_AFTER_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [desk, store]);
  return { carried, failed, proposeFor };
}

function ComputerPanel({ carried, failed }: { carried: ComputerMeasure | null; failed: boolean }) {
  const { t } = useTranslation();
  const document = useDocument();
  const plan = planInUse(document);
  const wide = plan?.frames.wide ?? plan?.frames.tall;
  return (
    <section aria-label={t('start.computer.title')} className="start-computer">
      <h2>{t('start.computer.title')}</h2>
      <dl>
        <dt>{t('start.computer.carries')}</dt>
        <dd className="figure">
          {carried && plan && wide
            ? t(
                plan.frames.wide && plan.frames.tall ? 'start.computer.planWithTall' : 'start.computer.plan',
                {
                  width: wide.width,
                  height: wide.height,
                  fps: plan.fps,
                },
              )
            : t(failed ? 'start.computer.notMeasured' : 'start.computer.measuring')}
        </dd>
        <dt>{t('start.computer.load')}</dt>
        <dd className="figure">
          {carried && plan
            ? t('start.computer.share', { percent: Math.round(carriesPlan(carried, plan).share * 100) })
            : '–'}
        </dd>
        <dt>{t('start.computer.upload')}</dt>
        <dd className="figure">
          {plan?.lineKbps
            ? t('start.computer.uploadIs', { rate: mbps(plan.lineKbps) })
            : t('start.computer.uploadLater')}
        </dd>
      </dl>
    </section>
  );
}
