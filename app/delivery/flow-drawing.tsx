import { linkHorizontal } from 'd3-shape';
import type { DestinationRecord, PlanRecord } from '~/core/show/records';
import type { DestinationStatus } from '~/protocol/relay-orders';

/** Pixels of width for one Mbps. */
const PX_PER_MBPS = 7;
const BOX = { width: 150, height: 58 };
const COLUMNS = [20, 250, 500] as const;

interface Props {
  plan: PlanRecord;
  frame: { width: number; height: number };
  destinations: readonly DestinationRecord[];
  statuses: readonly DestinationStatus[];
}

/** Frame → encode → destinations; widths are kbps. One encode serves all. */
export function FlowDrawing({ plan, frame, destinations, statuses }: Props) {
  const total = plan.videoKbps + plan.audioKbps;
  const stroke = Math.max(3, (total / 1000) * PX_PER_MBPS);
  const step = Math.max(72, stroke + 26);
  const height = Math.max(170, destinations.length * step + 44);
  const middle = height / 2;
  const y = (i: number) => middle + (i - (destinations.length - 1) / 2) * step;
  const link = linkHorizontal<unknown, readonly [number, number]>()
    .source((d) => (d as readonly (readonly [number, number])[])[0])
    .target((d) => (d as readonly (readonly [number, number])[])[1]);
  const sum = total * destinations.length;
  return (
    <svg
      viewBox={`0 0 700 ${height}`}
      role="img"
      aria-label={`Wide frame, one encode of ${total} kbps, to ${destinations.map((d) => d.name).join(' and ') || 'no destination'}`}
      style={{ width: '100%', height: '100%', minHeight: 0 }}
    >
      <path
        d={link([
          [COLUMNS[0] + BOX.width, middle],
          [COLUMNS[1], middle],
        ])!}
        fill="none"
        stroke="var(--glacier)"
        strokeOpacity={0.5}
        strokeWidth={stroke}
      />
      {destinations.map((d, i) => (
        <path
          key={d.id}
          d={link([
            [COLUMNS[1] + BOX.width, middle],
            [COLUMNS[2], y(i)],
          ])!}
          fill="none"
          stroke="var(--glacier)"
          strokeOpacity={0.5}
          strokeWidth={stroke}
        />
      ))}
      <FlowBox x={COLUMNS[0]} y={middle} title="Wide" lines={[`${frame.width}×${frame.height}`]} />
      <FlowBox
        x={COLUMNS[1]}
        y={middle}
        title="Encode"
        lines={[`${plan.width}×${plan.height} · ${plan.fps}`, `${plan.videoKbps} + ${plan.audioKbps} kbps`]}
      />
      {destinations.map((d, i) => {
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
                : `${total} kbps planned`,
            ]}
            trouble={bad}
          />
        );
      })}
      {destinations.length === 0 && (
        <text x={COLUMNS[2]} y={middle + 4} fill="var(--quiet)" fontSize={13}>
          Switch a destination on
        </text>
      )}
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
