import { readFileSync } from 'node:fs';
import path from 'node:path';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import { PlatformAccounts } from '../accounts/platform-accounts';
import { Access } from '../access/access';
import { AccessRepository } from '../access/access-repository';
import { Audience } from '../audience/audience';
import type { PlatformAddress } from '../audience/platform-feed';
import type { BusFromPage, BusFromServer } from '../../protocol/bus';
import { openDatabase } from '../db/database';
import { LateWrites } from '../db/late-writes';
import { SecretRepository } from '../db/secret-repository';
import { ShowRepository } from '../db/show-repository';
import type { Log } from '../log';
import { AssetStore } from '../vault/asset-store';
import { clearLeftovers } from '../vault/leftovers';
import { EveningLog } from '../vault/evening-log';
import { EveningRepository } from '../vault/evening-repository';
import { LineTestRepository } from '../vault/line-test-repository';
import { SettingRepository } from '../db/setting-repository';
import { RecordingFolder } from '../vault/recording-folder';
import { RecordingRepository } from '../vault/recording-repository';
import { VaultJobs } from '../vault/vault-jobs';
import { LiveInputs } from '../inputs/live-inputs';
import { Announcer } from './announcer';
import { Broadcast } from './broadcast';
import { BusServer } from './bus-server';
import { hasServerEncoder } from './server-encoder';
import { RelayClient } from './relay-client';

export interface StudioOptions {
  dataFolder: string;
  migrations: string;
  relayUrl: string;
  relayToken: string;
  /** Makes a browser the owner's. */
  ownerToken: string;
  uplinkUrl: string;
  platforms: PlatformAddress[];
  /** A stand-in for rehearsals; null when none runs. */
  rehearsalUrl: string | null;
  /** Where platforms' APIs are, by name. */
  apiUrls: ReadonlyMap<string, string>;
  /** The built thread that makes copies. */
  rewrapScript: string;
  log: Log;
}

/** Everything the web process has: what loaders and actions get as their context. */
export class Studio {
  readonly dataFolder: string;
  readonly shows: ShowRepository;
  readonly secrets: SecretRepository;
  readonly assets: AssetStore;
  readonly recordings: RecordingRepository;
  readonly broadcast: Broadcast;
  readonly evenings: EveningRepository;
  readonly lineTests: LineTestRepository;
  readonly announcer: Announcer;
  readonly relay: RelayClient;
  readonly jobs: VaultJobs;
  readonly accounts: PlatformAccounts;
  readonly bus: BusServer;
  /** Who may do what. */
  readonly access: Access;
  readonly platforms: readonly PlatformAddress[];
  readonly audience: Audience;
  /** Web pages and network feeds. */
  readonly inputs: LiveInputs;
  /** Whether destinations can be encoded for here; known a moment after the start. */
  serverEncodes = false;
  /** Read once between two edits. */
  #document: ShowDocument | null = null;
  readonly #database;
  readonly #writes;

  constructor(options: StudioOptions) {
    const { dataFolder, log } = options;
    this.dataFolder = dataFolder;
    this.#database = openDatabase(path.join(dataFolder, 'dolomite.sqlite'), options.migrations);
    this.#writes = new LateWrites(this.#database, log);
    this.access = new Access({
      repository: new AccessRepository(this.#database),
      writes: this.#writes,
      ownerToken: options.ownerToken,
      now: Date.now,
      onRevoked: (ids) => this.bus.sendOut(ids),
    });
    this.shows = new ShowRepository(this.#database);
    this.secrets = new SecretRepository(this.#database, path.join(dataFolder, 'secrets.key'), (message) =>
      log.warn(message),
    );
    this.secrets.sweep();
    this.assets = new AssetStore(this.#database, path.join(dataFolder, 'assets'));
    this.recordings = new RecordingRepository(
      this.#database,
      new RecordingFolder(new SettingRepository(this.#database), path.join(dataFolder, 'recordings')),
      log,
    );
    this.platforms = options.platforms;
    this.bus = new BusServer(
      log,
      () => this.#greeting(),
      (message) => this.#fromPage(message),
      // Nobody can undo any more what was removed.
      () => this.#writes.do(() => this.secrets.sweep()),
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
    this.inputs = new LiveInputs(
      this.secrets,
      () => this.#shown(),
      () => this.bus.health,
      log,
    );
    this.evenings = new EveningRepository(this.#database);
    this.lineTests = new LineTestRepository(this.#database);
    this.announcer = new Announcer(this.secrets, Date.now);
    this.relay = new RelayClient(options.relayUrl, options.relayToken);
    this.jobs = new VaultJobs({
      recordings: this.recordings,
      writes: this.#writes,
      script: options.rewrapScript,
      log,
      changed: () => this.bus.broadcast(this.#jobsMessage()),
    });
    this.accounts = new PlatformAccounts({
      secrets: this.secrets,
      apiUrls: options.apiUrls,
      picture: (id) => {
        const asset = this.assets.find(id);
        return asset && { bytes: new Uint8Array(readFileSync(this.assets.pathOf(id))), mime: asset.mime };
      },
      now: Date.now,
      log,
    });
    this.broadcast = new Broadcast({
      accounts: this.accounts,
      writes: this.#writes,
      relay: this.relay,
      evening: new EveningLog(this.evenings, this.#writes, Date.now, this.audience.entries),
      announcer: this.announcer,
      scratchFolder: path.join(dataFolder, 'scratch'),
      rehearsalUrl: options.rehearsalUrl,
      health: () => this.bus.health,
      ended: (showId, eveningId) => this.#ended(showId, eveningId),
      uplinkUrl: options.uplinkUrl,
      shows: this.shows,
      secrets: this.secrets,
      recordings: this.recordings,
      log,
      now: Date.now,
      changed: () => this.bus.broadcast(this.#relayMessage()),
    });
    this.audience.sweep();
    this.broadcast.resume();
    const { place } = this.recordings;
    clearLeftovers(
      [
        this.assets.folder,
        path.join(dataFolder, 'speech'),
        place.home,
        ...(place.chosen ? [place.chosen] : []),
      ],
      path.join(dataFolder, 'scratch'),
      this.broadcast.sessionId,
      Date.now(),
    );
    void hasServerEncoder().then((has) => (this.serverEncodes = has));
  }

  /** An edit was saved. */
  edited(): void {
    this.#document = null;
    this.audience.edited();
    this.inputs.edited();
  }

  /** The show that is worked on: the first, as long as there is one desk. */
  #shown(): ShowDocument | null {
    const show = this.shows.list()[0];
    if (!show) return null;
    return (this.#document ??= this.shows.document(show.id));
  }

  close(): void {
    this.broadcast.close();
    this.jobs.close();
    this.accounts.close();
    this.audience.close();
    this.inputs.close();
    this.bus.close();
    this.#writes.close();
    this.#database.close();
  }

  #fromPage(message: Exclude<BusFromPage, { type: 'claim' | 'health' }>): void {
    switch (message.type) {
      case 'onAir': {
        const show = this.shows.list()[0];
        if (!show) break;
        this.#writes.do(() => this.shows.setOnAirScene(show.id, message.sceneId, message.poseId, Date.now()));
        const scene = this.#shown()?.get(message.sceneId);
        if (scene) this.broadcast.sceneChanged(scene.name);
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
    return [...this.audience.greeting(), this.#relayMessage(), this.#jobsMessage()];
  }

  #jobsMessage(): BusFromServer {
    return { type: 'jobs', jobs: this.jobs.jobs };
  }

  /** Copies for editors, when they are wanted of every recording. */
  #ended(showId: string, eveningId: string | null): void {
    const show = recordsOf(this.shows.document(showId), 'show')[0];
    if (!show?.delivery.record.rewrap || !eveningId) return;
    for (const recording of this.recordings.list(showId))
      if (recording.eveningId === eveningId && recording.kind === 'recording' && recording.seconds > 0)
        this.jobs.add({ recordingId: recording.id, to: 'mp4', fromSeconds: null, toSeconds: null });
  }

  #relayMessage(): BusFromServer {
    return { type: 'relay', status: this.broadcast.status, broadcast: this.broadcast.state };
  }
}
