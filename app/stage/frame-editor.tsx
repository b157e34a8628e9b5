import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { containsPoint, placementOfRect, rectOfPlacement, type Rect } from '~/core/geometry/rect';
import {
  moveRect,
  RESIZE_HANDLES,
  resizeRect,
  snapLines,
  type Guide,
  type ResizeHandle,
} from '~/core/geometry/snapping';
import { layersOfScene } from '~/core/show/document';
import type { LayerRecord, Placement } from '~/core/show/records';
import { LiveView } from '../studio/live-view';
import { useDocument, useStudio } from '../studio/studio-context';
import { duplicateLayer, frameOf } from './layer-edits';

/** How near on the screen an edge must come to a line to snap to it. */
const SNAP_SCREEN_PX = 7;

type Gesture = {
  handle: ResizeHandle | null;
  layer: LayerRecord;
  start: Rect;
  x: number;
  y: number;
  moved: boolean;
};

interface Props {
  sceneId: string;
  selectedId: string | null;
  onSelect: (layerId: string | null) => void;
}

/** The Wide frame, live, with the chosen layer's handles over it. */
export function FrameEditor({ sceneId, selectedId, onSelect }: Props) {
  const { store } = useStudio();
  const document = useDocument();
  const frame = frameOf(document);
  const area = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 640, height: 360 });
  const gesture = useRef<Gesture | null>(null);
  const [guides, setGuides] = useState<Guide[]>([]);
  const layers = layersOfScene(document, sceneId);
  const selected = layers.find((l) => l.id === selectedId) ?? null;
  const placement = selected?.placements.wide;
  const scale = size.width / frame.width;

  useLayoutEffect(() => {
    const box = area.current!;
    const fit = () => {
      const s = Math.min(box.clientWidth / frame.width, (box.clientHeight - 26) / frame.height);
      setSize({
        width: Math.max(64, Math.floor(frame.width * s)),
        height: Math.max(36, Math.floor(frame.height * s)),
      });
    };
    fit();
    const observer = new ResizeObserver(fit);
    observer.observe(box);
    return () => observer.disconnect();
  }, [frame.width, frame.height]);

  const linesFor = (layer: LayerRecord) =>
    snapLines(
      frame,
      layers.flatMap((l) =>
        l.id !== layer.id && l.visible && l.placements.wide ? [rectOfPlacement(l.placements.wide)] : [],
      ),
    );

  const begin = (event: ReactPointerEvent, layer: LayerRecord, handle: ResizeHandle | null) => {
    if (layer.locked || !layer.placements.wide) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    gesture.current = {
      handle,
      layer,
      start: rectOfPlacement(layer.placements.wide),
      x: event.clientX,
      y: event.clientY,
      moved: false,
    };
  };

  const placed = (event: ReactPointerEvent, g: Gesture): { record: LayerRecord; guides: Guide[] } => {
    const dx = (event.clientX - g.x) / scale;
    const dy = (event.clientY - g.y) / scale;
    const reach = event.altKey ? 0 : SNAP_SCREEN_PX / scale;
    // Pictures keep their shape unless shift says otherwise, boxes the other way round.
    const keep = (g.layer.content.type === 'input') !== event.shiftKey;
    const aspect = keep ? g.start.width / g.start.height : null;
    const lines = linesFor(g.layer);
    const result =
      g.handle === null
        ? moveRect(g.start, dx, dy, lines, reach)
        : resizeRect(g.start, g.handle, dx, dy, aspect, lines, reach);
    const { cx, cy, width, height } = placementOfRect(result.rect);
    const wide: Placement = {
      ...g.layer.placements.wide!,
      cx: round(cx),
      cy: round(cy),
      width: round(width),
      height: round(height),
    };
    return { record: { ...g.layer, placements: { ...g.layer.placements, wide } }, guides: result.guides };
  };

  const onPointerDown = (event: ReactPointerEvent) => {
    if (event.button !== 0) return;
    const box = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - box.left) / scale;
    const y = (event.clientY - box.top) / scale;
    const hit = (l: LayerRecord) =>
      l.visible &&
      l.placements.wide !== undefined &&
      containsPoint(rectOfPlacement(l.placements.wide), l.placements.wide.rotationDeg, x, y);
    // The chosen layer keeps hold even under others; else the topmost that is not locked.
    const target =
      selected && !selected.locked && hit(selected)
        ? selected
        : ([...layers].reverse().find((l) => !l.locked && hit(l)) ?? null);
    onSelect(target?.id ?? null);
    if (target) begin(event, target, null);
  };

  const onPointerMove = (event: ReactPointerEvent) => {
    const g = gesture.current;
    if (!g || (!g.moved && Math.hypot(event.clientX - g.x, event.clientY - g.y) < 3)) return;
    g.moved = true;
    const { record, guides: shown } = placed(event, g);
    setGuides(shown);
    store.preview([record]);
  };

  const onPointerUp = (event: ReactPointerEvent) => {
    const g = gesture.current;
    gesture.current = null;
    setGuides([]);
    if (g?.moved) store.commit(`${g.handle ? 'Resize' : 'Move'} ${g.layer.name}`, [placed(event, g).record]);
  };

  const abandon = () => {
    gesture.current = null;
    setGuides([]);
    store.cancel();
  };

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Escape' && gesture.current) abandon();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });

  const onKeyDown = (event: React.KeyboardEvent) => {
    if (!selected || !placement) return;
    const far = event.shiftKey ? 10 : 1;
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-far, 0],
      ArrowRight: [far, 0],
      ArrowUp: [0, -far],
      ArrowDown: [0, far],
    };
    const step = steps[event.key];
    if (step && !selected.locked) {
      event.preventDefault();
      store.edit(`Move ${selected.name}`, [
        {
          ...selected,
          placements: {
            ...selected.placements,
            wide: { ...placement, cx: placement.cx + step[0], cy: placement.cy + step[1] },
          },
        },
      ]);
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && !selected.locked) {
      event.preventDefault();
      store.edit(`Delete ${selected.name}`, [], [selected.id]);
      onSelect(null);
    } else if (event.key === 'Escape') onSelect(null);
    else if (event.key === 'd' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      const copy = duplicateLayer(document, selected, () => crypto.randomUUID());
      store.edit(`Duplicate ${selected.name}`, [copy]);
      onSelect(copy.id);
    }
  };

  return (
    <div
      ref={area}
      style={{
        position: 'relative',
        minHeight: 0,
        minWidth: 0,
        height: '100%',
        display: 'grid',
        placeContent: 'center',
      }}
    >
      <div
        style={{
          height: 26,
          display: 'flex',
          alignItems: 'center',
          gap: 8,
          color: 'var(--quiet)',
          fontSize: 12.5,
          width: size.width,
        }}
      >
        Wide <span className="figure">{`${frame.width}×${frame.height}`}</span>
      </div>
      <div
        tabIndex={0}
        role="application"
        aria-label="Wide frame. Choose a layer in the list, then move it with the arrow keys, ten pixels with shift."
        data-testid="frame"
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={abandon}
        onKeyDown={onKeyDown}
        style={{
          position: 'relative',
          width: size.width,
          height: size.height,
          touchAction: 'none',
          cursor: 'default',
          userSelect: 'none',
        }}
      >
        <LiveView subject={{ type: 'edit' }} label="The scene being edited, live" />
        <svg
          viewBox={`0 0 ${size.width} ${size.height}`}
          style={{
            position: 'absolute',
            inset: 0,
            overflow: 'visible',
            width: '100%',
            height: '100%',
            pointerEvents: 'none',
          }}
        >
          {guides.map((g) => (
            <line
              key={`${g.axis}${g.at}`}
              x1={g.axis === 'x' ? g.at * scale : 0}
              x2={g.axis === 'x' ? g.at * scale : size.width}
              y1={g.axis === 'y' ? g.at * scale : 0}
              y2={g.axis === 'y' ? g.at * scale : size.height}
              stroke="var(--larch)"
              strokeDasharray="4 3"
            />
          ))}
          {selected && placement && (
            <Handles layer={selected} placement={placement} scale={scale} onBegin={begin} />
          )}
        </svg>
      </div>
    </div>
  );
}

function round(value: number): number {
  return Math.round(value * 10) / 10;
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

function Handles({
  layer,
  placement,
  scale,
  onBegin,
}: {
  layer: LayerRecord;
  placement: Placement;
  scale: number;
  onBegin: (event: ReactPointerEvent, layer: LayerRecord, handle: ResizeHandle) => void;
}) {
  const { x, y, width, height } = rectOfPlacement(placement);
  const [left, top, w, h] = [x * scale, y * scale, width * scale, height * scale];
  const label = `${Math.round(width)} × ${Math.round(height)} at ${Math.round(x)}, ${Math.round(y)}`;
  const chars = label.length * 7.3 + 12;
  const labelY = top > 26 ? top - 25 : top + h + 6;
  return (
    <g>
      <g transform={`rotate(${placement.rotationDeg} ${left + w / 2} ${top + h / 2})`}>
        <rect
          x={left}
          y={top}
          width={w}
          height={h}
          fill="none"
          stroke="var(--glacier)"
          strokeWidth={1.5}
          strokeDasharray={layer.locked ? '3 4' : undefined}
        />
        {!layer.locked &&
          placement.rotationDeg === 0 &&
          RESIZE_HANDLES.map((handle) => {
            const hx = left + (handle.includes('w') ? 0 : handle.includes('e') ? w : w / 2);
            const hy = top + (handle.includes('n') ? 0 : handle.includes('s') ? h : h / 2);
            return (
              <g
                key={handle}
                data-handle={handle}
                style={{ pointerEvents: 'all', cursor: CURSORS[handle] }}
                onPointerDown={(event) => (event.stopPropagation(), onBegin(event, layer, handle))}
              >
                <rect x={hx - 12} y={hy - 12} width={24} height={24} fill="transparent" />
                <rect
                  x={hx - 4}
                  y={hy - 4}
                  width={8}
                  height={8}
                  transform={`rotate(45 ${hx} ${hy})`}
                  fill="var(--ground)"
                  stroke="var(--glacier)"
                  strokeWidth={1.5}
                />
              </g>
            );
          })}
      </g>
      <g transform={`translate(${Math.max(0, left)} ${labelY})`}>
        <rect width={chars} height={19} rx={4} fill="var(--glacier)" />
        <text x={6} y={13.5} fontSize={12} fill="var(--onAccent)" className="figure">
          {label}
        </text>
      </g>
    </g>
  );
}
