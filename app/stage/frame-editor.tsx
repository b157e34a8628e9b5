import { useEffect, useRef, useState, type PointerEvent as ReactPointerEvent, type ReactNode } from 'react';
import { adjustedSize } from '~/core/geometry/adjust';
import {
  boundsOfPlacement,
  containsPoint,
  intersects,
  rectOfPlacement,
  type Rect,
  type Size,
} from '~/core/geometry/rect';
import type { Distance, Guide } from '~/core/geometry/snapping';
import { findRecord } from '~/core/show/document';
import { layersOfScene } from '~/core/show/layers';
import { placed } from '~/core/show/placing';
import type { FrameName, LayerRecord } from '~/core/show/records';
import { frameOf } from '~/core/show/stage-edits';
import { LiveView } from '../studio/live-view';
import { useStudio } from '../studio/studio-context';
import { dragged, dragName, type Drag, type DragKeys, type Grip } from './frame-gesture';
import { ChosenMarks, Guides, SafeAreas, type ToScreen } from './frame-marks';
import { namesOf, nameOfFrame, useStageCommands } from './stage-commands';
import { useStage } from './stage-context';
import { panned, scaleOf, zoomed } from './view-part';

/** How near on the screen an edge must come to a line to snap to it. */
const SNAP_SCREEN_PX = 7;
/** A press that moves less than this is a click. */
const CLICK_SCREEN_PX = 3;

type Gesture =
  | { type: 'drag'; drag: Drag; from: { x: number; y: number }; moved: boolean }
  | { type: 'pan'; x: number; y: number; part: Rect }
  | { type: 'band'; from: { x: number; y: number }; keep: readonly string[] };

const keysOf = (event: {
  shiftKey: boolean;
  altKey: boolean;
  ctrlKey: boolean;
  metaKey: boolean;
}): DragKeys => ({
  shift: event.shiftKey,
  alt: event.altKey,
  crop: event.ctrlKey || event.metaKey,
});

/** One frame, live, with the handles of what is chosen over it. */
export function FrameEditor({ frame, size }: { frame: FrameName; size: Size }) {
  const { store } = useStudio();
  const stage = useStage();
  const { document, scene, movable, chosen, selection, select, toggle, parts, setPart, setFrame } = stage;
  const commands = useStageCommands();
  const frameSize = frameOf(document, frame);
  const part = parts[frame];
  const scale = scaleOf(size, frameSize, part);
  const to: ToScreen = {
    x: (value) => (value - (part?.x ?? 0)) * scale,
    y: (value) => (value - (part?.y ?? 0)) * scale,
    scale,
  };
  const surface = useRef<HTMLDivElement>(null);
  const gesture = useRef<Gesture | null>(null);
  const space = useRef(false);
  const [marks, setMarks] = useState<{ guides: Guide[]; distances: Distance[] }>({
    guides: [],
    distances: [],
  });
  const [band, setBand] = useState<Rect | null>(null);
  const layers = layersOfScene(document, scene.id);
  const active = stage.frame === frame;
  const held = movable.filter((l) => l.placements[frame]);
  const lockedChosen = held.length === 0 ? chosen.filter((l) => l.placements[frame]) : [];
  const outlined = held.length > 0 ? held : lockedChosen;

  const toFrame = (event: { clientX: number; clientY: number }) => {
    const box = surface.current!.getBoundingClientRect();
    return {
      x: (part?.x ?? 0) + (event.clientX - box.left) / scale,
      y: (part?.y ?? 0) + (event.clientY - box.top) / scale,
    };
  };

  /** The layer under a point: the chosen ones keep hold even under others, else the topmost that is not locked. */
  const hit = (x: number, y: number): LayerRecord | null => {
    const under = (l: LayerRecord) => {
      const p = l.placements[frame];
      return (
        l.visible && !l.locked && p !== undefined && containsPoint(rectOfPlacement(p), p.rotationDeg, x, y)
      );
    };
    return held.find(under) ?? [...layers].reverse().find(under) ?? null;
  };

  /** A press on a member takes its outermost group; the member itself is reached by a double press. */
  const outermost = (layer: LayerRecord): string => {
    let id = layer.id;
    for (let up = layer.groupId; up !== null; up = findRecord(document, 'layer', up)?.groupId ?? null)
      id = up;
    return id;
  };

  const pictureOfLayer = (layer: LayerRecord): Drag['layers'][number]['picture'] => {
    const { content } = layer;
    if (content.type === 'inset') return { size: frameSize, fit: content.fit };
    if (content.type !== 'input') return null;
    const whole = stage.inputSize(content.inputId);
    const input = findRecord(document, 'input', content.inputId);
    if (whole) return { size: whole, fit: content.fit };
    return input ? { size: adjustedSize({ width: 16, height: 9 }, input), fit: content.fit } : null;
  };

  const begin = (event: ReactPointerEvent, grip: Grip, dragging: readonly LayerRecord[]) => {
    if (dragging.length === 0) return;
    surface.current!.setPointerCapture(event.pointerId);
    const ids = new Set(dragging.map((l) => l.id));
    gesture.current = {
      type: 'drag',
      moved: false,
      from: { x: event.clientX, y: event.clientY },
      drag: {
        grip,
        frame: frameSize,
        layers: dragging.map((layer) => ({
          id: layer.id,
          placement: layer.placements[frame]!,
          keepsShape: layer.content.type === 'input' || layer.content.type === 'inset',
          picture: pictureOfLayer(layer),
        })),
        others: layers.flatMap((l) =>
          !ids.has(l.id) && l.visible && l.placements[frame] ? [boundsOfPlacement(l.placements[frame])] : [],
        ),
      },
    };
  };

  const onPointerDown = (event: ReactPointerEvent) => {
    setFrame(frame);
    if (event.button === 1 || space.current) {
      event.preventDefault();
      if (!part) return;
      surface.current!.setPointerCapture(event.pointerId);
      gesture.current = { type: 'pan', x: event.clientX, y: event.clientY, part };
      return;
    }
    if (event.button !== 0) return;
    const at = toFrame(event);
    if (stage.picking) return stage.picking(frame, at);
    if (stage.drawing) {
      surface.current!.setPointerCapture(event.pointerId);
      gesture.current = { type: 'band', from: at, keep: selection };
      return;
    }
    const layer = hit(at.x, at.y);
    const adding = event.shiftKey || event.ctrlKey || event.metaKey;
    if (!layer) {
      if (!adding) select([]);
      surface.current!.setPointerCapture(event.pointerId);
      gesture.current = { type: 'band', from: at, keep: adding ? selection : [] };
      return;
    }
    const id = outermost(layer);
    if (adding) return toggle(id);
    if (held.some((l) => l.id === layer.id)) return begin(event, { type: 'move' }, held);
    select([id]);
    begin(
      event,
      { type: 'move' },
      id === layer.id
        ? [layer]
        : layers.filter((l) => !l.locked && l.placements[frame] && outermost(l) === id),
    );
  };

  const onPointerMove = (event: ReactPointerEvent) => {
    const g = gesture.current;
    if (!g) return;
    if (g.type === 'pan') {
      setPart(frame, panned(g.part, frameSize, (g.x - event.clientX) / scale, (g.y - event.clientY) / scale));
      return;
    }
    if (g.type === 'band') return setBand(rectBetween(g.from, toFrame(event)));
    if (!g.moved && Math.hypot(event.clientX - g.from.x, event.clientY - g.from.y) < CLICK_SCREEN_PX) return;
    g.moved = true;
    const result = follow(event, g);
    setMarks({ guides: result.guides, distances: result.distances });
    store.preview(stage.written(placed(stage.base(), scene.id, frame, result.placements)));
  };

  const follow = (event: ReactPointerEvent, g: Extract<Gesture, { type: 'drag' }>) =>
    dragged(
      g.drag,
      (event.clientX - g.from.x) / scale,
      (event.clientY - g.from.y) / scale,
      toFrame(event),
      SNAP_SCREEN_PX / scale,
      keysOf(event),
    );

  const onPointerUp = (event: ReactPointerEvent) => {
    const g = gesture.current;
    gesture.current = null;
    setMarks({ guides: [], distances: [] });
    setBand(null);
    if (g?.type === 'drag' && g.moved)
      store.edit(
        `${dragName(g.drag.grip, keysOf(event))} ${namesOf(g.drag.layers.map((l) => findRecord(document, 'layer', l.id)!))}`,
        stage.written(placed(stage.base(), scene.id, frame, follow(event, g).placements)),
      );
    else if (g?.type === 'band') {
      const area = rectBetween(g.from, toFrame(event));
      if (area.width * scale < CLICK_SCREEN_PX && area.height * scale < CLICK_SCREEN_PX) return;
      if (stage.drawing) return stage.drawing(frame, area);
      const caught = layers.filter(
        (l) =>
          !l.locked &&
          l.visible &&
          l.placements[frame] &&
          intersects(area, boundsOfPlacement(l.placements[frame])),
      );
      select([...new Set([...g.keep, ...caught.map(outermost)])]);
    }
  };

  const abandon = () => {
    gesture.current = null;
    setMarks({ guides: [], distances: [] });
    setBand(null);
    store.cancel();
  };

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape') return;
      if (gesture.current) abandon();
      if (stage.picking) stage.setPicking(null);
      if (stage.drawing) stage.setDrawing(null);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });

  // React listens to the wheel passively, so that the page could scroll under the zoom.
  const onWheel = useRef<(event: WheelEvent) => void>(() => {});
  useEffect(() => {
    onWheel.current = (event) => {
      if (!event.ctrlKey && !event.metaKey && !part) return;
      event.preventDefault();
      if (event.ctrlKey || event.metaKey)
        setPart(frame, zoomed(size, frameSize, part, scale * Math.exp(-event.deltaY / 400), toFrame(event)));
      else setPart(frame, panned(part, frameSize, event.deltaX / scale, event.deltaY / scale));
    };
  });
  useEffect(() => {
    const box = surface.current!;
    const listen = (event: WheelEvent) => onWheel.current(event);
    box.addEventListener('wheel', listen, { passive: false });
    return () => box.removeEventListener('wheel', listen);
  }, []);

  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key === ' ') {
      event.preventDefault();
      space.current = true;
    }
    const middle = {
      x: (part?.x ?? 0) + size.width / scale / 2,
      y: (part?.y ?? 0) + size.height / scale / 2,
    };
    const zoom = { '+': 1.25, '=': 1.25, '-': 0.8 }[event.key];
    if (zoom && !event.ctrlKey) setPart(frame, zoomed(size, frameSize, part, scale * zoom, middle));
    else if (event.key === '0' && !event.ctrlKey) setPart(frame, null);
    else if (frameKeys(event, commands)) event.preventDefault();
    else if (event.key === 'Escape') select([]);
  };

  return (
    <div style={{ minWidth: 0 }}>
      <FrameTitle active={active}>
        {nameOfFrame(frame)} <span className="figure">{`${frameSize.width}×${frameSize.height}`}</span>
        {part && <span className="figure">{` ${Math.round(scale * 100)}%`}</span>}
      </FrameTitle>
      <div
        ref={surface}
        tabIndex={0}
        role="application"
        aria-label={`${nameOfFrame(frame)} frame. Choose a layer in the list, then move it with the arrow keys, ten pixels with shift.`}
        data-testid={frame === 'wide' ? 'frame' : 'frame-tall'}
        onFocus={() => setFrame(frame)}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={abandon}
        onDoubleClick={(event) => {
          const at = toFrame(event);
          const layer = hit(at.x, at.y);
          if (layer) select([layer.id]);
        }}
        onKeyDown={onKeyDown}
        onKeyUp={(event) => {
          if (event.key === ' ') space.current = false;
        }}
        onBlur={() => {
          space.current = false;
        }}
        style={{
          position: 'relative',
          width: size.width,
          height: size.height,
          // An empty scene is as dark as the room around it.
          boxShadow: '0 0 0 1px var(--line)',
          touchAction: 'none',
          cursor: stage.picking || stage.drawing ? 'crosshair' : 'default',
          userSelect: 'none',
        }}
      >
        <LiveView
          subject={{ type: 'edit', frame }}
          part={part}
          label={`${nameOfFrame(frame)}: the scene being edited, live`}
        />
        <svg
          viewBox={`0 0 ${size.width} ${size.height}`}
          style={{
            position: 'absolute',
            inset: 0,
            // Handles of what reaches over the edge can be taken hold of there, but not over the other frame.
            overflow: part ? 'hidden' : 'visible',
            width: '100%',
            height: '100%',
            pointerEvents: 'none',
          }}
        >
          {stage.safeAreas && <SafeAreas frame={frameSize} to={to} />}
          <Guides {...marks} to={to} box={size} />
          {outlined.length > 0 && !stage.picking && !stage.drawing && (
            <ChosenMarks
              layers={outlined}
              placements={outlined.map((l) => l.placements[frame]!)}
              to={to}
              box={size}
              locked={held.length === 0}
              onGrip={(event, grip) => {
                event.stopPropagation();
                setFrame(frame);
                begin(event, grip, held);
              }}
            />
          )}
          {band && (
            <rect
              x={to.x(band.x)}
              y={to.y(band.y)}
              width={band.width * scale}
              height={band.height * scale}
              fill="color-mix(in srgb, var(--glacier) 12%, transparent)"
              stroke="var(--glacier)"
              strokeDasharray="3 3"
            />
          )}
        </svg>
      </div>
    </div>
  );
}

/** Keys of the frame; those of the browser and the studio are left alone. @returns whether the key was taken */
function frameKeys(event: React.KeyboardEvent, commands: ReturnType<typeof useStageCommands>): boolean {
  const far = event.shiftKey ? 10 : 1;
  const command = event.ctrlKey || event.metaKey;
  const steps: Record<string, () => void> = {
    ArrowLeft: () => commands.moveBy(-far, 0),
    ArrowRight: () => commands.moveBy(far, 0),
    ArrowUp: () => (command ? commands.order(event.shiftKey ? 'top' : 'up') : commands.moveBy(0, -far)),
    ArrowDown: () => (command ? commands.order(event.shiftKey ? 'bottom' : 'down') : commands.moveBy(0, far)),
    Delete: commands.remove,
    Backspace: commands.remove,
  };
  const withCommand: Record<string, () => void> = {
    d: commands.duplicate,
    g: event.shiftKey ? commands.ungroup : commands.group,
    a: commands.selectAll,
  };
  const action = steps[event.key] ?? (command ? withCommand[event.key.toLowerCase()] : undefined);
  action?.();
  return action !== undefined;
}

function FrameTitle({ active, children }: { active: boolean; children: ReactNode }) {
  return (
    <div
      style={{
        height: 26,
        display: 'flex',
        alignItems: 'center',
        gap: 8,
        color: active ? 'var(--glacier)' : 'var(--quiet)',
        fontSize: 12.5,
        whiteSpace: 'nowrap',
        overflow: 'hidden',
      }}
    >
      {children}
    </div>
  );
}

function rectBetween(a: { x: number; y: number }, b: { x: number; y: number }): Rect {
  return {
    x: Math.min(a.x, b.x),
    y: Math.min(a.y, b.y),
    width: Math.abs(a.x - b.x),
    height: Math.abs(a.y - b.y),
  };
}
