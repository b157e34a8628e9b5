import type { MediaPacket } from '../media/interleaver';

/** A packet on the common timeline, with the number of the headers it belongs to. */
export interface RingPacket extends MediaPacket {
  headers: number;
}

/** Where groups go that no longer fit into memory. */
export interface GroupStore<Ref> {
  write(packets: readonly RingPacket[]): Ref;
  read(ref: Ref): RingPacket[];
  drop(ref: Ref): void;
}

interface Group<Ref> {
  startUs: number;
  endUs: number;
  /** Of its pictures. */
  headers: number;
  bytes: number;
  packets: RingPacket[] | null;
  ref: Ref | null;
}

/**
 * The last minutes of what went out, by groups of pictures: for looking back and for destinations with a delay. The
 * newest groups are in memory up to a bound; older ones are stored; the oldest are forgotten.
 */
export class GroupRing<Ref> {
  readonly #groups: Group<Ref>[] = [];
  #memoryBytes = 0;
  #storedBytes = 0;
  /** Why nothing is stored any more; empty while all is well. */
  problem = '';

  constructor(
    /** How far it reaches back, microseconds. */
    public spanUs: number,
    readonly memoryLimit: number,
    readonly store: GroupStore<Ref>,
  ) {}

  get memoryBytes(): number {
    return this.#memoryBytes;
  }

  get storedBytes(): number {
    return this.#storedBytes;
  }

  /** The oldest stamp there is; null when empty. */
  get startUs(): number | null {
    return this.#groups[0]?.startUs ?? null;
  }

  get endUs(): number {
    return this.#groups.at(-1)?.endUs ?? 0;
  }

  /** @param packet stamps never fall; its payload must not change any more */
  add(packet: RingPacket): void {
    const opens = packet.track === 'video' && packet.keyframe;
    let last = this.#groups.at(-1);
    if (opens || !last) {
      if (!opens) return; // nothing can be shown before the first keyframe
      const { timestampUs, headers } = packet;
      last = { startUs: timestampUs, endUs: timestampUs, headers, bytes: 0, packets: [], ref: null };
      this.#groups.push(last);
      this.#shrink();
    }
    last.packets!.push(packet);
    last.bytes += packet.payload.length;
    last.endUs = Math.max(last.endUs, packet.timestampUs + packet.durationUs);
    this.#memoryBytes += packet.payload.length;
  }

  /**
   * All packets from the keyframe at or before `fromUs` up to `toUs`.
   * @returns an empty iteration when nothing of it is left
   */
  *range(fromUs: number, toUs: number): Generator<RingPacket> {
    let at = this.#groups.findLastIndex((g) => g.startUs <= fromUs);
    if (at < 0) at = 0;
    // Groups may be forgotten while the caller takes its time: go on by stamp, not by place.
    let next = this.#groups[at];
    while (next && next.startUs < toUs) {
      const { startUs } = next;
      for (const packet of this.#packetsOf(next)) if (packet.timestampUs < toUs) yield packet;
      next = this.#groups.find((g) => g.startUs > startUs) as Group<Ref>;
    }
  }

  /**
   * The stretches of one kind of headers each between two moments, from the keyframe at or before the first: a file can hold
   * one of them.
   */
  runs(fromUs: number, toUs: number): { headers: number; fromUs: number; toUs: number }[] {
    const runs: { headers: number; fromUs: number; toUs: number }[] = [];
    const first = Math.max(
      0,
      this.#groups.findLastIndex((g) => g.startUs <= fromUs),
    );
    for (const { startUs, headers } of this.#groups.slice(first)) {
      if (startUs >= toUs) break;
      const last = runs.at(-1);
      if (last?.headers === headers) continue;
      if (last) last.toUs = startUs;
      runs.push({ headers, fromUs: startUs, toUs });
    }
    return runs;
  }

  /** Packets of the group that begins at or last before `us`; null when there is none. */
  groupAt(us: number): { startUs: number; endUs: number; packets: readonly RingPacket[] } | null {
    const group = this.#groups.findLast((g) => g.startUs <= us) ?? this.#groups[0];
    return group ? { startUs: group.startUs, endUs: group.endUs, packets: this.#packetsOf(group) } : null;
  }

  /** Packets of the first group that begins after `us`; null when there is none yet. */
  groupAfter(us: number): { startUs: number; endUs: number; packets: readonly RingPacket[] } | null {
    const group = this.#groups.find((g) => g.startUs > us);
    return group ? { startUs: group.startUs, endUs: group.endUs, packets: this.#packetsOf(group) } : null;
  }

  /** Forgets everything. */
  clear(): void {
    for (const group of this.#groups.splice(0)) this.#forget(group);
  }

  #packetsOf(group: Group<Ref>): readonly RingPacket[] {
    return group.packets ?? (group.ref === null ? [] : this.store.read(group.ref));
  }

  /** The open group stays; whole ones leave memory, oldest first, and then the ring. */
  #shrink(): void {
    const newest = this.#groups[this.#groups.length - 1].startUs;
    while (this.#groups.length > 1 && this.#groups[1].startUs <= newest - this.spanUs)
      this.#forget(this.#groups.shift()!);
    for (const group of this.#groups) {
      if (this.#memoryBytes <= this.memoryLimit) return;
      if (!group.packets || group === this.#groups.at(-1)) continue;
      try {
        group.ref = this.store.write(group.packets);
        this.#storedBytes += group.bytes;
        this.problem = '';
      } catch (error) {
        // No disk: what does not fit into memory is lost, and said.
        this.problem = error instanceof Error ? error.message : String(error);
      }
      group.packets = null;
      this.#memoryBytes -= group.bytes;
    }
    // What could not be stored cannot be shown.
    while (this.#groups.length > 1 && !this.#groups[0].packets && this.#groups[0].ref === null)
      this.#groups.shift();
  }

  #forget(group: Group<Ref>): void {
    if (group.packets) this.#memoryBytes -= group.bytes;
    if (group.ref !== null) {
      this.#storedBytes -= group.bytes;
      this.store.drop(group.ref);
    }
    group.packets = null;
    group.ref = null;
  }
}
