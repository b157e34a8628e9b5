import { linkHorizontal } from 'd3-shape';
import { FRAME_NAMES, type DestinationRecord, type PlanRecord, type ShowRecord } from '~/core/show/records';
import type { DestinationStatus } from '~/protocol/relay-orders';

/** Pixels of width for one Mbps. */
const PX_PER_MBPS = 7;
const BOX = { width: 150, height: 58 };
const COLUMNS = [20, 250, 500] as const;

interface Props {
  plan: PlanRecord;
  frames: ShowRecord['frames'];
  destinations: readonly DestinationRecord[];
  statuses: readonly DestinationStatus[];
}

/** Frames → encodes → destinations; widths are kbps. One encode serves all destinations of its frame. */
export function FlowDrawing({ plan, frames, destinations, statuses }: Props) {
  const lanes = FRAME_NAMES.flatMap((frame) => {
    const planned = plan.frames[frame];
    if (!frames[frame].used || !planned) return [];
    const total = planned.videoKbps + plan.audioKbps;
    return [
      {
        frame,
        planned,
        total,
        stroke: Math.max(3, (total / 1000) * PX_PER_MBPS),
        destinations: destinations.filter((d) => d.frame === frame),
      },
    ];
  });
  const step = Math.max(72, ...lanes.map((lane) => lane.stroke + 26));
  const rows = lanes.map((lane) => Math.max(1, lane.destinations.length));
  const height = Math.max(170, rows.reduce((sum, n) => sum + n, 0) * step + 44);
  const link = linkHorizontal<unknown, readonly [number, number]>()
    .source((d) => (d as readonly (readonly [number, number])[])[0])
    .target((d) => (d as readonly (readonly [number, number])[])[1]);
  const sum = lanes.reduce((all, lane) => all + lane.total * lane.destinations.length, 0);
  const flow = (
    from: readonly [number, number],
    to: readonly [number, number],
    width: number,
    key: string,
  ) => (
    <path
      key={key}
      d={link([from, to])!}
      fill="none"
      stroke="var(--glacier)"
      strokeOpacity={0.5}
      strokeWidth={width}
    />
  );
  return (
    <svg
      viewBox={`0 0 700 ${height}`}
      role="img"
      aria-label={lanes
        .map(
          (lane) =>
            `${lane.frame === 'wide' ? 'Wide' : 'Tall'} frame, one encode of ${lane.total} kbps, to ${lane.destinations.map((d) => d.name).join(' and ') || 'no destination'}`,
        )
        .join('; ')}
      style={{ width: '100%', height: '100%', minHeight: 0 }}
    >
      {lanes.map((lane, n) => {
        const before = rows.slice(0, n).reduce((all, r) => all + r, 0);
        const middle = 12 + (before + rows[n] / 2) * step;
        const y = (i: number) => middle + (i - (lane.destinations.length - 1) / 2) * step;
        const { width, height: tall } = frames[lane.frame];
        const unused = lane.destinations.length === 0 && n > 0;
        return (
          <g key={lane.frame}>
            {flow(
              [COLUMNS[0] + BOX.width, middle],
              [COLUMNS[1], middle],
              unused ? 1.5 : lane.stroke,
              lane.frame,
            )}
            {lane.destinations.map((d, i) =>
              flow([COLUMNS[1] + BOX.width, middle], [COLUMNS[2], y(i)], lane.stroke, d.id),
            )}
            <FlowBox
              x={COLUMNS[0]}
              y={middle}
              title={lane.frame === 'wide' ? 'Wide' : 'Tall'}
              lines={[`${width}×${tall}`]}
            />
            <FlowBox
              x={COLUMNS[1]}
              y={middle}
              title={unused ? 'Not encoded' : 'Encode'}
              lines={[
                `${lane.planned.width}×${lane.planned.height} · ${plan.fps}`,
                `${lane.planned.videoKbps} + ${plan.audioKbps} kbps`,
              ]}
            />
            {lane.destinations.map((d, i) => {
              const status = statuses.find((s) => s.id === d.id);
              const bad = status !== undefined && !['live', 'connecting', 'closed'].includes(status.state);
              return (
                <FlowBox
                  key={d.id}
                  x={COLUMNS[2]}
                  y={y(i)}
                  title={d.name}
                  lines={[
                    status
                      ? status.state === 'live'
                        ? `${status.kbps} kbps`
                        : status.state
                      : `${lane.total} kbps planned`,
                  ]}
                  trouble={bad}
                />
              );
            })}
            {lane.destinations.length === 0 && (
              <text x={COLUMNS[2]} y={middle + 4} fill="var(--quiet)" fontSize={13}>
                {n === 0 ? 'No destination on: recorded only' : 'No destination takes it'}
              </text>
            )}
          </g>
        );
      })}
      <text x={690} y={height - 6} textAnchor="end" fill="var(--quiet)" fontSize={12} className="figure">
        {`upload ${(sum / 1000).toFixed(1)} Mb/s in all`}
      </text>
    </svg>
  );
}

function FlowBox({
  x,
  y,
  title,
  lines,
  trouble = false,
}: {
  x: number;
  y: number;
  title: string;
  lines: string[];
  trouble?: boolean;
}) {
  return (
    <g transform={`translate(${x} ${y - BOX.height / 2})`}>
      <rect
        width={BOX.width}
        height={BOX.height}
        rx={7}
        fill="var(--raised)"
        stroke={trouble ? 'var(--rose)' : 'var(--line)'}
      />
      <text x={12} y={20} fill="var(--text)" fontSize={13.5} fontWeight={650}>
        {title}
      </text>
      {lines.map((line, i) => (
        <text
          key={line}
          x={12}
          y={36 + i * 14}
          fill={trouble ? 'var(--rose)' : 'var(--quiet)'}
          fontSize={11}
          className="figure"
        >
          {line}
        </text>
      ))}
    </g>
  );
}
