import { readFileSync } from 'node:fs';
import path from 'node:path';
import { isFault, messageOf } from '../../core/fault';
import { recordsOf } from '../../core/show/document';
import type { Change } from '../../core/show/settle';
import type { BusFromServer } from '../../protocol/bus';
import { Access } from '../access/access';
import { AccessRepository } from '../access/access-repository';
import { PlatformAccounts } from '../accounts/platform-accounts';
import { EmoteCache } from '../audience/emote-cache';
import { EntryRepository } from '../audience/entry-repository';
import { HookDoor } from '../audience/hook-door';
import { HookRepository } from '../audience/hook-repository';
import type { Connector } from '../../core/connectors/connector';
import { Connectors } from '../connectors/connectors';
import { Speech } from '../audience/speech';
import { ViewerData } from '../audience/viewer-data';
import { Backups } from '../backup/backups';
import { openDatabase } from '../db/database';
import { LateWrites } from '../db/late-writes';
import { SecretRepository } from '../db/secret-repository';
import { SoundOutlets } from '../sound/sound-outlets';
import { SettingRepository } from '../db/setting-repository';
import { ShowRepository } from '../db/show-repository';
import { LiveInputs } from '../inputs/live-inputs';
import type { Log } from '../log';
import { Outward } from '../outward/outward';
import { FileKeeper } from '../vault/file-keeper';
import { AssetStore } from '../vault/asset-store';
import { EveningLog } from '../vault/evening-log';
import { EveningRepository } from '../vault/evening-repository';
import { clearLeftovers } from '../vault/leftovers';
import { LineTestRepository } from '../vault/line-test-repository';
import { RecordingFolder } from '../vault/recording-folder';
import { RecordingRepository } from '../vault/recording-repository';
import { VaultJobs } from '../vault/vault-jobs';
import { cameraPlaces } from '../camera/camera-places';
import { Doors } from '../visitors/doors';
import { Ice } from '../visitors/ice';
import { Announcer } from './announcer';
import { Broadcast } from './broadcast';
import type { OpenShow } from './open-show';
import { OpenShows } from './open-shows';
import { showFacts, type ShowFacts } from '../shows/show-facts';
import { ShowKeeper } from '../shows/show-keeper';
import { ShowPictures } from '../shows/show-pictures';
import { ShowSizes } from '../shows/show-sizes';
import { NewerVersions } from '../update/newer-version';
import { hasServerEncoder } from './server-encoder';
import { RelayClient } from './relay-client';
import { UsedShow } from './used-show';

/** How often it is looked what is too old to be kept. */
const SWEEP_MS = 3_600_000;
/** After the start it is looked whether a backup is due. */
const FIRST_LOOK_MS = 60_000;
/** A deleted show can be brought back for so long. */
const TRASH_MS = 30 * 86_400_000;

export interface StudioOptions {
  dataFolder: string;
  migrations: string;
  relayUrl: string;
  relayToken: string;
  /** Makes a browser the owner's. */
  ownerToken: string;
  /** The door that was started beside this studio. */
  door: { url: string; token: string } | null;
  uplinkUrl: string;
  /** Of this computer, that are the studio's own. */
  ownPorts: readonly number[];
  /** Of services that run beside the studio. */
  connectors: readonly Connector[];
  /** A stand-in for rehearsals; null when none runs. */
  rehearsalUrl: string | null;
  /** The built thread that makes copies. */
  rewrapScript: string;
  /** This program's version, and where it is asked for newer ones; null for nowhere. */
  version: string;
  updatesAddress: string | null;
  log: Log;
}

/** Everything the web process has: what loaders and actions get as their context. */
export class Studio {
  readonly dataFolder: string;
  readonly shows: ShowRepository;
  /** Those that somebody works on. */
  readonly open: OpenShows;
  /** Servers by which guests' connections find their way. */
  readonly ice: Ice;
  readonly keeper: ShowKeeper;
  readonly pictures: ShowPictures;
  readonly backups: Backups;
  readonly settings: SettingRepository;
  readonly secrets: SecretRepository;
  readonly assets: AssetStore;
  readonly recordings: RecordingRepository;
  readonly broadcast: Broadcast;
  readonly evenings: EveningRepository;
  readonly lineTests: LineTestRepository;
  readonly announcer: Announcer;
  /** Requests to other programs. */
  readonly outward: Outward;
  readonly relay: RelayClient;
  readonly jobs: VaultJobs;
  readonly accounts: PlatformAccounts;
  /** Whether a stand-in takes what is sent to try it, and shows it to nobody. */
  readonly canRehearse: boolean;
  /** Who may do what. */
  readonly access: Access;
  /** Files that describe services. */
  readonly connectors: Connectors;
  readonly hooks: HookRepository;
  readonly hookDoor: HookDoor;
  /** Where everybody else comes in. */
  readonly doors: Doors;
  /** For how long what viewers did is kept, and everything of one of them. */
  readonly viewerData: ViewerData;
  readonly emotes: EmoteCache;
  readonly speech: Speech;
  /** Web pages and network feeds. */
  readonly files: FileKeeper;
  /** What the files of shows take. */
  readonly sizes: ShowSizes;
  readonly newer: NewerVersions;
  /** What this computer plays. */
  readonly computerSound: SoundOutlets;
  readonly inputs: LiveInputs;
  /** Whether destinations can be encoded for here; known a moment after the start. */
  serverEncodes = false;
  /** Pads that are connected, at all doors. */
  #pads = 0;
  readonly #used: UsedShow;
  readonly #log: Log;
  readonly #database;
  readonly #writes;
  readonly #sweepTimer: NodeJS.Timeout;

  constructor(options: StudioOptions) {
    const { dataFolder, log } = options;
    this.dataFolder = dataFolder;
    this.#log = log;
    this.#database = openDatabase(path.join(dataFolder, 'dolomite.sqlite'), options.migrations);
    this.#writes = new LateWrites(this.#database, log);
    this.access = new Access({
      repository: new AccessRepository(this.#database),
      writes: this.#writes,
      ownerToken: options.ownerToken,
      now: Date.now,
      onRevoked: (ids) => {
        this.open.all().forEach((show) => show.bus.sendOut(ids));
        this.doors.sendOut(ids);
      },
    });
    this.shows = new ShowRepository(this.#database);
    this.settings = new SettingRepository(this.#database);
    this.pictures = new ShowPictures(path.join(dataFolder, 'pictures'));
    for (const gone of this.shows.sweep(Date.now() - TRASH_MS)) this.pictures.remove(gone);
    this.secrets = new SecretRepository(this.#database, path.join(dataFolder, 'secrets.key'), (message) =>
      log.warn(message),
    );
    this.secrets.sweep();
    this.assets = new AssetStore(this.#database, path.join(dataFolder, 'assets'));
    this.recordings = new RecordingRepository(
      this.#database,
      new RecordingFolder(this.settings, path.join(dataFolder, 'recordings')),
      log,
    );
    this.canRehearse = options.rehearsalUrl !== null;
    this.connectors = new Connectors(this.#database, options.connectors);
    this.viewerData = new ViewerData(this.#database, this.settings);
    this.speech = new Speech(path.join(dataFolder, 'speech'));
    this.emotes = new EmoteCache(path.join(dataFolder, 'emotes'), (id) => this.connectors.find(id)?.emotes);
    this.hooks = new HookRepository(this.#database, this.secrets);
    this.hookDoor = new HookDoor(
      this.hooks,
      (hook, incoming) => incoming.forEach((one) => this.open.get(hook.showId).audience.hub.take(one)),
      (hook, reason) => this.open.get(hook.showId).audience.hub.reject(hook.name, reason),
      Date.now,
    );
    this.open = new OpenShows({
      settings: this.settings,
      shows: this.shows,
      writes: this.#writes,
      database: this.#database,
      secrets: this.secrets,
      feeds: () => this.connectors.feeds(),
      chats: () => this.connectors.chats(),
      chatLogin: (destination) => this.accounts.chatLogin(destination),
      token: (destination) => this.accounts.token(destination),
      log,
      guests: {
        standing: () => this.#used.standing(),
        ice: () => this.ice.servers(),
        sendOut: (visitorId) => this.#sendOutGuest(visitorId),
      },
      greet: (show) => [
        this.#relayMessage(show),
        this.#jobsMessage(),
        this.#padsMessage(),
        this.connectors.told(),
      ],
      edited: (show, change) => this.#edited(show, change),
      programmeChanged: (show, entry, before) => {
        if (show.id === this.broadcast.showId) this.broadcast.programmeChanged(show, entry, before);
      },
      onAir: () => this.broadcast.showId,
      // Nobody can undo any more what was removed.
      empty: () => this.#writes.do(() => this.secrets.sweep()),
    });
    this.#used = new UsedShow({
      ...{ shows: this.shows, open: this.open },
      broadcast: () => this.broadcast,
      now: Date.now,
    });
    this.ice = new Ice({ settings: this.settings, secrets: this.secrets, now: Date.now });
    this.keeper = new ShowKeeper({
      shows: this.shows,
      open: this.open,
      secrets: this.secrets,
      pictures: this.pictures,
      onAir: () => this.broadcast.showId,
      now: Date.now,
    });
    this.backups = new Backups({
      database: this.#database,
      shows: this.shows,
      assets: this.assets,
      secrets: this.secrets,
      settings: this.settings,
      dataFolder,
      migrations: options.migrations,
      log,
      now: Date.now,
      onAir: () => this.broadcast.showId !== null,
    });
    this.computerSound = new SoundOutlets(this.open);
    this.inputs = new LiveInputs(this.secrets, this.open, () => this.#used.deskHealth, log);
    this.evenings = new EveningRepository(this.#database);
    this.lineTests = new LineTestRepository(this.#database);
    this.announcer = new Announcer(this.secrets, Date.now);
    this.outward = new Outward({
      settings: this.settings,
      secrets: this.secrets,
      ownPorts: () => options.ownPorts,
      now: Date.now,
    });
    this.relay = new RelayClient(options.relayUrl, options.relayToken);
    this.jobs = new VaultJobs({
      recordings: this.recordings,
      writes: this.#writes,
      script: options.rewrapScript,
      log,
      changed: () => this.open.all().forEach((show) => show.bus.broadcast(this.#jobsMessage())),
    });
    this.accounts = new PlatformAccounts({
      secrets: this.secrets,
      connectors: this.connectors,
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
      evening: new EveningLog(
        this.evenings,
        this.#writes,
        Date.now,
        (showId) => new EntryRepository(this.#database, showId),
      ),
      announcer: this.announcer,
      scratchFolder: path.join(dataFolder, 'scratch'),
      rehearsalUrl: options.rehearsalUrl,
      health: (showId) => this.open.find(showId)?.bus.health ?? null,
      ended: (showId, eveningId) => this.#ended(showId, eveningId),
      uplinkUrl: options.uplinkUrl,
      shows: this.shows,
      secrets: this.secrets,
      recordings: this.recordings,
      log,
      now: Date.now,
      changed: () => this.open.all().forEach((show) => show.bus.broadcast(this.#relayMessage(show))),
    });
    this.doors = new Doors({
      here: options.door,
      settings: this.settings,
      secrets: this.secrets,
      visitors: {
        access: this.access,
        hooks: this.hookDoor,
        standing: () => this.#used.standing(),
        pad: (name) => this.#used.pad(name),
        forPads: () => this.#used.open?.forPads ?? null,
        wings: () => this.#used.open?.wings ?? null,
        padsChanged: (by) => {
          this.#pads += by;
          for (const show of this.open.all()) show.bus.broadcast(this.#padsMessage());
        },
        press: (press, by, held) =>
          this.#used.open?.presses.press(press, by, held) ??
          Promise.resolve('No show is open in the studio.'),
      },
      log,
      now: Date.now,
    });
    this.files = new FileKeeper({
      ...{ assets: this.assets, shows: this.shows, open: this.open, settings: this.settings },
      now: Date.now,
    });
    this.sizes = new ShowSizes({
      records: (showId) => (this.shows.has(showId) ? this.shows.load(showId).records : []),
      bytesOf: (fileId) => this.assets.find(fileId)?.bytes,
      failed: (showId, error) =>
        log.error({ showId, error: messageOf(error) }, 'the files of a show could not be counted'),
    });
    this.newer = new NewerVersions({
      version: options.version,
      address: options.updatesAddress,
      planned: () => this.shows.planned(),
      onAir: () => this.broadcast.showId !== null,
      now: Date.now,
      log,
    });
    this.broadcast.resume();
    this.sweep();
    this.#sweepTimer = setInterval(() => this.sweep(), SWEEP_MS);
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

  /** A connector came, changed or went: chat and events follow. */
  connectorsChanged(): void {
    for (const { audience, bus } of this.open.all()) {
      audience.followPlatforms();
      bus.broadcast(this.connectors.told());
    }
  }

  /** Where a frame can be offered as a camera of this system. */
  readonly cameras = () => cameraPlaces(this.dataFolder);

  /** Opens what is to be open without anybody asking: the show on air, and the one that was used last. */
  begin(): void {
    const { showId } = this.broadcast;
    if (showId !== null && this.shows.has(showId)) this.open.get(showId);
    this.open.openLast();
    // Not in the first minute, in which somebody waits for the studio.
    setTimeout(() => void this.backups.look(), FIRST_LOOK_MS).unref();
  }

  /** What Home says of all shows. */
  showFacts(): ShowFacts[] {
    return showFacts(this.#database);
  }

  /** Deletes what is older than it may be kept. */
  sweep(): void {
    // All shows are read for it: it can wait for the end of a broadcast.
    if (this.broadcast.showId === null)
      void this.files.sweep().catch((error: unknown) => {
        this.#log.error(
          { error: String(error) },
          'files that nobody uses could not be looked at; it is tried again',
        );
      });
    try {
      // What they count towards is counted again without them.
      if (this.viewerData.sweep(Date.now()) > 0)
        this.open.all().forEach((show) => show.audience.hub.recount());
    } catch (error) {
      this.#log.error({ error: String(error) }, 'old chat could not be deleted; it is tried again');
    }
  }

  /** Deletes everything of one viewer, in all shows. @returns how many entries that were */
  forget(platform: string, viewer: string): number {
    const open = this.open.all();
    for (const show of open) show.audience.hub.flush();
    const count = this.viewerData.remove(platform, viewer);
    for (const show of open) show.audience.hub.recount();
    return count;
  }

  /** Another secret of a hook; who came in by the old one is sent out. @returns the new one, shown once */
  renewHook(id: string): string {
    const secret = this.hooks.renew(id, Date.now());
    this.hookDoor.shut(id);
    return secret;
  }

  removeHook(id: string): void {
    this.hooks.remove(id);
    this.hookDoor.shut(id);
  }

  close(): void {
    clearInterval(this.#sweepTimer);
    this.doors.close();
    this.newer.close();
    this.backups.close();
    this.broadcast.close();
    this.jobs.close();
    this.accounts.close();
    this.open.close();
    this.inputs.close();
    this.computerSound.close();
    this.#writes.close();
    this.#database.close();
  }

  #edited(show: OpenShow, change: Change): void {
    const { put, removed } = change;
    this.inputs.edited();
    this.computerSound.edited();
    this.sizes.edited(show.id);
    if (show.id !== this.broadcast.showId) return;
    this.broadcast.edited(show.revision, change);
    const touched = put.filter((r) => r.kind === 'destination').map((r) => r.id);
    for (const id of [...touched, ...removed]) this.tellRelay(show.id, id);
  }

  /** What was changed stands: a relay that is away is given all destinations as they are when it comes back. */
  tellRelay(showId: string, destinationId: string): void {
    this.broadcast.destinationChanged(showId, destinationId).catch((error: unknown) => {
      this.#log.warn({ error: messageOf(error) }, 'the relay was not told of a destination');
    });
  }

  #padsMessage(): BusFromServer {
    return { type: 'pads', connected: this.#pads };
  }

  #sendOutGuest(visitorId: string): void {
    try {
      this.access.revoke({ name: 'the desk', role: 'owner' }, visitorId);
    } catch (error) {
      // Whoever left by themselves needs no sending out.
      if (!isFault(error)) throw error;
    }
  }

  #jobsMessage(): BusFromServer {
    return { type: 'jobs', jobs: this.jobs.jobs };
  }

  /** A backup, and copies for editors when they are wanted of every recording. */
  #ended(showId: string, eveningId: string | null): void {
    void this.backups.makeIfChanged('broadcast');
    const show = recordsOf(this.shows.document(showId), 'show')[0];
    if (!show?.delivery.record.rewrap || !eveningId) return;
    for (const recording of this.recordings.list(showId))
      if (recording.eveningId === eveningId && recording.kind === 'recording' && recording.seconds > 0)
        this.jobs.add({ recordingId: recording.id, to: 'mp4', fromSeconds: null, toSeconds: null });
  }

  #relayMessage(show: OpenShow): BusFromServer {
    const { broadcast } = this;
    const own = broadcast.showId === null || broadcast.showId === show.id;
    return { type: 'relay', status: own ? broadcast.status : null, broadcast: broadcast.stateFor(show.id) };
  }
}
