/** Tells when a countdown of the scene on air is at zero, once for each time the scene comes on. */
import { countdownEnd, secondsLeft } from '../../core/audience/countdown';
import type { OnAir } from '../../core/motion/programme';
import type { ShowDocument } from '../../core/show/document';
import { layersOfScene } from '../../core/show/layers';
import { posed } from '../../core/show/poses';
import type { LiveAudience } from './live-audience';

export class Countdowns {
  /** Those that were told of. */
  readonly #told = new Set<string>();
  #sceneSinceMs = 0;

  constructor(
    readonly audience: LiveAudience,
    /** `thenNext`: it is to bring on the next scene by itself. */
    readonly ended: (sceneId: string, thenNext: boolean) => void,
  ) {}

  /** @param seconds of the programme */
  look(onAir: OnAir | null, document: ShowDocument, seconds: number): void {
    // What is still on its way counts when it is there.
    if (!onAir || onAir.from !== null) return;
    const { sceneId, poseId } = onAir;
    for (const { id, visible, content } of layersOfScene(posed(document, sceneId, poseId), sceneId)) {
      if (!visible || content.type !== 'widget' || content.widget.of !== 'countdown') continue;
      const { nowMs, sceneSinceMs, sceneFirstMs, zoneOffsetMinutes } = this.audience.now(sceneId, seconds);
      if (sceneSinceMs !== this.#sceneSinceMs) {
        this.#sceneSinceMs = sceneSinceMs;
        this.#told.clear();
      }
      const sinceMs = content.widget.restart ? sceneSinceMs : sceneFirstMs;
      const end = countdownEnd(content.widget, sinceMs, zoneOffsetMinutes);
      if (secondsLeft(end, nowMs) > 0 || this.#told.has(id)) continue;
      this.#told.add(id);
      this.ended(sceneId, content.widget.thenNext);
    }
  }
}
