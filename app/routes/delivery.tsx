import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { recordsOf } from '~/core/show/document';
import type { PlanRecord } from '~/core/show/records';
import { DestinationRow } from '../delivery/destination-row';
import { FlowDrawing } from '../delivery/flow-drawing';
import { NumberField } from '../studio/number-field';
import { Panel } from '../studio/panel';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';

const SIZES = [
  [640, 360],
  [854, 480],
  [960, 540],
  [1280, 720],
  [1920, 1080],
] as const;
const RATES = [24, 25, 29.97, 30, 50, 59.94, 60] as const;

export default function Delivery() {
  const { store, showId, data } = useStudio();
  const document = useDocument();
  const { relay, broadcast } = useBus();
  const destinations = recordsOf(document, 'destination');
  const plan = recordsOf(document, 'plan')[0];
  const frame = recordsOf(document, 'show')[0].frames.wide;
  const statuses = relay?.session?.destinations ?? [];
  const add = () =>
    store.edit('Add destination', [
      {
        kind: 'destination',
        id: crypto.randomUUID(),
        showId,
        name: `Destination ${destinations.length + 1}`,
        position: (destinations.at(-1)?.position ?? -1) + 1,
        url: 'rtmp://127.0.0.1/live',
        enabled: false,
        standIn: null,
      },
    ]);
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1.25fr) minmax(0, 1fr)',
        gap: 12,
        height: '100%',
      }}
    >
      <div style={{ display: 'grid', gridTemplateRows: 'minmax(0, 1fr) auto', gap: 12, minHeight: 0 }}>
        <Panel
          title={plan?.name}
          label="Flow"
          style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)' }}
        >
          {plan && (
            <FlowDrawing
              plan={plan}
              frame={frame}
              destinations={destinations.filter((d) => d.enabled)}
              statuses={statuses}
            />
          )}
        </Panel>
        {plan && <PlanPanel plan={plan} live={broadcast.state !== 'off'} />}
      </div>
      <Panel
        title="Destinations"
        label="Destinations"
        aside={
          <Button startIcon={<AddRounded />} onClick={add} sx={{ color: 'var(--glacier)' }}>
            Add destination
          </Button>
        }
      >
        {broadcast.state === 'relayGone' && (
          <p role="alert" style={{ color: 'var(--rose)', marginTop: 0 }}>
            {broadcast.message}
          </p>
        )}
        {destinations.length === 0 && (
          <p style={{ color: 'var(--quiet)', lineHeight: 1.5 }}>
            Where the broadcast goes: a platform's ingest address and your key. Add one to begin.
          </p>
        )}
        {destinations.map((destination) => (
          <DestinationRow
            key={destination.id}
            destination={destination}
            status={statuses.find((s) => s.id === destination.id) ?? null}
            hasKey={data.destinationsWithKey.includes(destination.id)}
          />
        ))}
      </Panel>
    </div>
  );
}

function PlanPanel({ plan, live }: { plan: PlanRecord; live: boolean }) {
  const { store } = useStudio();
  const { stage } = useDesk();
  const set = (change: Partial<PlanRecord>) => store.edit('Delivery plan', [{ ...plan, ...change }]);
  const bitsPerPixel = (plan.videoKbps * 1000) / (plan.width * plan.height * plan.fps);
  const judgement =
    bitsPerPixel < 0.05
      ? 'too thin: take a smaller size or more bits'
      : bitsPerPixel < 0.08
        ? 'fine for talk, thin for a fast game'
        : bitsPerPixel < 0.2
          ? 'good'
          : 'more than needed';
  const sizes = SIZES.some(([w, h]) => w === plan.width && h === plan.height)
    ? SIZES
    : [...SIZES, [plan.width, plan.height] as const];
  const governor = stage?.encoding?.governor ?? null;
  return (
    <Panel
      title="Plan: one encode for all"
      label="Plan"
      aside={
        live ? (
          <span style={{ color: 'var(--larch)', fontSize: 12.5 }}>changes count from the next broadcast</span>
        ) : undefined
      }
    >
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 10 }}>
        <TextField
          select
          label="Picture size"
          value={`${plan.width}x${plan.height}`}
          onChange={(e) => {
            const [width, height] = e.target.value.split('x').map(Number);
            set({ width, height });
          }}
        >
          {sizes.map(([w, h]) => (
            <MenuItem key={`${w}x${h}`} value={`${w}x${h}`}>
              {w} × {h}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Pictures a second"
          value={plan.fps}
          onChange={(e) => set({ fps: Number(e.target.value) })}
        >
          {RATES.map((fps) => (
            <MenuItem key={fps} value={fps}>
              {fps}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Sound, AAC stereo"
          value={plan.audioKbps}
          onChange={(e) => set({ audioKbps: Number(e.target.value) })}
        >
          {[64, 96, 128, 160, 192, 256, 320].map((kbps) => (
            <MenuItem key={kbps} value={kbps}>
              {kbps} kbps
            </MenuItem>
          ))}
        </TextField>
        <NumberField
          label="Picture"
          unit="kbps"
          value={plan.videoKbps}
          min={100}
          max={50_000}
          step={100}
          onCommit={(videoKbps) => set({ videoKbps })}
        />
        <NumberField
          label="Keyframe every"
          unit="s"
          digits={1}
          value={plan.keyframeSeconds}
          min={0.5}
          max={10}
          step={0.5}
          onCommit={(keyframeSeconds) => set({ keyframeSeconds })}
        />
      </div>
      <div
        style={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 10, marginTop: 16 }}
      >
        <Fact title="Picture quality" figure={`${bitsPerPixel.toFixed(3)} bits a pixel`} words={judgement} />
        <Fact
          title="Viewers need"
          figure={`${((plan.videoKbps + plan.audioKbps) / 1000).toFixed(1)} Mb/s`}
          words={
            plan.keyframeSeconds === 2
              ? 'keyframe every 2 s, as platforms ask'
              : 'most platforms ask for a keyframe every 2 s'
          }
        />
        {governor ? (
          <Fact
            title="Really sent"
            figure={`${Math.round(governor.meanKbps)} kbps`}
            words={`worst 2 s ${Math.round(governor.worstKbps)}, ${governor.softened} pictures softened, ${governor.leftOut} left out`}
          />
        ) : (
          <Fact
            title="Composition"
            figure={`${stage?.fps ?? 0} fps`}
            words={`${(stage?.composeMs ?? 0).toFixed(1)} ms a picture here`}
          />
        )}
      </div>
    </Panel>
  );
}

function Fact({ title, figure, words }: { title: string; figure: string; words: string }) {
  return (
    <div>
      <div style={{ color: 'var(--quiet)', fontSize: 12.5 }}>{title}</div>
      <div style={{ font: '700 18px "Bricolage Grotesque Variable"', margin: '3px 0', whiteSpace: 'nowrap' }}>
        {figure}
      </div>
      <div style={{ color: 'var(--quiet)', fontSize: 12.5, lineHeight: 1.4 }}>{words}</div>
    </div>
  );
}
