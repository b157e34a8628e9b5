import { linkHorizontal } from 'd3-shape';
import { kbpsFor, uploadKbps, type Encode } from '~/core/delivery/encodes';
import { mbps } from '~/core/delivery/plan-advice';
import type { DestinationRecord, PlanRecord, ShowRecord } from '~/core/show/records';
import type { DestinationStatus } from '~/protocol/relay-orders';
import { useTranslation } from '../words/words';

const BOX = { width: 142, height: 64 };
const COLUMNS = [8, 214, 424] as const;
const LINE = { x: 640, width: 64, top: 34, height: 300 };
const HEIGHT = 370;
/** A flow is at most this wide, and never so thin that it cannot be seen. */
const MAX_STROKE = 58;
const MIN_STROKE = 3;

interface Props {
  plan: PlanRecord;
  encodes: readonly Encode[];
  frames: ShowRecord['frames'];
  destinations: readonly DestinationRecord[];
  statuses: readonly DestinationStatus[];
  roundTrips: ReadonlyMap<string, number>;
  onOpen: (destinationId: string) => void;
}

/** Places n boxes evenly over the height. */
function spread(count: number): (i: number) => number {
  const step = Math.min(112, (HEIGHT - 20) / Math.max(1, count));
  return (i) => HEIGHT / 2 + (i - (count - 1) / 2) * step;
}

/** Frames → encodes → destinations → line; widths are kbps, and what does not fit is marked. */
export function FlowDrawing({ plan, encodes, frames, destinations, statuses, roundTrips, onOpen }: Props) {
  const { t } = useTranslation();
  const order = encodes.flatMap((e) => e.destinationIds);
  const shown = [...destinations].sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
  const frameNames = [...new Set(encodes.map((e) => e.frame))];
  const upload = uploadKbps(encodes, plan.audioKbps);
  const room = plan.lineKbps ?? upload * 1.4;
  const whole = Math.max(room, upload, 1);
  const kbpsToPx = LINE.height / whole;
  const stroke = (kbps: number) => Math.max(MIN_STROKE, Math.min(MAX_STROKE, kbps * kbpsToPx));
  const link = linkHorizontal<unknown, readonly [number, number]>()
    .source((d) => (d as readonly (readonly [number, number])[])[0])
    .target((d) => (d as readonly (readonly [number, number])[])[1]);
  const yFrame = spread(frameNames.length);
  const yEncode = spread(encodes.length);
  const yDestination = spread(shown.length);
  const colour = (frame: string) => (frame === 'wide' ? 'var(--glacier)' : 'var(--larch)');
  const flow = (
    from: readonly [number, number],
    to: readonly [number, number],
    width: number,
    key: string,
    frame: string,
  ) => (
    <path
      key={key}
      d={link([from, to])!}
      fill="none"
      stroke={colour(frame)}
      strokeOpacity={0.42}
      strokeWidth={width}
    />
  );
  // In the line the flows lie on each other in the order of the boxes.
  let stacked = 0;
  const bottom = LINE.top + LINE.height;
  const intoLine = shown.flatMap((d, i) => {
    const encode = encodes.find((e) => e.destinationIds.includes(d.id));
    if (!encode) return [];
    const kbps = kbpsFor(encode, d.id) + plan.audioKbps;
    const middle = bottom - (upload - stacked - kbps / 2) * kbpsToPx;
    stacked += kbps;
    return [
      flow(
        [COLUMNS[2] + BOX.width, yDestination(i)],
        [LINE.x, middle],
        stroke(kbps),
        `line-${d.id}`,
        d.frame,
      ),
    ];
  });
  const freeY = bottom - room * (1 - plan.headroom) * kbpsToPx;
  const over = plan.lineKbps !== null && upload > plan.lineKbps * (1 - plan.headroom) * 1.001;
  const words = encodes
    .map(
      (e) =>
        `${e.frame === 'wide' ? 'Wide' : 'Tall'}, ${e.width} by ${e.height} at ${e.videoKbps + plan.audioKbps} kbps, to ${e.destinationIds.map((id) => destinations.find((d) => d.id === id)?.name).join(' and ') || 'the recording only'}`,
    )
    .join('; ');
  return (
    <svg
      viewBox={`0 0 720 ${HEIGHT}`}
      role="img"
      aria-label={`${words}. ${mbps(upload)} megabits a second in all${plan.lineKbps === null ? '' : ` of ${mbps(plan.lineKbps)}`}`}
      style={{ width: '100%', height: '100%', minHeight: 0 }}
    >
      {encodes.map((e, i) =>
        flow(
          [COLUMNS[0] + BOX.width, yFrame(frameNames.indexOf(e.frame))],
          [COLUMNS[1], yEncode(i)],
          stroke(e.videoKbps + plan.audioKbps),
          `encode-${e.id}`,
          e.frame,
        ),
      )}
      {encodes.flatMap((e, i) =>
        e.destinationIds.map((id) =>
          flow(
            [COLUMNS[1] + BOX.width, yEncode(i)],
            [COLUMNS[2], yDestination(shown.findIndex((d) => d.id === id))],
            stroke(kbpsFor(e, id) + plan.audioKbps),
            id,
            e.frame,
          ),
        ),
      )}
      {intoLine}
      {frameNames.map((frame, i) => (
        <FlowBox
          key={frame}
          x={COLUMNS[0]}
          y={yFrame(i)}
          title={frame === 'wide' ? t('delivery.wide') : t('delivery.tall')}
          lines={[`${frames[frame].width}×${frames[frame].height}`]}
          edge={colour(frame)}
        />
      ))}
      {encodes.map((e, i) => (
        <FlowBox
          key={e.id}
          x={COLUMNS[1]}
          y={yEncode(i)}
          title={`Encode ${'ABCDE'[i]}`}
          lines={[`${e.width}×${e.height} · ${plan.fps}`, `${e.videoKbps} + ${plan.audioKbps} kbps`]}
          tip={e.because}
        />
      ))}
      {shown.map((d, i) => {
        const status = statuses.find((s) => s.id === d.id);
        const bad = status !== undefined && !['live', 'connecting', 'closed'].includes(status.state);
        const trip = roundTrips.get(d.id);
        const facts = [
          d.capKbps === null ? 'no cap known' : `cap ${d.capKbps}`,
          trip === undefined ? '' : `${Math.round(trip)} ms`,
        ];
        const now = status
          ? status.state === 'live'
            ? `${status.kbps} kbps`
            : status.state === 'unreachable'
              ? 'not reached'
              : status.state
          : facts.filter(Boolean).join(' · ');
        return (
          <FlowBox
            key={d.id}
            x={COLUMNS[2]}
            y={yDestination(i)}
            title={d.name}
            lines={[
              now,
              besideWords(
                encodes.some((e) => e.reencoded.some((r) => r.destinationId === d.id)),
                d.delaySeconds,
              ),
            ]}
            edge={bad ? 'var(--rose)' : undefined}
            trouble={bad}
            onOpen={() => onOpen(d.id)}
          />
        );
      })}
      {shown.length === 0 && (
        <text x={COLUMNS[2]} y={HEIGHT / 2 + 4} fill="var(--quiet)" fontSize={13}>
          {t('delivery.noDestinationIsOnRecorded')}
        </text>
      )}
      <g>
        <rect
          x={LINE.x}
          y={LINE.top}
          width={LINE.width}
          height={LINE.height}
          rx={7}
          fill="var(--ground)"
          stroke="var(--line)"
        />
        <rect
          x={LINE.x + 1}
          y={Math.max(LINE.top, bottom - upload * kbpsToPx)}
          width={LINE.width - 2}
          height={Math.min(LINE.height, upload * kbpsToPx)}
          rx={5}
          fill={over ? 'var(--rose)' : 'var(--glacier)'}
          fillOpacity={0.28}
        />
        {plan.lineKbps !== null && (
          <line
            x1={LINE.x - 6}
            x2={LINE.x + LINE.width + 6}
            y1={freeY}
            y2={freeY}
            stroke="var(--larch)"
            strokeWidth={2}
            strokeDasharray="4 3"
          />
        )}
        {plan.lineKbps !== null && freeY - LINE.top > 22 && (
          <text
            x={LINE.x + LINE.width / 2}
            y={LINE.top + 16}
            textAnchor="middle"
            fill="var(--quiet)"
            fontSize={11}
          >
            {t('delivery.leftFree')}
          </text>
        )}
        <text
          x={LINE.x + LINE.width / 2}
          y={bottom - 22}
          textAnchor="middle"
          fill="var(--text)"
          fontSize={15}
          fontWeight={650}
          className="figure"
        >
          {mbps(upload)}
        </text>
        <text
          x={LINE.x + LINE.width / 2}
          y={bottom - 8}
          textAnchor="middle"
          fill="var(--quiet)"
          fontSize={11}
          className="figure"
        >
          {plan.lineKbps === null ? t('delivery.of') : `of ${mbps(plan.lineKbps)}`}
        </text>
        <text
          x={LINE.x + LINE.width / 2}
          y={bottom + 20}
          textAnchor="middle"
          fill="var(--quiet)"
          fontSize={12}
        >
          {t('delivery.connectionMbps')}
        </text>
      </g>
    </svg>
  );
}

/** Short: a box is seventeen letters wide. */
function besideWords(byServer: boolean, delaySeconds: number): string {
  if (!byServer) return delaySeconds > 0 ? `${delaySeconds} s later` : '';
  return delaySeconds > 0 ? `by server, ${delaySeconds} s` : 'by server';
}

function FlowBox({
  x,
  y,
  title,
  lines,
  edge = 'var(--line)',
  trouble = false,
  tip,
  onOpen,
}: {
  x: number;
  y: number;
  title: string;
  lines: string[];
  edge?: string;
  trouble?: boolean;
  tip?: string;
  onOpen?: () => void;
}) {
  return (
    <g
      transform={`translate(${x} ${y - BOX.height / 2})`}
      onClick={onOpen}
      style={onOpen && { cursor: 'pointer' }}
    >
      {tip && <title>{tip}</title>}
      <rect width={BOX.width} height={BOX.height} rx={7} fill="var(--raised)" stroke={edge} />
      <text x={12} y={22} fill="var(--text)" fontSize={13.5} fontWeight={650}>
        {title.length > 17 ? `${title.slice(0, 16)}…` : title}
      </text>
      {lines.map((line, i) => (
        <text
          key={i}
          x={12}
          y={39 + i * 14.5}
          fill={trouble && i === 0 ? 'var(--rose)' : 'var(--quiet)'}
          fontSize={11.5}
          className="figure"
        >
          {line}
        </text>
      ))}
    </g>
  );
}
