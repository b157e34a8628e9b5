import path from 'node:path';
import { AudienceLog, type AudienceEvent, type FollowEvent } from '../../core/audience/events';
import type { BusFromServer } from '../../protocol/bus';
import { openDatabase } from '../db/database';
import { SecretRepository } from '../db/secret-repository';
import { ShowRepository } from '../db/show-repository';
import type { Log } from '../log';
import { AssetStore } from '../vault/asset-store';
import { RecordingRepository } from '../vault/recording-repository';
import { Broadcast } from './broadcast';
import { BusServer } from './bus-server';
import { PlatformFeed, type PlatformAddress } from './platform-feed';
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
  readonly #audience = new AudienceLog();
  readonly #feeds: PlatformFeed[];
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
      (sceneId) => this.#sceneOnAir(sceneId),
    );
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
    this.#feeds = options.platforms.map(
      (address) =>
        new PlatformFeed(
          address,
          log,
          (event) => this.audienceEvent(event),
          () => this.bus.broadcast(this.#platformsMessage()),
        ),
    );
  }

  audienceEvent(event: AudienceEvent): void {
    if (this.#audience.add(event)) this.bus.broadcast({ type: 'audience', events: [event] });
  }

  /** The test button: an event like a real one, marked as a test. */
  testFollow(id: string, viewer: string, nowMs: number): FollowEvent {
    const event: FollowEvent = { type: 'follow', id, platform: 'test', viewer, atMs: nowMs, test: true };
    this.audienceEvent(event);
    return event;
  }

  close(): void {
    this.broadcast.close();
    for (const feed of this.#feeds) feed.close();
    this.bus.close();
    this.#database.close();
  }

  #sceneOnAir(sceneId: string): void {
    const show = this.shows.list()[0];
    if (show) this.shows.setOnAirScene(show.id, sceneId);
  }

  #greeting(): BusFromServer[] {
    return [
      this.#platformsMessage(),
      { type: 'audience', events: this.#audience.list().slice(-200) },
      this.#relayMessage(),
    ];
  }

  #platformsMessage(): BusFromServer {
    return { type: 'platforms', platforms: this.#feeds?.map((f) => f.status) ?? [] };
  }

  #relayMessage(): BusFromServer {
    return { type: 'relay', status: this.broadcast.status, broadcast: this.broadcast.state };
  }
}
