import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useRef, useState } from 'react';
import {
  carriesPlan,
  encodersOf,
  measuredRows,
  type ComputerMeasure,
} from '~/core/delivery/computer-measure';
import { messageOf } from '~/core/fault';
import type { PlanRecord } from '~/core/show/records';
import { Toggle } from '../studio/toggle';
import { useDesk, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { keepMeasure, useKeptMeasure } from './kept-measure';
import { measureComputer } from './measure-computer';

const DATE = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const MARKS = { room: '●', tight: '▲', no: '◆' } as const;

/** *This computer*: what it carries with these scenes, at each size, rate and encoder, and what is left of it. */
export function ComputerDialog({ plan, onClose }: { plan: PlanRecord; onClose: () => void }) {
  const { desk, say } = useStudio();
  const { t } = useTranslation();
  const live = useDesk((now) => now.live);
  const measure = useKeptMeasure();
  const [tall, setTall] = useState(Boolean(plan.frames.tall));
  const [progress, setProgress] = useState<number | null>(null);
  const [problem, setProblem] = useState('');
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const run = async () => {
    const mine = (stop.current = new AbortController());
    setProblem('');
    setProgress(0);
    try {
      const found = await measureComputer(desk, 'whole', mine.signal, setProgress);
      if (!found) setProblem(t('carries.failed', { why: t('carries.nothing') }));
      else {
        keepMeasure(found);
        say(t('carries.measuredAt', { date: DATE.format(found.atMs), count: found.cores }));
      }
    } catch (error) {
      if (!mine.signal.aborted) setProblem(t('carries.failed', { why: messageOf(error) }));
    } finally {
      if (!mine.signal.aborted) setProgress(null);
    }
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>{t('carries.title')}</DialogTitle>
      <DialogContent className="carries">
        <p className="hint">
          {t('carries.hint')} {live && t('carries.whileLive')}
        </p>
        {problem && (
          <p role="alert" style={{ color: 'var(--rose)' }}>
            {problem}
          </p>
        )}
        <div className="carries-progress">
          {progress !== null && (
            <LinearProgress
              aria-label={t('carries.measuring')}
              variant="determinate"
              value={progress * 100}
            />
          )}
        </div>
        {measure && <Measured measure={measure} plan={plan} tall={tall} onTall={setTall} />}
      </DialogContent>
      <DialogActions>
        {measure && (
          <Button
            component="a"
            download={t('carries.fileName')}
            href={`data:application/json,${encodeURIComponent(JSON.stringify(measure, null, 2))}`}
          >
            {t('carries.save')}
          </Button>
        )}
        <Button onClick={onClose}>{t('carries.close')}</Button>
        <Button variant="contained" disabled={live || progress !== null} onClick={() => void run()}>
          {t(progress !== null ? 'carries.measuring' : measure ? 'carries.again' : 'carries.measure')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Measured({
  measure,
  plan,
  tall,
  onTall,
}: {
  measure: ComputerMeasure;
  plan: PlanRecord;
  tall: boolean;
  onTall: (tall: boolean) => void;
}) {
  const { t } = useTranslation();
  const rows = measuredRows(measure, tall);
  const columns = rows[0]?.cells ?? [];
  const { left } = carriesPlan(measure, plan);
  return (
    <>
      <Toggle label={t('carries.withTall')} on={tall} onChange={onTall} />
      <table>
        <thead>
          <tr>
            <th scope="col">{t('carries.size')}</th>
            {columns.map(({ fps, encoder }) => (
              <th key={`${fps} ${encoder}`} scope="col">
                {t('carries.rate', { fps, encoder: t(`carries.encoders.${encoder}`) })}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ width, height, cells }) => (
            <tr key={width}>
              <th scope="row" className="figure">
                {width} × {height}
              </th>
              {cells.map(({ fps, encoder, carried }) => (
                <td key={`${fps} ${encoder}`} data-verdict={carried.verdict}>
                  <span aria-hidden>{MARKS[carried.verdict]}</span> {t(`carries.verdicts.${carried.verdict}`)}
                  <small className="figure">
                    {t('carries.share', { percent: Math.round(carried.share * 100) })}
                  </small>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p>{t('carries.left', { percent: Math.round(left * 100) })}</p>
      <p className="hint">
        {t('carries.measuredAt', { date: DATE.format(measure.atMs), count: measure.cores })}
        {!encodersOf(measure).includes('gpu') && `. ${t('carries.noChip')}`}
      </p>
    </>
  );
}
