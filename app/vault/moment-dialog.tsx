import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import Slider from '@mui/material/Slider';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { AudienceEvent } from '~/core/audience/events';
import { messageOf } from '~/core/fault';
import { within, type Size } from '~/core/geometry/rect';
import { documentAt, goneInputs, replayOf, stateAt, type ToldBroadcast } from '~/core/programme/moment';
import { lengthText } from '~/core/rundown/length-text';
import { recordsOf } from '~/core/show/document';
import { FRAME_NAMES, type FrameName } from '~/core/show/records';
import { drawMoment } from '~/engine/moment/draw-moment.client';
import type { Evening } from '~/server/vault/evening-repository';
import { ChoiceRow } from '../studio/choice-row';
import { PICTURE_FONTS } from '../studio/picture-fonts.client';
import { useTranslation } from '../words/words';
import { DATE } from './format';
import { changesOf, momentRows } from './moment-words';

/** A hand that drags has come to rest. */
const REST_MS = 250;
/** Large enough to read a title by. */
const LONG_SIDE_PX = 960;
const JUMP_SECONDS = 10;
/** Of a show that says none. */
const USUAL_FRAME = { width: 1920, height: 1080 };

async function ask<T>(url: string, signal: AbortSignal): Promise<T> {
  const response = await fetch(url, { signal });
  const body = (await response.json()) as T & { message?: string };
  if (!response.ok) throw new Error(body.message ?? String(response.status));
  return body;
}

/** Any moment of a broadcast: how it stood, and what was to be seen. */
export function MomentDialog({ evening, onClose }: { evening: Evening; onClose: () => void }) {
  const { t } = useTranslation();
  const [told, setTold] = useState<ToldBroadcast | null>(null);
  const [problem, setProblem] = useState('');
  const url = `/show/${evening.showId}/moments/${evening.id}`;
  useEffect(() => {
    const gone = new AbortController();
    ask<ToldBroadcast>(url, gone.signal).then(setTold, (error: unknown) => {
      if (!gone.signal.aborted) setProblem(messageOf(error));
    });
    return () => gone.abort();
  }, [url]);
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth aria-labelledby="moment-title">
      <DialogTitle id="moment-title">
        {t('moments.title', { date: DATE.format(evening.startedMs) })}
      </DialogTitle>
      <DialogContent className="moment">
        {problem !== '' && (
          <p role="alert" className="trouble">
            {t('moments.failed', { why: problem })}
          </p>
        )}
        {told === null && problem === '' && <p className="hint">{t('moments.asking')}</p>}
        {told && <Moments told={told} url={url} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('moments.close')}</Button>
      </DialogActions>
    </Dialog>
  );
}

function Moments({ told, url }: { told: ToldBroadcast; url: string }) {
  const { t } = useTranslation();
  const [openedMs] = useState(() => Date.now());
  const length = Math.max(1, Math.floor(((told.endedMs ?? openedMs) - told.startedMs) / 1000));
  const changes = useMemo(() => changesOf(told), [told]);
  const [seconds, setSeconds] = useState(0);
  const [frame, setFrame] = useState<FrameName | null>(null);
  // From the end of the second on what was done in it is seen.
  const atMs = Math.min(told.startedMs + seconds * 1000 + 999, told.endedMs ?? Infinity);
  const document = useMemo(() => documentAt(told, atMs), [told, atMs]);
  const state = stateAt(told, atMs);
  const show = recordsOf(document, 'show')[0];
  const used = FRAME_NAMES.filter((name) => show?.frames[name].used);
  const shown = frame !== null && used.includes(frame) ? frame : (used[0] ?? 'wide');
  const before = changes.findLast((at) => at < seconds);
  const after = changes.find((at) => at > seconds);
  const gone = state.onAir ? goneInputs(document, state.onAir.sceneId) : [];
  const edits = told.edits.filter((edit) => edit.atMs <= atMs).length;
  return (
    <div className="moment-all">
      <div className="moment-way">
        <Button disabled={before === undefined} onClick={() => setSeconds(before ?? 0)}>
          {t('moments.previous')}
        </Button>
        <Slider
          aria-label={t('moments.at')}
          value={seconds}
          min={0}
          max={length}
          step={1}
          shiftStep={JUMP_SECONDS}
          marks={changes.filter((at) => at <= length).map((value) => ({ value }))}
          getAriaValueText={lengthText}
          onChange={(_, value) => setSeconds(value as number)}
        />
        <Button disabled={after === undefined} onClick={() => setSeconds(after ?? length)}>
          {t('moments.next')}
        </Button>
        <span className="figure moment-time">
          {lengthText(seconds)} / {lengthText(length)}
        </span>
      </div>
      <div className="moment-both">
        <div>
          {used.length > 1 && (
            <ChoiceRow
              label={t('moments.frame')}
              options={used.map((value) => ({ value, words: t(`moments.${value}`) }))}
              value={shown}
              onChange={setFrame}
            />
          )}
          {state.covered && <p className="trouble">{t('moments.covered')}</p>}
          <Picture
            {...{ told, url, atMs }}
            frame={shown}
            whole={show?.frames[shown] ?? USUAL_FRAME}
            time={lengthText(seconds)}
          />
        </div>
        <section aria-label={t('moments.how')}>
          <dl>
            {momentRows({ document, state, startedMs: told.startedMs }, atMs, t).map(([name, value]) => (
              <div key={name}>
                <dt>{name}</dt>
                <dd>{value}</dd>
              </div>
            ))}
          </dl>
          {state.held && <p className="hint">{t('moments.held')}</p>}
          {edits > 0 && <p className="hint">{t('moments.edits', { count: edits })}</p>}
          {gone.length > 0 && <p className="hint">{t('moments.gone', { names: gone.join(', ') })}</p>}
        </section>
      </div>
    </div>
  );
}

function Picture({
  told,
  url,
  atMs,
  frame,
  whole: { width, height },
  time,
}: {
  told: ToldBroadcast;
  url: string;
  atMs: number;
  frame: FrameName;
  /** The frame as the show had it. */
  whole: Size;
  time: string;
}) {
  const { t } = useTranslation();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [drawn, setDrawn] = useState('');
  const [problem, setProblem] = useState('');
  const size = useMemo(() => within({ width, height }, LONG_SIDE_PX), [width, height]);
  const key = `${atMs}/${frame}`;
  useEffect(() => {
    const gone = new AbortController();
    const draw = async () => {
      const { events } = await ask<{ events: AudienceEvent[] }>(`${url}?at=${Math.round(atMs)}`, gone.signal);
      const replay = replayOf(told, events, atMs);
      if (!replay) return setProblem(t('moments.nothing'));
      const made = await drawMoment({ replay, frame, size, fonts: PICTURE_FONTS }, gone.signal);
      if (gone.signal.aborted) return;
      if ('problem' in made) return setProblem(t('moments.notDrawn', { why: made.problem }));
      setProblem('');
      const into = canvas.current!;
      into.width = size.width;
      into.height = size.height;
      into.getContext('2d')!.drawImage(made.picture, 0, 0);
      made.picture.close();
    };
    const timer = setTimeout(() => {
      draw()
        .catch((error: unknown) => {
          if (!gone.signal.aborted) setProblem(t('moments.notDrawn', { why: messageOf(error) }));
        })
        .finally(() => !gone.signal.aborted && setDrawn(key));
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      gone.abort();
    };
  }, [told, url, atMs, frame, size, key, t]);
  return (
    <div className="moment-picture" aria-busy={drawn !== key}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={t('moments.picture', { time })}
        style={{ aspectRatio: `${size.width} / ${size.height}` }}
        data-drawn={drawn === key}
      />
      <div className="moment-wait">
        {drawn !== key && <LinearProgress aria-label={t('moments.drawing')} />}
      </div>
      {problem !== '' && drawn === key && (
        <p role="alert" className="trouble">
          {problem}
        </p>
      )}
    </div>
  );
}
