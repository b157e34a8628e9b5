import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useRef, useState } from 'react';
import type { Encode } from '~/core/delivery/encodes';
import { sizesOf } from '~/core/delivery/propose-plan';
import { recordsOf } from '~/core/show/document';
import type { PlanRecord } from '~/core/show/records';
import { encodePlans } from '~/engine/encode/encode-plans';
import type { FromTrial, ToTrial, TrialResult, TrialWay } from '~/protocol/engine';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** Pictures that are tried: a second and a half. */
const PICTURES = 45;

interface Candidate extends TrialWay {
  width: number;
  height: number;
}

/** Measures, on what is on air now, what each way of encoding costs here and gives; one can be taken. */
export function TrialDialog({
  plan,
  encodes,
  onClose,
}: {
  plan: PlanRecord;
  encodes: readonly Encode[];
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const { desk, store } = useStudio();
  const live = useDesk((now) => now.live);
  const document = useDocument();
  const [results, setResults] = useState<readonly TrialResult[]>([]);
  const [ways, setWays] = useState<readonly Candidate[]>([]);
  const [state, setState] = useState<'ready' | 'running' | 'done'>('ready');
  const [problem, setProblem] = useState('');
  const worker = useRef<Worker | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);
  const main = encodes[0];
  const run = async () => {
    setState('running');
    setResults([]);
    setProblem('');
    try {
      const frame = recordsOf(document, 'show')[0].frames[main.frame];
      const smaller = sizesOf(frame).find((size) => size.width < main.width);
      const sizes = [{ width: main.width, height: main.height }, ...(smaller ? [smaller] : [])];
      const made: Candidate[] = [];
      for (const size of sizes)
        for (const effort of ['quick', 'careful'] as const) {
          const anywhere = { ...plan, effort, encoder: 'any' as const };
          const [{ plan: of }] = await encodePlans(anywhere, [{ ...main, ...size }]);
          for (const encoder of ['cpu', 'gpu'] as const)
            made.push({
              name: `${size.width} × ${size.height}, ${effort === 'quick' ? 'Fast' : 'Quality'}, ${encoder === 'cpu' ? 'CPU' : 'GPU'}`,
              plan: { ...of, encoder },
              ...size,
            });
        }
      setWays(made);
      worker.current?.terminate();
      const trial = new Worker(new URL('../../engine/encode/trial.worker.ts', import.meta.url), {
        type: 'module',
        name: 'trial',
      });
      worker.current = trial;
      trial.onmessage = ({ data }: MessageEvent<FromTrial>) => {
        setResults(data.results);
        if (data.done) setState('done');
      };
      const port = desk.tap(main.frame, PICTURES);
      trial.postMessage({ ways: made, port } satisfies ToTrial, [port]);
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
      setState('ready');
    }
  };
  const budget = 1000 / plan.fps;
  const usable = results.filter((r) => r.problem === '');
  const good = usable.filter((r) => r.msPerPicture < budget * 0.6);
  const best = good.reduce<TrialResult | null>((a, b) => (!a || b.psnrDb > a.psnrDb ? b : a), null);
  const take = (result: TrialResult) => {
    const way = ways.find((w) => w.name === result.name);
    if (!way) return;
    store.edit(t('delivery.encoderOfThePlan'), [
      {
        ...plan,
        effort: way.plan.effort,
        encoder: way.plan.encoder,
        frames: {
          ...plan.frames,
          [main.frame]: { ...plan.frames[main.frame]!, width: way.width, height: way.height },
        },
      },
    ]);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>{t('delivery.compareEncoders')}</DialogTitle>
      <DialogContent>
        <p style={{ color: 'var(--quiet)', margin: '0 0 12px', lineHeight: 1.45 }}>
          Encodes a second and a half of what is on air now at {main?.videoKbps ?? 0} kbps in each way, reads
          it again and compares. {live ? 'A broadcast is on: this would disturb it.' : ''}
        </p>
        {problem && <p style={{ color: 'var(--rose)' }}>{problem}</p>}
        {state === 'running' && (
          <LinearProgress
            aria-label={t('delivery.trying')}
            variant="determinate"
            value={ways.length === 0 ? 0 : (100 * results.length) / ways.length}
          />
        )}
        {usable.length > 0 && (
          <table style={{ width: '100%', borderCollapse: 'collapse', fontSize: 13.5, marginTop: 10 }}>
            <thead>
              <tr style={{ color: 'var(--quiet)', textAlign: 'left' }}>
                <th scope="col">{t('delivery.encoder')}</th>
                <th scope="col">{t('delivery.timePerFrame')}</th>
                <th scope="col">{t('delivery.bitrate')}</th>
                <th scope="col">{t('delivery.qualityPsnr')}</th>
                <th scope="col">
                  <span className="visually-hidden">{t('delivery.use')}</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {usable.map((r) => (
                <tr key={r.name} style={{ borderTop: '1px solid var(--line)', height: 40 }}>
                  <td>
                    {r.name}
                    {r === best && <b style={{ color: 'var(--moss)' }}> {t('delivery.bestHere')}</b>}
                  </td>
                  <td
                    className="figure"
                    style={{ color: r.msPerPicture > budget ? 'var(--rose)' : undefined }}
                  >
                    {r.msPerPicture.toFixed(1)} of {budget.toFixed(0)} ms
                  </td>
                  <td className="figure">{Math.round(r.kbps)} kbps</td>
                  <td>
                    <span className="figure">{r.psnrDb.toFixed(1)} dB</span>, {likeness(r.psnrDb)}
                  </td>
                  <td style={{ textAlign: 'right' }}>
                    <Button onClick={() => take(r)} aria-label={t('delivery.useName', { name: r.name })}>
                      {t('delivery.use')}
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {results.length > usable.length && (
          <p style={{ color: 'var(--quiet)', fontSize: 13 }}>
            {[
              ...new Set(
                results.filter((r) => r.problem).map((r) => `${r.name.split(', ').at(-1)}: ${r.problem}`),
              ),
            ].join('; ')}
          </p>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('delivery.close')}</Button>
        <Button
          variant="contained"
          onClick={() => void run()}
          disabled={state === 'running' || live || !main}
        >
          {state === 'done' ? t('delivery.tryAgain') : t('delivery.tryNow')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** What a signal-to-noise ratio looks like. */
function likeness(db: number): string {
  if (db >= 42) return 'hardly told apart';
  if (db >= 37) return 'good';
  return db >= 32 ? 'fair' : 'poor';
}
