import { within } from '../../core/geometry/rect';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { SeatRecord } from '../../core/guests/seats';
import { FRAME_NAMES } from '../../core/show/records';
import type { ViewSubject } from '../../protocol/engine';
import type { LiveCanvas } from '../live-canvas';

/** Pictures that go back are small: they are for following the show by. Of its longer side. */
const SIDE = 320;
const FPS = 15;
/** A window of its own among the stage's views: it is looked at whether the desk's page is or not. */
export const RETURNS_WINDOW = 'returns';

interface Shown {
  key: string;
  view: LiveCanvas;
  track: MediaStreamTrack;
}

/** What guests see of the show: one picture for all who see the same, made while somebody does. */
export class ReturnPictures {
  readonly #shown = new Map<string, Shown>();

  constructor(
    readonly addView: (
      canvas: HTMLCanvasElement,
      subject: ViewSubject,
      width: number,
      height: number,
      windowId: string,
    ) => LiveCanvas,
  ) {}

  /** @returns null where a seat is shown nothing */
  trackFor(document: ShowDocument, seat: SeatRecord | null): MediaStreamTrack | null {
    const subject = subjectOf(document, seat);
    if (!subject) return null;
    const key = JSON.stringify(subject);
    const known = this.#shown.get(key);
    if (known) return known.track;
    const frame = recordsOf(document, 'show')[0]?.frames[subject.frame] ?? { width: 1920, height: 1080 };
    const { width, height } = within(frame, SIDE);
    const canvas = globalThis.document.createElement('canvas');
    const view = this.addView(canvas, subject, width, height, RETURNS_WINDOW);
    const [track] = canvas.captureStream(FPS).getVideoTracks();
    this.#shown.set(key, { key, view, track });
    return track;
  }

  /** Ends what nobody sees any more. */
  keep(document: ShowDocument, seats: readonly (SeatRecord | null)[]): void {
    const wanted = new Set(seats.map((seat) => JSON.stringify(subjectOf(document, seat))));
    for (const { key, view, track } of [...this.#shown.values()]) {
      if (wanted.has(key)) continue;
      track.stop();
      view.remove();
      this.#shown.delete(key);
    }
  }
}

/** Without a seat one sees what most viewers do. */
function subjectOf(document: ShowDocument, seat: SeatRecord | null): ViewSubject | null {
  const frames = recordsOf(document, 'show')[0]?.frames;
  const first = FRAME_NAMES.find((frame) => frames?.[frame].used) ?? 'wide';
  if (!seat) return { type: 'onAir', frame: first };
  const { sees, inputId } = seat.source;
  if (sees === 'nothing') return null;
  if (sees === 'input') return inputId !== null ? { type: 'input', inputId, frame: first } : null;
  return { type: 'onAir', frame: frames?.[sees].used ? sees : first };
}
