import { createContext, useContext, useLayoutEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import { messageOf } from '~/core/fault';
import type { Point, Rect, Size } from '~/core/geometry/rect';
import { findRecord, rebased, type ShowDocument } from '~/core/show/document';
import { layersOfScene, ownLayers, standingIn } from '~/core/show/layers';
import { adjustedSize } from '~/core/geometry/adjust';
import { usedFrames, withMembers } from '~/core/show/stage-edits';
import { intoPose, posed } from '~/core/show/poses';
import type { AnyRecord, FrameName, LayerRecord, PoseRecord, SceneRecord } from '~/core/show/records';
import { useDocument, useStudio } from '../studio/studio-context';

/** What is chosen and looked at in Stage; the show itself is in the document. */
export interface StageParts {
  /** These parts as they are now: lists and fields are drawn from those of a moment ago. */
  newest: () => StageParts;
  /** The show as it stands on the frames: in the chosen pose of the scene. */
  document: ShowDocument;
  scene: SceneRecord;
  /** The pose in the editor; null when the scene has none. */
  pose: PoseRecord | null;
  setPose: (poseId: string) => void;
  /** As `document`, without what is only shown for now. */
  base: () => ShowDocument;
  /** Records made from `document` or `base`, as they are put into the show. */
  written: (put: AnyRecord[]) => AnyRecord[];
  /** The frame that commands and numbers are about. */
  frame: FrameName;
  setFrame: (frame: FrameName) => void;
  /** Which frames are open for editing. */
  shown: 'both' | FrameName;
  setShown: (shown: 'both' | FrameName) => void;
  /** The visible part of each frame, frame pixels; null for all of it. */
  parts: Record<FrameName, Rect | null>;
  setPart: (frame: FrameName, part: Rect | null) => void;
  safeAreas: boolean;
  setSafeAreas: (on: boolean) => void;
  /** Ids of the chosen layers, in the order of choosing. */
  selection: readonly string[];
  select: (ids: readonly string[]) => void;
  toggle: (id: string) => void;
  /** The chosen layers as the scene has them. */
  chosen: LayerRecord[];
  /** The chosen layers that have a place: members instead of their groups, without the locked ones. */
  movable: LayerRecord[];
  panel: 'layers' | 'inputs';
  setPanel: (panel: 'layers' | 'inputs') => void;
  inputId: string | null;
  setInputId: (id: string | null) => void;
  /** Told where the next press on a frame is, instead of what a press does otherwise; null when nothing waits for one. */
  picking: Picking | null;
  setPicking: (picking: Picking | null) => void;
  /** Told the next rectangle that is drawn on a frame; null when nothing waits for one. */
  drawing: Drawing | null;
  setDrawing: (drawing: Drawing | null) => void;
  /** Size of an input's picture as it runs now, or null while it has none. */
  inputSize: (inputId: string) => Size | null;
  /** Edits, or says why not. @returns whether it was done */
  edit: (name: string, put: AnyRecord[], removed?: string[]) => boolean;
}

/** @param at the point in frame pixels */
export type Picking = (frame: FrameName, at: Point) => void;
/** @param rect in frame pixels */
export type Drawing = (frame: FrameName, rect: Rect) => void;

export const StageContext = createContext<StageParts | null>(null);

export function useStage(): StageParts {
  const parts = useContext(StageContext);
  if (!parts) throw new Error('useStage() outside Stage');
  return parts;
}

const NO_PARTS: Record<FrameName, Rect | null> = { wide: null, tall: null };

export function StageProvider({
  sceneId: ofScene,
  poseId,
  setPose,
  children,
}: {
  sceneId: string;
  poseId: string | null;
  setPose: (poseId: string) => void;
  children: ReactNode;
}) {
  const { store, desk, say } = useStudio();
  const document = posed(useDocument(), ofScene, poseId);
  const scene = findRecord(document, 'scene', ofScene)!;
  const [frame, setFrame] = useState<FrameName>('wide');
  const [shown, setShown] = useState<'both' | FrameName>('both');
  const [parts, setParts] = useState(NO_PARTS);
  const [safeAreas, setSafeAreas] = useState(false);
  const [selection, setSelection] = useState<readonly string[]>([]);
  const [panel, setPanel] = useState<'layers' | 'inputs'>('layers');
  const [inputId, setInputId] = useState<string | null>(null);
  const [picking, setPicking] = useState<Picking | null>(null);
  const [drawing, setDrawing] = useState<Drawing | null>(null);
  const [sceneId, setSceneId] = useState(scene.id);
  // Another scene: what was chosen belongs to the one before.
  if (sceneId !== scene.id) {
    setSceneId(scene.id);
    setSelection([]);
    setDrawing(null);
  }
  const used = usedFrames(document);
  const current = used.includes(frame) ? frame : (used[0] ?? 'wide');
  const newestParts = useRef<StageParts | null>(null);

  const value = useMemo<StageParts>(() => {
    const inScene = (layer: LayerRecord) =>
      layer.sceneId === null ? standingIn(document, layer, scene.id) : layer;
    const chosen = selection.flatMap((id) => {
      const layer = findRecord(document, 'layer', id);
      return layer && (layer.sceneId === null || layer.sceneId === scene.id) ? [inScene(layer)] : [];
    });
    const leaves = layersOfScene(document, scene.id);
    const ids = new Set(withMembers(document, chosen).map((l) => l.id));
    const chosenLeaves = leaves.filter((l) => ids.has(l.id) && !l.locked);
    // In the order of choosing where layers were chosen one by one: the first is the one others are made alike to.
    const movable = [
      ...selection.flatMap((id) => chosenLeaves.find((l) => l.id === id) ?? []),
      ...chosenLeaves.filter((l) => !selection.includes(l.id)),
    ];
    return {
      newest: () => newestParts.current!,
      document,
      scene,
      pose: findRecord(document, 'pose', poseId),
      setPose,
      base: () => posed(store.base(), scene.id, poseId),
      written: (put) => intoPose(store.base(), scene.id, poseId, put),
      frame: current,
      setFrame,
      shown,
      setShown,
      parts,
      setPart: (of, part) => setParts((before) => ({ ...before, [of]: part })),
      safeAreas,
      setSafeAreas,
      selection,
      select: (next) => {
        setSelection(next);
        if (next.length > 0) setPanel('layers');
      },
      toggle: (id) =>
        setSelection((before) => (before.includes(id) ? before.filter((s) => s !== id) : [...before, id])),
      chosen,
      movable,
      panel,
      setPanel,
      inputId,
      setInputId,
      picking,
      // A function given to a state's setter would be called by it.
      setPicking: (next) => setPicking(() => next),
      drawing,
      setDrawing: (next) => setDrawing(() => next),
      inputSize: (id) => {
        // Asked for when it is needed: reports come twice a second, and nothing is drawn anew for them.
        const state = desk.snapshot().inputs.find((i) => i.inputId === id);
        if (state && state.width > 0) return { width: state.width, height: state.height };
        const input = findRecord(document, 'input', id);
        return input?.source.type === 'camera' ? adjustedSize(input.source, input) : null;
      },
      edit: (name, put, removed = []) => {
        try {
          // The panels may show the show of a moment ago.
          const now = store.document();
          const changed = rebased(put, document, posed(now, scene.id, poseId));
          store.edit(name, intoPose(now, scene.id, poseId, changed), removed);
          return true;
        } catch (error) {
          say(messageOf(error));
          return false;
        }
      },
    };
  }, [
    document,
    scene,
    poseId,
    setPose,
    current,
    shown,
    parts,
    safeAreas,
    selection,
    panel,
    inputId,
    picking,
    drawing,
    desk,
    store,
    say,
  ]);
  useLayoutEffect(() => {
    newestParts.current = value;
  }, [value]);
  return <StageContext value={value}>{children}</StageContext>;
}

/** Whether a layer still has members or stands alone: groups are named with their number of members. */
export function memberCount(document: ShowDocument, group: LayerRecord): number {
  return ownLayers(document, group.sceneId).filter((l) => l.groupId === group.id).length;
}
