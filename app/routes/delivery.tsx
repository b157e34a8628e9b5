import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { PLAIN_DESTINATION } from '~/core/delivery/settings';
import { recordsOf } from '~/core/show/document';
import { FRAME_NAMES, type FrameName, type PlanRecord } from '~/core/show/records';
import { usedFrames } from '~/core/show/stage-edits';
import { DestinationRow } from '../delivery/destination-row';
import { FlowDrawing } from '../delivery/flow-drawing';
import { NumberField } from '../studio/number-field';
import { Panel } from '../studio/panel';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';

const RATES = [24, 25, 29.97, 30, 50, 59.94, 60] as const;

export default function Delivery() {
  const { store, showId, data } = useStudio();
  const document = useDocument();
  const { relay, broadcast } = useBus();
  const destinations = recordsOf(document, 'destination');
  const plan = recordsOf(document, 'plan')[0];
  const { frames } = recordsOf(document, 'show')[0];
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
        frame: 'wide',
        enabled: false,
        standIn: null,
        ...PLAIN_DESTINATION,
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
              frames={frames}
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
  const document = useDocument();
  const { stage } = useDesk();
  const set = (change: Partial<PlanRecord>) => store.edit('Delivery plan', [{ ...plan, ...change }]);
  const used = usedFrames(document);
  const kbps = used.reduce((sum, frame) => sum + (plan.frames[frame]?.videoKbps ?? 0), 0);
  const governors = stage?.encodes.map((e) => e.governor) ?? [];
  return (
    <Panel
      title={used.length > 1 ? 'Plan: one encode for each frame' : 'Plan: one encode for all'}
      label="Plan"
      aside={
        live ? (
          <span style={{ color: 'var(--larch)', fontSize: 12.5 }}>changes count from the next broadcast</span>
        ) : undefined
      }
    >
      {used.map((frame) => (
        <FramePlanFields key={frame} plan={plan} frame={frame} />
      ))}
      <div style={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 10 }}>
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
        <Fact
          title="Leaves here"
          figure={`${((kbps + plan.audioKbps) / 1000).toFixed(1)} Mb/s`}
          words="to the relay, once for all destinations of a frame"
        />
        <Fact
          title="Keyframes"
          figure={`${plan.keyframeSeconds} s`}
          words={
            plan.keyframeSeconds === 2 ? 'as platforms ask' : 'most platforms ask for a keyframe every 2 s'
          }
        />
        {governors.length > 0 ? (
          <Fact
            title="Really sent"
            figure={`${Math.round(governors.reduce((sum, g) => sum + g.meanKbps, 0))} kbps`}
            words={`worst 2 s ${Math.round(Math.max(...governors.map((g) => g.worstKbps)))}, ${governors.reduce((sum, g) => sum + g.softened, 0)} pictures softened, ${governors.reduce((sum, g) => sum + g.leftOut, 0)} left out`}
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

/** Heights of a wide picture, and widths of a tall one, that platforms know. */
const SHORT_SIDES = [360, 480, 540, 720, 1080] as const;

/** Size and rate of one frame's pictures. */
function FramePlanFields({ plan, frame }: { plan: PlanRecord; frame: FrameName }) {
  const { store } = useStudio();
  const document = useDocument();
  const shape = recordsOf(document, 'show')[0].frames[frame];
  const aspect = shape.width / shape.height;
  const even = (value: number) => Math.max(64, Math.round(value / 2) * 2);
  const sizes = SHORT_SIDES.map((side) =>
    aspect >= 1 ? { width: even(side * aspect), height: side } : { width: side, height: even(side / aspect) },
  );
  const now = plan.frames[frame] ?? { ...sizes[0], videoKbps: 1200 };
  const key = (size: { width: number; height: number }) => `${size.width}x${size.height}`;
  const offered = sizes.some((s) => key(s) === key(now)) ? sizes : [...sizes, now];
  const bitsPerPixel = (now.videoKbps * 1000) / (now.width * now.height * plan.fps);
  const name = frame === 'wide' ? 'Wide' : 'Tall';
  const set = (change: Partial<typeof now>) =>
    store.edit(`${name} in the plan`, [
      {
        ...plan,
        frames: {
          ...plan.frames,
          [frame]: { width: now.width, height: now.height, videoKbps: now.videoKbps, ...change },
        },
      },
    ]);
  return (
    <div
      role="group"
      aria-label={`${name} in the plan`}
      style={{
        display: 'grid',
        gridTemplateColumns: 'repeat(3, minmax(0, 1fr))',
        gap: 10,
        marginBottom: 10,
        alignItems: 'center',
      }}
    >
      <TextField
        select
        label={FRAME_NAMES.length > 1 ? `${name} picture` : 'Picture'}
        value={key(now)}
        onChange={(e) => {
          const [width, height] = e.target.value.split('x').map(Number);
          set({ width, height });
        }}
      >
        {offered.map((size) => (
          <MenuItem key={key(size)} value={key(size)}>
            {size.width} × {size.height}
          </MenuItem>
        ))}
      </TextField>
      <NumberField
        label={name}
        unit="kbps"
        value={now.videoKbps}
        min={100}
        max={50_000}
        step={100}
        onCommit={(videoKbps) => set({ videoKbps })}
      />
      <span style={{ color: 'var(--quiet)', fontSize: 12.5, lineHeight: 1.3 }}>
        <span className="figure">{bitsPerPixel.toFixed(3)}</span> bits a pixel: {judgement(bitsPerPixel)}
      </span>
    </div>
  );
}

function judgement(bitsPerPixel: number): string {
  if (bitsPerPixel < 0.05) return 'too thin';
  if (bitsPerPixel < 0.08) return 'fine for talk';
  return bitsPerPixel < 0.2 ? 'good' : 'more than needed';
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
