import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import { useEffect, useRef, useState } from 'react';
import { messageOf } from '~/core/fault';
import type { ChannelRecord } from '~/core/show/records';
import { BAND_CENTRES } from '~/core/sound/analysis/spectrum';
import type { SpectrumMatch } from '~/core/sound/analysis/spectrum-match';
import { MIXER_SAMPLE_RATE } from '~/core/sound/format';
import { useStudio } from '../studio/studio-context';
import { useChannelEdit } from './channel-edit';
import { useTranslation } from '../words/words';

const TALK_SECONDS = 10;
/** The equaliser that a match adds is known by this, so that the next match replaces it. */
const MATCH_ID = 'match-';

/** Brings a voice near the sound of a recording that one likes. */
export function MatchDialog({ channel, onClose }: { channel: ChannelRecord; onClose: () => void }) {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const { edit } = useChannelEdit(channel);
  const [file, setFile] = useState<{ name: string; samples: Float32Array } | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [match, setMatch] = useState<SpectrumMatch | null>(null);
  const abort = useRef<AbortController | null>(null);
  useEffect(() => () => abort.current?.abort(), []);
  const chain = {
    ...channel.chain,
    processors: channel.chain.processors.filter((p) => !p.id.startsWith(MATCH_ID)),
  };

  const choose = async (chosen: File) => {
    setProblem(null);
    setMatch(null);
    try {
      if (chosen.size > 200e6)
        throw new Error(`"${chosen.name}" is larger than 200 MB: a minute of voice is enough.`);
      const buffer = await new OfflineAudioContext(1, 1, MIXER_SAMPLE_RATE)
        .decodeAudioData(await chosen.arrayBuffer())
        .catch(() => {
          throw new Error(`"${chosen.name}" cannot be decoded: bring it in as WAV, MP3, Ogg or FLAC.`);
        });
      const samples = new Float32Array(buffer.length);
      for (let c = 0; c < buffer.numberOfChannels; c++)
        buffer.getChannelData(c).forEach((v, i) => (samples[i] += v / buffer.numberOfChannels));
      setFile({ name: chosen.name, samples });
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const talk = async () => {
    if (!file) return;
    const controller = new AbortController();
    abort.current = controller;
    setProblem(null);
    try {
      const voice = await desk.listener.recordRaw(TALK_SECONDS, setProgress, controller.signal);
      setMatch(await desk.listener.match(file.samples.slice(), voice, { ...channel, chain }));
    } catch (error) {
      if (!controller.signal.aborted) setProblem(messageOf(error));
    } finally {
      setProgress(null);
    }
  };
  const apply = () => {
    if (!match) return;
    const processors = [...chain.processors];
    const equaliser = {
      id: MATCH_ID + crypto.randomUUID().slice(0, 8),
      type: 'equaliser' as const,
      on: true,
      values: {},
      bands: match.bands,
    };
    const end = processors.at(-1)?.type === 'limiter' ? processors.length - 1 : processors.length;
    processors.splice(end, 0, equaliser);
    edit(t('sound.match2'), { chain: { ...chain, processors } });
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="match-title">
      <DialogTitle id="match-title">Match {channel.name} to a recording</DialogTitle>
      <DialogContent>
        <p className="hint">{t('sound.chooseARecordingOfA')}</p>
        <Button component="label" variant={file ? 'text' : 'contained'}>
          {file ? file.name : t('sound.chooseARecording')}
          <input
            type="file"
            hidden
            accept="audio/*,video/*"
            aria-label={t('sound.recordingToMatch')}
            onChange={(e) => e.target.files?.[0] && void choose(e.target.files[0])}
          />
        </Button>
        {file && (
          <Button
            variant={match ? 'text' : 'contained'}
            sx={{ ml: 1 }}
            disabled={progress !== null}
            onClick={() => void talk()}
          >
            {match ? t('sound.talkAgain') : t('sound.talkForTenSeconds')}
          </Button>
        )}
        <div style={{ minHeight: 30, paddingTop: 12 }}>
          {progress !== null && (
            <LinearProgress variant="determinate" value={progress * 100} aria-label={t('sound.progress')} />
          )}
          {problem && <p style={{ color: 'var(--rose)', margin: 0 }}>{problem}</p>}
        </div>
        {match && <Curves match={match} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('sound.cancel')}</Button>
        <Button variant="contained" disabled={!match || match.bands.length === 0} onClick={apply}>
          {t('sound.apply')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Curves({ match }: { match: SpectrumMatch }) {
  const x = scaleLog([100, 10_000], [36, 530]);
  const heard = (levels: readonly number[]) => levels.filter((_, i) => match.used[i]);
  const all = [...heard(match.reference), ...heard(match.before), ...heard(match.after)];
  const y = scaleLinear([Math.min(...all) - 3, Math.max(...all) + 3], [150, 8]);
  const path = (levels: readonly number[]) =>
    line<number>()
      .defined((_, i) => match.used[i])
      .x((_, i) => x(BAND_CENTRES[i]))
      .y((l) => y(l))(levels as number[]) ?? '';
  return (
    <>
      <svg
        viewBox="0 0 540 170"
        role="img"
        aria-label={`Spectrum of the recording and of your voice, before and after: at most ${match.worstDb.toFixed(1)} dB apart after`}
        style={{ width: '100%', background: 'var(--ground)', borderRadius: 8 }}
      >
        {[100, 300, 1000, 3000, 10_000].map((hz) => (
          <text key={hz} x={x(hz)} y={165} textAnchor="middle" fontSize={11} fill="var(--quiet)">
            {hz < 1000 ? hz : `${hz / 1000}k`}
          </text>
        ))}
        <path
          d={path(match.before)}
          fill="none"
          stroke="var(--quiet)"
          strokeWidth={1.5}
          strokeDasharray="3 3"
        />
        <path d={path(match.reference)} fill="none" stroke="var(--larch)" strokeWidth={2} />
        <path d={path(match.after)} fill="none" stroke="var(--glacier)" strokeWidth={2} />
      </svg>
      <p className="hint" data-testid="match-result">
        Larch: the recording. Dotted: you now. Glacier: you after it, at most {match.worstDb.toFixed(1)} dB
        away in any band.
      </p>
    </>
  );
}
