import type { GroupRing, RingPacket } from '../../core/delivery/group-ring';

/** One stretch that never goes out; the cover stands in for it. */
interface Cut {
  fromUs: number;
  toUs: number;
}

/** The cover, played from its beginning for each cut. */
export interface FeedCover {
  restart(): void;
  /** What is due up to so many microseconds after its beginning; nothing when there is no cover. */
  until(elapsedUs: number): RingPacket[];
}

/**
 * Plays what the ring holds, so much later, to one destination. Stamps stay as they are: a delayed destination has the same
 * timeline as the others, only later.
 */
export class DelayedFeed {
  /** Everything before this was sent; null before the first. */
  #nextUs: number | null = null;
  #cuts: Cut[] = [];
  #covering: Cut | null = null;

  constructor(
    readonly ring: GroupRing<unknown>,
    readonly delayUs: number,
    readonly send: (packet: RingPacket) => void,
    readonly cover: FeedCover,
  ) {}

  /** Sends what is due. @param headUs how far the broadcast has got */
  tick(headUs: number): void {
    const untilUs = headUs - this.delayUs;
    this.#nextUs ??= this.#begin(untilUs);
    while (this.#nextUs !== null && this.#nextUs < untilUs) {
      const before: number = this.#nextUs;
      const covering = this.#covering;
      this.#nextUs = covering ? this.#playCover(covering, before, untilUs) : this.#playGroup(before, untilUs);
      // Nothing more is there now.
      if (this.#nextUs === before && this.#covering === covering) return;
    }
  }

  /** What was made in between and has not gone out here yet never will. @returns microseconds that are cut */
  cut(fromUs: number, toUs: number): number {
    const from = Math.max(fromUs, this.#nextUs ?? 0);
    if (toUs <= from) return 0;
    this.#cuts.push({ fromUs: from, toUs });
    this.#cuts.sort((a, b) => a.fromUs - b.fromUs);
    return toUs - from;
  }

  #begin(untilUs: number): number | null {
    const first = this.ring.groupAt(Math.max(0, untilUs));
    return first && first.startUs <= untilUs ? first.startUs : null;
  }

  /** Sends what is due of the group at `fromUs`. @returns up to where everything was sent */
  #playGroup(fromUs: number, untilUs: number): number {
    const group = this.ring.groupAt(fromUs);
    if (!group || group.endUs <= fromUs) return this.ring.groupAfter(fromUs)?.startUs ?? fromUs;
    const cut = this.#cuts[0];
    const stopUs = cut ? Math.min(untilUs, Math.max(cut.fromUs, fromUs)) : untilUs;
    const due = group.packets.filter((p) => p.timestampUs >= fromUs && p.timestampUs < stopUs);
    for (const packet of due) this.send(packet);
    if (cut && stopUs < untilUs && stopUs < group.endUs) {
      this.#cuts.shift();
      this.#covering = { fromUs: stopUs, toUs: cut.toUs };
      this.cover.restart();
      return stopUs;
    }
    const last = group.packets.at(-1);
    if (last && last.timestampUs < stopUs) return Math.max(fromUs, group.endUs);
    return due.length === 0 ? fromUs : due[due.length - 1].timestampUs + 1;
  }

  /** @returns up to where everything was sent */
  #playCover(cut: Cut, fromUs: number, untilUs: number): number {
    // Goes on with a keyframe: the first one after the cut.
    const endUs = this.ring.groupAfter(cut.toUs - 1)?.startUs ?? Infinity;
    for (const packet of this.cover.until(Math.min(untilUs, endUs) - cut.fromUs)) {
      const timestampUs = packet.timestampUs + cut.fromUs;
      if (timestampUs < endUs) this.send({ ...packet, timestampUs });
    }
    if (untilUs < endUs) return Math.max(fromUs, untilUs);
    this.#covering = null;
    return endUs;
  }
}
