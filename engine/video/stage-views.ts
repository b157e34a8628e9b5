import type { Rect, Size } from '../../core/geometry/rect';
import type { OnAir, Stop } from '../../core/motion/programme';
import type { FrameName } from '../../core/show/records';
import type { ViewSubject } from '../../protocol/engine';
import type { Compositor } from './compositor';
import { paintAlertPreview, type AlertPreview } from './paint-alert';
import type { ColouredSource } from './sources/coloured-source';
import type { DrawContext } from './sources/picture-source';

/**
 * What is not for motion is drawn every so many pictures: one small picture of a scene, in turn, and magnified views, which
 * are for looking closely and cost a whole frame each.
 */
const SELDOM_EVERY = 4;

interface View {
  canvas: OffscreenCanvas;
  context: DrawContext;
  subject: ViewSubject;
  part: Rect | null;
  /** The window it stands in. */
  windowId: string;
  /** Not scrolled away. */
  seen: boolean;
  /** What drew on it last; its picture is known to that one alone. */
  by: Compositor | null;
}

export interface Shown {
  onAir: OnAir | null;
  /** What is in the editor. */
  edit: Stop | null;
  canvasOf(frame: FrameName): OffscreenCanvas | null;
  frameSize(frame: FrameName): Size;
  source(inputId: string): ColouredSource | undefined;
  alertPreview(ruleId: string, seconds: number): AlertPreview | null;
  /** What a scene is drawn with that is laid out and not seen so on air; null: as everything else. */
  layingOut: Compositor | null;
  /** What is tried in the editor, as it looks now; null when nothing is. */
  tried(frame: FrameName, size: Size): OffscreenCanvas | null;
}

/**
 * Whether what is edited is what viewers see: a glide is seen on the frames as they see it; of another scene coming on, only
 * what it will be.
 */
function isOnAir(edit: Stop | null, onAir: OnAir | null): boolean {
  const within = onAir !== null && (!onAir.from || onAir.from.transition === null);
  return within && edit?.sceneId === onAir.sceneId && edit.poseId === onAir.poseId;
}

/** The live pictures in the page: what is on air, what is edited, and the scenes' small pictures. */
export class StageViews {
  readonly #views = new Map<string, View>();
  readonly #whole = new Map<FrameName, Pick<View, 'canvas' | 'context' | 'by'>>();
  /** Windows that lie behind others, or are minimised. */
  readonly #hidden = new Set<string>();
  #thumbnail = 0;
  #slot = -1;

  constructor(readonly compositor: Compositor) {}

  add(viewId: string, canvas: OffscreenCanvas, subject: ViewSubject, windowId: string): void {
    const context = canvas.getContext('2d', { alpha: false })!;
    this.#views.set(viewId, { canvas, context, subject, windowId, part: null, seen: true, by: null });
  }

  size(viewId: string, width: number, height: number): void {
    const view = this.#views.get(viewId);
    if (!view) return;
    view.canvas.width = width;
    view.canvas.height = height;
    view.by = null;
    this.compositor.forget(view.context);
  }

  setPart(viewId: string, part: Rect | null): void {
    const view = this.#views.get(viewId);
    if (!view) return;
    view.part = part;
    view.by = null;
    this.compositor.forget(view.context);
  }

  see(viewId: string, seen: boolean): void {
    const view = this.#views.get(viewId);
    if (view) view.seen = seen;
  }

  setVisible(windowId: string, visible: boolean): void {
    if (visible) this.#hidden.delete(windowId);
    else this.#hidden.add(windowId);
  }

  /** Whether anybody can see any of them. */
  get watched(): boolean {
    for (const view of this.#views.values()) if (this.#canBeSeen(view)) return true;
    return false;
  }

  #canBeSeen({ seen, windowId }: View): boolean {
    return seen && !this.#hidden.has(windowId);
  }

  /** Whether anything shows this frame as it goes out. */
  shows(frame: FrameName, onAir: OnAir | null, edit: Stop | null): boolean {
    for (const view of this.#views.values()) {
      const { subject, part } = view;
      if (part || subject.frame !== frame || !this.#canBeSeen(view)) continue;
      if (subject.type === 'onAir' || (subject.type === 'edit' && isOnAir(edit, onAir))) return true;
    }
    return false;
  }

  remove(viewId: string): void {
    this.#views.delete(viewId);
  }

  /** Inputs that are looked at by themselves. */
  inputs(): Set<string> {
    const ids = new Set<string>();
    for (const { subject } of this.#views.values()) if (subject.type === 'input') ids.add(subject.inputId);
    return ids;
  }

  draw(index: number, seconds: number, shown: Shown): void {
    const thumbnails: View[] = [];
    const slot = Math.floor(index / SELDOM_EVERY);
    const seldom = slot !== this.#slot;
    this.#slot = slot;
    for (const view of this.#views.values()) {
      if (!this.#canBeSeen(view)) continue;
      if (view.subject.type === 'scene') thumbnails.push(view);
      else if (view.part) {
        if (seldom) this.#part(view, view.part, seconds, shown);
      } else this.#full(view, seconds, shown);
    }
    if (thumbnails.length === 0 || !seldom) return;
    const { subject, context, canvas } = thumbnails[this.#thumbnail++ % thumbnails.length];
    if (subject.type === 'scene')
      this.compositor.draw(context, subject, subject.frame, canvas.width, canvas.height, seconds);
  }

  /** What the scene in the editor is drawn with. Another one than before knows nothing of the picture that is there. */
  #editor(view: { context: DrawContext; by: Compositor | null }, { layingOut }: Shown): Compositor {
    const by = layingOut ?? this.compositor;
    if (view.by !== by) by.forget(view.context);
    view.by = by;
    return by;
  }

  #full(view: View, seconds: number, shown: Shown): void {
    const { subject, context, canvas } = view;
    const { width, height } = canvas;
    if (subject.type === 'input') {
      const coloured = shown.source(subject.inputId);
      const source = subject.bare ? coloured?.inner : coloured;
      context.fillStyle = '#000';
      context.fillRect(0, 0, width, height);
      if (source?.state === 'ready' && source.width > 0)
        source.draw(context, { x: 0, y: 0, width: source.width, height: source.height }, width, height);
      return;
    }
    if (subject.type === 'alertPreview') {
      paintAlertPreview(
        context,
        this.compositor.bitmaps,
        shown.alertPreview(subject.ruleId, seconds),
        seconds,
        width,
        height,
      );
      return;
    }
    const tried = subject.type === 'edit' ? shown.tried(subject.frame, canvas) : null;
    if (tried) {
      context.drawImage(tried, 0, 0, width, height);
      view.by = null;
      this.compositor.forget(context);
      return;
    }
    const programme = shown.canvasOf(subject.frame);
    const { onAir, edit } = shown;
    const asSeen = !shown.layingOut && isOnAir(edit, onAir);
    // Copying the finished picture is cheaper than drawing the scene again, unless the view is finer than it.
    if (programme && (subject.type === 'onAir' || (asSeen && programme.width * 1.3 >= width))) {
      // Reduced to less than half, the cheap filter would leave pixels out.
      context.imageSmoothingQuality = programme.width > 2 * width ? 'medium' : 'low';
      context.drawImage(programme, 0, 0, width, height);
      view.by = null;
      this.compositor.forget(context);
    } else if (edit) this.#editor(view, shown).draw(context, edit, subject.frame, width, height, seconds);
  }

  /** A part of the scene at the frame's own pixels, each of them a clear square. */
  #part(view: View, part: Rect, seconds: number, shown: Shown): void {
    const { subject, context, canvas } = view;
    if (!shown.edit) return;
    const { width, height } = shown.frameSize(subject.frame);
    let whole = this.#whole.get(subject.frame);
    if (whole?.canvas.width !== width || whole.canvas.height !== height) {
      const made = new OffscreenCanvas(width, height);
      whole = { canvas: made, context: made.getContext('2d', { alpha: false })!, by: null };
      this.#whole.set(subject.frame, whole);
    }
    this.#editor(whole, shown).draw(whole.context, shown.edit, subject.frame, width, height, seconds);
    context.imageSmoothingEnabled = part.width > canvas.width;
    context.fillStyle = '#0b0e11';
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(
      whole.canvas,
      part.x,
      part.y,
      part.width,
      part.height,
      0,
      0,
      canvas.width,
      canvas.height,
    );
    context.imageSmoothingEnabled = true;
  }
}
