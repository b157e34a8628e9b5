import path from 'node:path';
import type { ShowDocument } from '../../core/show/document';
import { Audience } from '../audience/audience';
import type { PlatformAddress } from '../audience/platform-feed';
import type { BusFromPage, BusFromServer } from '../../protocol/bus';
import { openDatabase } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { ShowRepository } from '../db/show-repository';
import type { Log } from '../log';
import { AssetStore } from '../vault/asset-store';
import { RecordingRepository } from '../vault/recording-repository';
import { Broadcast } from './broadcast';
import { BusServer } from './bus-server';
import { RelayClient } from './relay-client';

export interface StudioOptions {
  dataFolder: string;
  migrations: string;
  relayUrl: string;
  relayToken: string;
  uplinkUrl: string;
  platforms: PlatformAddress[];
  log: Log;
}

/** Everything the web process has: what loaders and actions get as their context. */
export class Studio {
  readonly shows: ShowRepository;
  readonly secrets: SecretRepository;
  readonly assets: AssetStore;
  readonly recordings: RecordingRepository;
  readonly broadcast: Broadcast;
  readonly bus: BusServer;
  readonly platforms: readonly PlatformAddress[];
  readonly audience: Audience;
  /** Read once between two edits. */
  #document: ShowDocument | null = null;
  readonly #database;

  constructor(options: StudioOptions) {
    const { dataFolder, log } = options;
    this.#database = openDatabase(path.join(dataFolder, 'dolomite.sqlite'), options.migrations);
    this.shows = new ShowRepository(this.#database);
    this.secrets = new SecretRepository(this.#database, path.join(dataFolder, 'secrets.key'));
    this.assets = new AssetStore(this.#database, path.join(dataFolder, 'assets'));
    this.recordings = new RecordingRepository(this.#database, path.join(dataFolder, 'recordings'), log);
    this.platforms = options.platforms;
    this.bus = new BusServer(
      log,
      () => this.#greeting(),
      (message) => this.#fromPage(message),
    );
    this.audience = new Audience({
      database: this.#database,
      secrets: this.secrets,
      platforms: options.platforms,
      emoteFolder: path.join(dataFolder, 'emotes'),
      speechFolder: path.join(dataFolder, 'speech'),
      log,
      say: (message) => this.bus.broadcast(message),
      document: () => this.#shown(),
    });
    this.broadcast = new Broadcast({
      relay: new RelayClient(options.relayUrl, options.relayToken),
      uplinkUrl: options.uplinkUrl,
      shows: this.shows,
      secrets: this.secrets,
      recordings: this.recordings,
      log,
      now: Date.now,
      changed: () => this.bus.broadcast(this.#relayMessage()),
    });
    this.broadcast.resume();
  }

  /** An edit was saved. */
  edited(): void {
    this.#document = null;
    this.audience.edited();
  }

  /** The show that is worked on: the first, as long as there is one desk. */
  #shown(): ShowDocument | null {
    const show = this.shows.list()[0];
    if (!show) return null;
    return (this.#document ??= this.shows.document(show.id));
  }

  close(): void {
    this.broadcast.close();
    this.audience.close();
    this.bus.close();
    this.#database.close();
  }

  #fromPage(message: Exclude<BusFromPage, { type: 'claim' | 'health' }>): void {
    switch (message.type) {
      case 'onAir': {
        const show = this.shows.list()[0];
        if (show) this.shows.setOnAirScene(show.id, message.sceneId, Date.now());
        break;
      }
      case 'readOut':
        this.audience.hub.readOut(message.order, message.seq);
        break;
      case 'read':
        this.audience.hub.read(message.seq);
        break;
    }
  }

  #greeting(): BusFromServer[] {
    return [...this.audience.greeting(), this.#relayMessage()];
  }

  #relayMessage(): BusFromServer {
    return { type: 'relay', status: this.broadcast.status, broadcast: this.broadcast.state };
  }
}
