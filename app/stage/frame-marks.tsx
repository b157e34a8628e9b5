import { boundsOfPlacement, rectOfPlacement, unionOf, type Rect, type Size } from '~/core/geometry/rect';
import {
  RESIZE_HANDLES,
  safeArea,
  type Distance,
  type Guide,
  type ResizeHandle,
} from '~/core/geometry/snapping';
import type { LayerRecord, Placement } from '~/core/show/records';
import type { Grip } from './frame-gesture';
import { useTranslation } from '../words/words';

/** From frame pixels to the box on the page. */
export interface ToScreen {
  x: (value: number) => number;
  y: (value: number) => number;
  scale: number;
}

const CURSORS: Record<ResizeHandle, string> = {
  nw: 'nwse-resize',
  n: 'ns-resize',
  ne: 'nesw-resize',
  e: 'ew-resize',
  se: 'nwse-resize',
  s: 'ns-resize',
  sw: 'nesw-resize',
  w: 'ew-resize',
};

const WHY: Record<Guide['why'], string> = {
  edge: 'edge',
  centre: 'centre',
  third: 'third',
  safe: 'safe area',
  layer: 'layer',
  gap: 'equal gaps',
};

/** Lines snapped to, and the free distances beside what is dragged. */
export function Guides({
  guides,
  distances,
  to,
  box,
}: {
  guides: readonly Guide[];
  distances: readonly Distance[];
  to: ToScreen;
  box: Size;
}) {
  return (
    <g data-testid="guides">
      {guides.map((g) => {
        const across = g.axis === 'x';
        const at = across ? to.x(g.at) : to.y(g.at);
        if (g.why === 'gap')
          return g.gaps!.map((gap, i) => (
            <Measure key={`gap${g.axis}${i}`} line={{ ...gap, axis: g.axis }} to={to} colour="var(--larch)" />
          ));
        return (
          <g key={`${g.axis}${g.at}`}>
            <line
              x1={across ? at : 0}
              x2={across ? at : box.width}
              y1={across ? 0 : at}
              y2={across ? box.height : at}
              stroke="var(--larch)"
              strokeDasharray="4 3"
            />
            <text
              x={across ? at + 4 : 4}
              y={across ? 12 : at - 4}
              fontSize={11}
              fill="var(--larch)"
              stroke="#000000a0"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {WHY[g.why]}
            </text>
          </g>
        );
      })}
      {distances.map((d) => (
        <Measure key={`${d.axis}${d.from}`} line={d} to={to} colour="var(--glacier)" />
      ))}
    </g>
  );
}

function Measure({ line, to, colour }: { line: Distance; to: ToScreen; colour: string }) {
  const { axis, from, to: until, across } = line;
  const [x1, x2] = axis === 'x' ? [to.x(from), to.x(until)] : [to.x(across), to.x(across)];
  const [y1, y2] = axis === 'x' ? [to.y(across), to.y(across)] : [to.y(from), to.y(until)];
  const cap = axis === 'x' ? [0, 4] : [4, 0];
  return (
    <g stroke={colour} strokeWidth={1}>
      <line x1={x1} x2={x2} y1={y1} y2={y2} />
      {[
        [x1, y1],
        [x2, y2],
      ].map(([x, y], i) => (
        <line key={i} x1={x - cap[0]} x2={x + cap[0]} y1={y - cap[1]} y2={y + cap[1]} />
      ))}
      <text
        x={(x1 + x2) / 2 + (axis === 'x' ? 0 : 5)}
        y={(y1 + y2) / 2 - (axis === 'x' ? 5 : -4)}
        textAnchor={axis === 'x' ? 'middle' : 'start'}
        fontSize={11}
        className="figure"
        fill={colour}
        stroke="#000000a0"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {Math.round(until - from)}
      </text>
    </g>
  );
}

/** Safe areas per SMPTE ST 2046-1: action outside, titles inside. */
export function SafeAreas({ frame, to }: { frame: Size; to: ToScreen }) {
  return (
    <g data-testid="safe-areas" fill="none" stroke="#ece8e1a0" strokeWidth={1}>
      {(['action', 'title'] as const).map((which) => {
        const r = safeArea(frame, which);
        return (
          <g key={which}>
            <rect
              x={to.x(r.x)}
              y={to.y(r.y)}
              width={r.width * to.scale}
              height={r.height * to.scale}
              strokeDasharray={which === 'title' ? '5 4' : undefined}
            />
            <text
              x={to.x(which === 'action' ? r.x : r.x + r.width) + (which === 'action' ? 4 : -4)}
              y={to.y(r.y + r.height) - 4}
              textAnchor={which === 'action' ? 'start' : 'end'}
              fontSize={10}
              fill="#ece8e1c0"
              stroke="none"
            >
              {which}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** Outline, handles and figures of what is chosen. */
export function ChosenMarks({
  layers,
  placements,
  to,
  box,
  locked,
  onGrip,
}: {
  layers: readonly LayerRecord[];
  placements: readonly Placement[];
  to: ToScreen;
  box: Size;
  locked: boolean;
  onGrip: (event: React.PointerEvent, grip: Grip) => void;
}) {
  const single = placements.length === 1 ? placements[0] : null;
  const bounds = unionOf(placements.map(boundsOfPlacement));
  if (!bounds) return null;
  const rect: Rect = single ? rectOfPlacement(single) : bounds;
  const [left, top, w, h] = [to.x(rect.x), to.y(rect.y), rect.width * to.scale, rect.height * to.scale];
  const [cx, cy] = [left + w / 2, top + h / 2];
  const turn = single?.rotationDeg ?? 0;
  return (
    <g>
      {!single &&
        placements.map((p, i) => {
          const r = rectOfPlacement(p);
          return (
            <rect
              key={layers[i].id}
              x={to.x(r.x)}
              y={to.y(r.y)}
              width={r.width * to.scale}
              height={r.height * to.scale}
              transform={`rotate(${p.rotationDeg} ${to.x(p.cx)} ${to.y(p.cy)})`}
              fill="none"
              stroke="var(--glacier)"
              strokeOpacity={0.6}
            />
          );
        })}
      <g transform={`rotate(${turn} ${cx} ${cy})`}>
        <rect
          x={left}
          y={top}
          width={w}
          height={h}
          fill="none"
          stroke="var(--glacier)"
          strokeWidth={1.5}
          strokeDasharray={locked ? '3 4' : single ? undefined : '6 4'}
        />
        {!locked && (
          <>
            {single && <TurnHandle x={cx} y={top} onGrip={onGrip} />}
            {RESIZE_HANDLES.filter((handle) => single || handle.length === 2).map((handle) => (
              <Handle
                key={handle}
                name={handle}
                x={left + (handle.includes('w') ? 0 : handle.includes('e') ? w : w / 2)}
                y={top + (handle.includes('n') ? 0 : handle.includes('s') ? h : h / 2)}
                cursor={turn === 0 ? CURSORS[handle] : 'move'}
                onPointerDown={(event) => onGrip(event, { type: 'handle', handle })}
              />
            ))}
            {single && Math.min(w, h) > 60 && (
              <CornerHandle
                x={left + Math.max(16, Math.min(single.cornerPx * to.scale, Math.min(w, h) / 2))}
                y={top + Math.max(16, Math.min(single.cornerPx * to.scale, Math.min(w, h) / 2))}
                onGrip={onGrip}
              />
            )}
          </>
        )}
      </g>
      <Figures
        rect={bounds}
        left={to.x(bounds.x)}
        top={to.y(bounds.y)}
        height={bounds.height * to.scale}
        turn={turn}
        box={box}
      />
    </g>
  );
}

function Handle({
  name,
  x,
  y,
  cursor,
  onPointerDown,
}: {
  name: string;
  x: number;
  y: number;
  cursor: string;
  onPointerDown: (event: React.PointerEvent) => void;
}) {
  return (
    <g data-handle={name} style={{ pointerEvents: 'all', cursor }} onPointerDown={onPointerDown}>
      <rect x={x - 11} y={y - 11} width={22} height={22} fill="transparent" />
      <rect
        x={x - 4}
        y={y - 4}
        width={8}
        height={8}
        transform={`rotate(45 ${x} ${y})`}
        fill="var(--ground)"
        stroke="var(--glacier)"
        strokeWidth={1.5}
      />
    </g>
  );
}

function TurnHandle({
  x,
  y,
  onGrip,
}: {
  x: number;
  y: number;
  onGrip: (e: React.PointerEvent, grip: Grip) => void;
}) {
  return (
    <g
      data-handle="turn"
      style={{ pointerEvents: 'all', cursor: 'grab' }}
      onPointerDown={(event) => onGrip(event, { type: 'turn' })}
    >
      <line x1={x} x2={x} y1={y - 4} y2={y - 16} stroke="var(--glacier)" />
      <rect x={x - 11} y={y - 32} width={22} height={20} fill="transparent" />
      <path
        d={`M ${x - 5} ${y - 19} A 5.5 5.5 0 1 1 ${x + 5} ${y - 19}`}
        fill="none"
        stroke="var(--glacier)"
        strokeWidth={2}
      />
    </g>
  );
}

function CornerHandle({
  x,
  y,
  onGrip,
}: {
  x: number;
  y: number;
  onGrip: (e: React.PointerEvent, grip: Grip) => void;
}) {
  const { t } = useTranslation();
  return (
    <g
      data-handle="corner"
      style={{ pointerEvents: 'all', cursor: 'crosshair' }}
      onPointerDown={(event) => onGrip(event, { type: 'corner' })}
    >
      <title>{t('layout.dragToRoundTheCorners')}</title>
      <rect x={x - 9} y={y - 9} width={18} height={18} fill="transparent" />
      <path
        d={`M ${x - 4} ${y + 4} Q ${x - 4} ${y - 4} ${x + 4} ${y - 4}`}
        fill="none"
        stroke="var(--glacier)"
        strokeWidth={2.5}
      />
    </g>
  );
}

function Figures({
  rect,
  left,
  top,
  height,
  turn,
  box,
}: {
  rect: Rect;
  left: number;
  top: number;
  height: number;
  turn: number;
  box: Size;
}) {
  const figures = `${Math.round(rect.width)} × ${Math.round(rect.height)}${turn === 0 ? ` at ${Math.round(rect.x)}, ${Math.round(rect.y)}` : ` turned ${turn.toFixed(1)}°`}`;
  const width = figures.length * 7.3 + 12;
  // Below, where no handle is in the way; above where it would fall off the frame.
  const y = top + height + 30 < box.height ? top + height + 10 : Math.max(2, top - 56);
  return (
    <g
      transform={`translate(${Math.max(0, Math.min(left, box.width - width))} ${y})`}
      style={{ pointerEvents: 'none' }}
    >
      <rect width={width} height={19} rx={4} fill="var(--glacier)" />
      <text x={6} y={13.5} fontSize={12} fill="var(--onAccent)" className="figure">
        {figures}
      </text>
    </g>
  );
}
