import { withMinus } from '~/core/format/numbers';
import MoreHorizRounded from '@mui/icons-material/MoreHorizRounded';
import MenuItem from '@mui/material/MenuItem';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { ChannelRecord } from '~/core/show/records';
import { autoMakeUpDb } from '~/core/sound/chain/compressor';
import {
  PARAMETERS,
  PROCESSOR_NAMES,
  type ParameterRange,
  type Processor,
  type ProcessorOf,
} from '~/core/sound/chain/chain-settings';
import type { ProcessorReading } from '~/protocol/shared-sound';
import { useStudio } from '../studio/studio-context';
import { ActionMenu } from './action-menu';
import {
  DRAWING_HEIGHT,
  drawCompressor,
  drawDeEsser,
  drawDeHum,
  drawEqualiser,
  drawExpander,
  drawGate,
  drawLimiter,
  drawSpectrum,
  drawSpectrumLine,
  HISTORY,
} from './chain-drawings';
import { useChannelEdit, withProcessor } from './channel-edit';
import { BandFields, BandHandles } from './equaliser-bands';
import { LiveCanvas, type LiveDrawing } from './live-canvas';
import { LiveSpectrum } from './live-spectrum';
import { ParameterSlider } from './parameter-slider';
import { useTranslation } from '../words/words';

/** What a card says under its drawing. */
function readingText(processor: Processor, reading: ProcessorReading): string {
  const down = Math.max(0, -reading.gainDb);
  switch (processor.type) {
    case 'noise':
      return `${down < 1 ? 'nothing to do' : `−${down.toFixed(0)} dB now`} · 20 ms`;
    case 'gate':
      return `${reading.gainDb > -3 ? 'open' : 'closed'} · open ${Math.round(reading.state * 100)}% lately`;
    case 'expander':
    case 'compressor':
    case 'deesser':
      return down < 0.1 ? 'not reducing now' : `reducing ${down.toFixed(1)} dB now`;
    case 'equaliser': {
      const on = processor.bands.filter((b) => b.on);
      const most = on.reduce((m, b) => (Math.abs(b.gainDb) > Math.abs(m) ? b.gainDb : m), 0);
      return `${on.length} bands, most ${withMinus(most.toFixed(1))} dB`;
    }
    case 'dehum':
      return `${Math.round(processor.values.harmonics)} lines from ${processor.values.frequencyHz.toFixed(0)} Hz`;
    case 'limiter':
      return `${down < 0.1 ? 'not working now' : `reducing ${down.toFixed(1)} dB now`} · 5 ms`;
  }
}

/** One processor: on or off, its place, its drawing over the live signal, its values. */
export function ChainCard({
  channel,
  processor,
  index,
}: {
  channel: ChannelRecord;
  processor: Processor;
  index: number;
}) {
  const { t } = useTranslation();
  const { edit, preview, commit } = useChannelEdit(channel);
  const { chain } = channel;
  const [band, setBand] = useState(0);
  const name = PROCESSOR_NAMES[processor.type];
  const move = (by: number) => {
    const processors = chain.processors.filter((p) => p.id !== processor.id);
    processors.splice(index + by, 0, processor);
    edit(t('sound.orderOfName', { name }), { chain: { ...chain, processors } });
  };
  const working = processor.on && !chain.bypassed;
  const onPreview = (p: Processor) => preview({ chain: withProcessor(chain, p) });
  const onCommit = (p: Processor, what = name) => commit(what, { chain: withProcessor(chain, p) });
  const ranges = Object.entries(PARAMETERS[processor.type]) as [string, ParameterRange][];
  const values = processor.values as Record<string, number>;
  const put = (key: string, value: number) =>
    ({ ...processor, values: { ...values, [key]: value } }) as unknown as Processor;
  const title = `${index + 1} ${name}`;
  const bands = processor.type === 'equaliser' && {
    processor,
    onPreview,
    onCommit,
    chosen: band,
    onChoose: setBand,
  };
  return (
    <section className="chain-card" aria-label={title} data-off={!working}>
      <div className="chain-head">
        <h3 title={name}>{title}</h3>
        <ActionMenu
          label={t('sound.moreForName', { name })}
          words={<MoreHorizRounded sx={{ fontSize: 18, verticalAlign: 'middle' }} />}
          className="small-button"
        >
          {(close) => {
            const item = (words: string, disabled: boolean, act: () => void) => (
              <MenuItem
                key={words}
                disabled={disabled}
                onClick={() => {
                  close();
                  act();
                }}
              >
                {words}
              </MenuItem>
            );
            return [
              item('One place earlier', index === 0, () => move(-1)),
              item('One place later', index === chain.processors.length - 1, () => move(1)),
              item('Remove', false, () =>
                edit(t('sound.removeName', { name }), {
                  chain: { ...chain, processors: chain.processors.filter((p) => p.id !== processor.id) },
                }),
              ),
            ];
          }}
        </ActionMenu>
        <button
          type="button"
          className="chip"
          aria-pressed={processor.on}
          aria-label={t('sound.nameOn', { name })}
          style={{ width: 40, color: processor.on ? 'var(--moss)' : 'var(--quiet)' }}
          onClick={() =>
            edit(processor.on ? t('sound.bypassName', { name }) : t('sound.useName', { name }), {
              chain: withProcessor(chain, { ...processor, on: !processor.on }),
            })
          }
        >
          {processor.on ? t('sound.on') : t('sound.off')}
        </button>
      </div>
      <div className="chain-body">
        <div className="chain-drawing">
          <Drawing processor={processor} index={index} />
          {bands && <BandHandles {...bands} />}
        </div>
        <Reading processor={processor} index={index} />
        {bands && <BandFields {...bands} />}
        {ranges.map(([key, range]) => (
          <ParameterSlider
            key={key}
            of={name}
            range={range}
            value={
              processor.type === 'compressor' && key === 'makeUpDb' && processor.autoMakeUp
                ? autoMakeUpDb(processor.values)
                : values[key]
            }
            onPreview={(value) => onPreview(put(key, value))}
            onCommit={(value) => onCommit(put(key, value))}
          />
        ))}
        {processor.type === 'compressor' && (
          <button
            type="button"
            className="chip"
            aria-pressed={processor.autoMakeUp}
            onClick={() => onCommit({ ...processor, autoMakeUp: !processor.autoMakeUp })}
          >
            {processor.autoMakeUp ? t('sound.autoMakeUpGainOn') : t('sound.autoMakeUpGainOff')}
          </button>
        )}
      </div>
    </section>
  );
}

function Reading({ processor, index }: { processor: Processor; index: number }) {
  const { desk } = useStudio();
  const [text, setText] = useState('');
  useEffect(() => {
    const timer = setInterval(() => setText(readingText(processor, desk.readProcessor(index))), 250);
    return () => clearInterval(timer);
  }, [desk, processor, index]);
  return <p className="chain-reading figure">{text || ' '}</p>;
}

function Drawing({ processor, index }: { processor: Processor; index: number }) {
  const { desk } = useStudio();
  const history = useRef<ProcessorReading[]>([]);
  const spectra = useMemo(() => ({ raw: new LiveSpectrum(), processed: new LiveSpectrum() }), []);
  const draw = (d: LiveDrawing) => {
    const readings = history.current;
    readings.push(desk.readProcessor(index));
    if (readings.length > HISTORY) readings.shift();
    paint(d, processor, readings, {
      raw: () => spectra.raw.update(desk.probe, 'raw'),
      processed: () => spectra.processed.update(desk.probe, 'processed'),
    });
  };
  return <LiveCanvas height={DRAWING_HEIGHT} draw={draw} />;
}

function paint(
  d: LiveDrawing,
  processor: Processor,
  history: readonly ProcessorReading[],
  spectrum: { raw: () => Float64Array; processed: () => Float64Array },
): void {
  switch (processor.type) {
    case 'noise':
      drawSpectrum(d, spectrum.raw(), d.colour('line'), 1);
      return drawSpectrumLine(d, spectrum.processed(), d.colour('glacier'));
    case 'gate':
      return drawGate(d, processor, history);
    case 'expander':
      return drawExpander(d, processor, history);
    case 'dehum':
      drawSpectrum(d, spectrum.raw(), d.colour('line'), 1);
      return drawDeHum(d, processor);
    case 'deesser':
      return drawDeEsser(d, processor, history);
    case 'compressor':
      return drawCompressor(d, processor, history);
    case 'equaliser':
      drawSpectrum(d, spectrum.processed(), d.colour('line'), 1);
      return drawEqualiser(d, processor as ProcessorOf<'equaliser'>);
    case 'limiter':
      return drawLimiter(d, processor, history);
  }
}
