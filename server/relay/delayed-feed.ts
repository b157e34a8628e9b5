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
  /** The group that is played, and the place of the next packet in it; null before the first. */
  #group: { startUs: number; packets: readonly RingPacket[] } | null = null;
  #next = 0;
  /** Everything before this was sent. */
  #sentUs = 0;
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
    if (!this.#group) {
      const first = this.ring.groupAt(Math.max(0, untilUs));
      if (!first || first.startUs > untilUs) return;
      this.#play(first);
    }
    while (this.#covering ? this.#playCover(this.#covering, untilUs) : this.#playGroup(untilUs));
  }

  /** What was made in between and has not gone out here yet never will. @returns microseconds that are cut */
  cut(fromUs: number, toUs: number): number {
    const from = Math.max(fromUs, this.#sentUs);
    if (toUs <= from) return 0;
    this.#cuts.push({ fromUs: from, toUs });
    this.#cuts.sort((a, b) => a.fromUs - b.fromUs);
    return toUs - from;
  }

  /** A group that is still open grows under our hands, one that leaves memory stays in ours. */
  #play(group: { startUs: number; packets: readonly RingPacket[] }): void {
    this.#group = group;
    this.#next = 0;
  }

  /** Sends what is due of the group. @returns whether there may be more to send now */
  #playGroup(untilUs: number): boolean {
    const { startUs, packets } = this.#group!;
    const cut = this.#cuts[0];
    const stopUs = cut ? Math.min(untilUs, cut.fromUs) : untilUs;
    while (this.#next < packets.length && packets[this.#next].timestampUs < stopUs)
      this.send(packets[this.#next++]);
    this.#sentUs = Math.max(this.#sentUs, stopUs);
    // By its place and not by stamps: sound of this group may end after the next keyframe begins.
    const after = this.#next === packets.length ? this.ring.groupAfter(startUs) : null;
    if (after && after.startUs < stopUs) {
      this.#play(after);
      return true;
    }
    if (!cut || untilUs <= cut.fromUs) return false;
    this.#cuts.shift();
    this.#covering = cut;
    this.cover.restart();
    return true;
  }

  /** @returns whether there may be more to send now */
  #playCover(cut: Cut, untilUs: number): boolean {
    // Goes on with a keyframe: the first one after the cut.
    const after = this.ring.groupAfter(cut.toUs - 1);
    const endUs = after?.startUs ?? Infinity;
    for (const packet of this.cover.until(Math.min(untilUs, endUs) - cut.fromUs)) {
      const timestampUs = packet.timestampUs + cut.fromUs;
      if (timestampUs < endUs) this.send({ ...packet, timestampUs });
    }
    this.#sentUs = Math.max(this.#sentUs, Math.min(untilUs, endUs));
    if (!after || untilUs < endUs) return false;
    this.#covering = null;
    this.#play(after);
    return true;
  }
}
