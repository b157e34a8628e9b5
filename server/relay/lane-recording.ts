import type { Clock } from '../../core/time/clock';
import path from 'node:path';
import type { MediaPacket } from '../../core/media/interleaver';
import type { RecordedPicture } from '../../core/delivery/settings';
import type { RecordOrder } from '../../protocol/relay-orders';
import { ALL_ROOM, type RecordingRoom } from '../../core/delivery/recording-room';
import { Recorder, type RecordingConfig } from './recorder';

/** Between tries to begin again after a recording stopped. */
const RESUME_EVERY_MS = 10_000;
import { RecordingTracks } from './recording-tracks';

export interface RecordingPlace {
  folder: string;
  sessionId: string;
  picture: RecordedPicture;
  /** Null for the names a broadcast has when nobody chose any. */
  order: RecordOrder | null;
  /** Whether it has the recording tracks: one recording of a broadcast does. */
  tracks: boolean;
}

/** The recording of one lane: a new file when headers change, after a pause, when one is long enough, and when one was deleted under it. */
export class LaneRecording {
  recorder: Recorder | null = null;
  /** Names of all files of this broadcast, oldest first. */
  readonly files: string[] = [];
  paused = false;
  /** What the disk has room for. */
  #room = ALL_ROOM;
  #resumeAtMs = 0;
  readonly #finished: Recorder[] = [];
  #config: RecordingConfig | null = null;
  /** Bytes of pictures and sound in the present file. */
  #handedBytes = 0;
  #openedUs = 0;
  #due = false;
  readonly #tracks = new RecordingTracks();

  constructor(
    readonly place: RecordingPlace,
    readonly clock: Clock,
  ) {}

  /** What follows has these headers: a file of its own. */
  begin(config: RecordingConfig): void {
    this.#config = config;
    this.#close();
    if (!this.paused && !this.#isOff) this.#open(null);
  }

  pause(paused: boolean): void {
    if (paused === this.paused) return;
    this.paused = paused;
    if (paused) this.#close();
    // Goes on with the next keyframe.
    else this.#due = true;
  }

  /** Bytes that are on the disk now, of all its files. */
  get bytes(): number {
    return this.#finished.reduce((sum, r) => sum + r.bytes, 0) + (this.recorder?.bytes ?? 0);
  }

  /** Less is recorded while the disk fills up; one that stopped begins again where there is room. */
  setRoom(room: RecordingRoom): void {
    const [before, now] = [this.#room, room];
    this.#room = room;
    if (this.#isOff) this.#close();
    else if (this.#config && !this.paused) {
      const stopped = this.recorder === null || this.recorder.message !== '';
      const nowMs = this.clock.nowMs();
      if (stopped && now.resume && nowMs >= this.#resumeAtMs) {
        this.#due = true;
        this.#resumeAtMs = nowMs + RESUME_EVERY_MS;
      }
      // Another choice of tracks is another file.
      if (before.tracks !== now.tracks && this.#config.tracks.length > 0) this.#due = true;
    }
  }

  get #isOff(): boolean {
    return this.place.picture === 'clean' && !this.#room.clean;
  }

  /** @param packet on the common timeline */
  add(packet: MediaPacket): void {
    if (this.paused || !this.#config || this.#isOff) return;
    if (packet.track === 'video' && packet.keyframe) {
      const split = (this.place.order?.splitMinutes ?? 0) * 60e6;
      const most = (this.place.order?.splitMb ?? 0) * 1e6;
      const long = split > 0 && packet.timestampUs - this.#openedUs >= split - 1000;
      // What was handed over: the file itself follows a second later.
      const large = most > 0 && this.#handedBytes >= most;
      if (this.#due || (this.recorder && (long || large || this.recorder.deleted))) {
        this.#close();
        this.#open(packet.timestampUs);
      }
      if (this.#openedUs === -1) this.#openedUs = packet.timestampUs;
    }
    this.#handedBytes += packet.payload.length;
    this.recorder?.add(packet);
  }

  /** Sound of a recording track, from the desk called `source`. */
  addExtra(packet: MediaPacket, source: string): void {
    this.#record(this.#tracks.add(packet, source));
  }

  /** Records what belongs to a moment of the programme. Under the cover every track gets its silence. */
  addExtrasOf(programme: MediaPacket, placedUs: number, source: string): void {
    if (source.startsWith('cover:'))
      this.#record(this.#tracks.fill(programme, placedUs, this.recorder?.tracks ?? []));
    else this.#record(this.#tracks.place(programme.timestampUs, placedUs, source));
  }

  #record(packets: readonly MediaPacket[]): void {
    if (this.paused) return;
    for (const packet of packets) {
      this.#handedBytes += packet.payload.length;
      this.recorder?.add(packet);
    }
  }

  /** Finishes everything; resolves when the files are closed. */
  async end(): Promise<void> {
    this.#close();
    await Promise.all(this.#finished.map((r) => r.close()));
  }

  #close(): void {
    if (!this.recorder) return;
    void this.recorder.close();
    this.#finished.push(this.recorder);
    this.recorder = null;
  }

  #open(atUs: number | null): void {
    const { folder } = this.place;
    this.#due = false;
    this.#openedUs = atUs ?? -1;
    this.#handedBytes = 0;
    const config = this.#config!;
    const tracks = this.#room.tracks ? config.tracks : [];
    this.recorder = new Recorder(folder, this.#name(), { ...config, tracks });
    this.files.push(path.basename(this.recorder.file));
  }

  #name(): string {
    const { order, picture, sessionId } = this.place;
    const part = this.files.length === 0 ? '' : `-${this.files.length + 1}`;
    const stamp = new Date(this.clock.nowMs()).toISOString();
    const unique = sessionId.slice(0, 8);
    if (!order) {
      const shape = picture === 'wide' ? '' : `-${picture}`;
      return `${stamp.replace(/[:.]/g, '-').slice(0, 19)}-${unique}${shape}${part}.mkv`;
    }
    const words = order.pattern
      .replaceAll('{date}', stamp.slice(0, 10))
      .replaceAll('{time}', stamp.slice(11, 19).replaceAll(':', '-'))
      .replaceAll('{frame}', picture);
    // Several pictures, parts and broadcasts never fall on one name.
    const shape = order.pattern.includes('{frame}') || picture === 'wide' ? '' : ` ${picture}`;
    return `${words}${shape} ${unique}${part}.mkv`;
  }
}
