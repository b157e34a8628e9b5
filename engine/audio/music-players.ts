import type { Cancel } from '../../core/time/clock';
import { systemClock } from '../system-clock';
import type { ChannelRecord } from '../../core/show/records';
import type { FromMusic, ToMusic } from '../../protocol/sound-engine';
import { FileRing } from '../../protocol/shared-sound';
import { assetUrl } from '../asset-url';

type MusicChannel = ChannelRecord & { source: { type: 'music' } };

interface Player {
  worker: Worker;
  ring: SharedArrayBuffer;
  /** The list as the worker has it. */
  list: string;
  playing: boolean;
  cancelStop: Cancel;
}

export interface MusicNow {
  place: number;
  name: string;
  /** When it will be over, milliseconds since 1970; null until that is known. */
  endsAtMs: number | null;
}

/** A worker for each music channel, which plays its list into shared memory. */
export class MusicPlayers {
  readonly #players = new Map<string, Player>();

  constructor(
    readonly clock: SharedArrayBuffer,
    readonly onNow: (channelId: string, now: MusicNow | null) => void,
    readonly onEnded: (channelId: string) => void,
    readonly tell: (channelId: string, problem: string | null) => void,
  ) {}

  /** @returns the memory the channel's sound is in */
  ringOf(channelId: string): SharedArrayBuffer {
    return this.#player(channelId).ring;
  }

  update(channels: readonly ChannelRecord[]): void {
    const wanted = channels.filter((c): c is MusicChannel => c.source.type === 'music');
    for (const [id, player] of this.#players)
      if (!wanted.some((c) => c.id === id)) {
        player.worker.terminate();
        this.#players.delete(id);
      }
    for (const { id, source, fadeSeconds } of wanted) {
      const player = this.#player(id);
      const { files, order, loop } = source;
      const list = JSON.stringify({ files, order, loop });
      if (player.list !== list) {
        player.list = list;
        say(player, {
          type: 'files',
          files: files.map(({ name, assetId }) => ({ name, url: assetUrl(assetId) })),
          order,
          loop,
          seed: 1,
        });
      }
      if (source.playing === player.playing) continue;
      player.playing = source.playing;
      player.cancelStop();
      if (source.playing) {
        this.tell(id, null);
        say(player, { type: 'play', ring: player.ring, clock: this.clock });
      } else {
        // The mixer fades it out; the file plays on meanwhile.
        player.cancelStop = systemClock.after(fadeSeconds * 1000 + 500, () => say(player, { type: 'stop' }));
        this.onNow(id, null);
      }
    }
  }

  skip(channelId: string): void {
    const player = this.#players.get(channelId);
    if (player) say(player, { type: 'skip' });
  }

  close(): void {
    for (const { worker } of this.#players.values()) worker.terminate();
    this.#players.clear();
  }

  #player(id: string): Player {
    const known = this.#players.get(id);
    if (known) return known;
    const worker = new Worker(new URL('./music.worker.ts', import.meta.url), {
      type: 'module',
      name: 'music',
    });
    const player: Player = {
      worker,
      ring: FileRing.create().buffer,
      list: '',
      playing: false,
      cancelStop: () => {},
    };
    let now: MusicNow | null = null;
    worker.onmessage = ({ data }: MessageEvent<FromMusic>) => {
      if (data.type === 'now') {
        now = { place: data.place, name: data.name, endsAtMs: null };
        this.onNow(id, now);
      } else if (data.type === 'length') {
        if (now) this.onNow(id, { ...now, endsAtMs: systemClock.dateMs() + data.seconds * 1000 });
      } else if (data.type === 'problem') this.tell(id, data.message);
      else this.onEnded(id);
    };
    this.#players.set(id, player);
    return player;
  }
}

function say(player: Player, message: ToMusic): void {
  player.worker.postMessage(message);
}
