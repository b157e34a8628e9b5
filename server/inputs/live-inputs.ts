/** Inputs whose picture comes through the server: web pages that are rendered here, and network feeds. */
import { createHash, randomBytes } from 'node:crypto';
import type { ServerResponse } from 'node:http';
import { networkInterfaces } from 'node:os';
import { Fault } from '../../core/fault';
import { readAddress } from '../../core/inputs/web-address';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { InputRecord } from '../../core/show/records';
import { inputPart } from '../../protocol/input-stream';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { Log } from '../log';
import { FeedChannel } from './feed-channel';
import { FeedIntake, INTAKE_APP } from './feed-intake';
import { FeedPull, PULL_SCHEMES } from './feed-pull';
import { Outlets } from './outlets';
import { browserPath, PageBrowser } from './page-browser';
import type { PictureCounts } from './page-pace';
import { PageRenderer, type PagePicture, type PageSettings } from './page-renderer';

/** A page or a fetched feed that nobody looks at any more is ended after this: scenes come and go. */
const LINGER_MS = 8000;
/** A line that says nothing for two of these is dead, for the page at its end. */
const HEARTBEAT_MS = 1000;
const SLOWED = 'shown less often while pictures come late';
const NO_ADDRESS = 'no address yet: give it one in the input’s settings';

export interface AddressFacts {
  /** Name and port of the stored address; null without one. */
  host: string | null;
  /** Whether this machine can render pages, and how it takes feeds in. */
  browser: boolean;
  intakePort: number;
}

interface PageOutlet {
  outlets: Outlets;
  renderer: PageRenderer | null;
  settings: string;
  timer: NodeJS.Timeout | null;
}

interface Fetched {
  pull: FeedPull;
  url: string;
  timer: NodeJS.Timeout | null;
}

export class LiveInputs {
  readonly #pages = new Map<string, PageOutlet>();
  readonly #channels = new Map<string, FeedChannel>();
  readonly #pulls = new Map<string, Fetched>();
  readonly #browser: PageBrowser;
  readonly #intake: FeedIntake;
  readonly #beat: NodeJS.Timeout;
  /** Feeds are taken from the whole network, not from this machine alone. */
  #everywhere = false;

  constructor(
    readonly secrets: SecretRepository,
    /** The inputs of all shows that are open. */
    readonly shows: { input(id: string): InputRecord | null; all(): { document: ShowDocument }[] },
    /** What the desk says of the programme's pictures; null while there is none. */
    readonly pictures: () => PictureCounts | null,
    readonly log: Log,
  ) {
    this.#browser = new PageBrowser(log);
    this.#intake = new FeedIntake(
      {
        inputOf: (key) => this.#inputOfKey(key),
        onBegin: (id) => this.#channel(id).begin(),
        onTag: (id, tag) => this.#channel(id).push(tag),
        onEnd: (id, why) => this.#channel(id).end(`${why}; it returns automatically`),
      },
      log,
    );
    this.#beat = setInterval(() => this.#heartbeat(), HEARTBEAT_MS);
    this.#beat.unref();
  }

  /** Opens the door for feeds: at the wanted port, or at any when that is taken. */
  async listen(port: number, host: string): Promise<void> {
    this.#everywhere = host === '0.0.0.0' || host === '::';
    try {
      await this.#intake.listen(port, host);
    } catch (error) {
      this.log.warn({ port, error: String(error) }, 'the port for feeds is taken: another one is used');
      await this.#intake.listen(0, host);
    }
  }

  /** Sends an input's parts until the other side goes. @returns whether it is such an input */
  attach(inputId: string, response: ServerResponse): boolean {
    const input = this.#input(inputId);
    if (input?.source.type === 'page') {
      this.#page(inputId).outlets.add(response);
      return true;
    }
    if (input?.source.type === 'feed') {
      this.#channel(inputId).outlets.add(response);
      response.on('close', () => this.#mind(inputId));
      this.#mind(inputId);
      return true;
    }
    return false;
  }

  /** The show was edited: what changed for a page or a feed is taken over. */
  edited(): void {
    for (const id of this.#pages.keys()) this.#render(id);
    for (const id of this.#channels.keys()) this.#mind(id);
  }

  facts(inputId: string): AddressFacts {
    const input = this.#input(inputId);
    const stored = this.secrets.get(subjects.inputAddress(inputId));
    const isAddress =
      input?.source.type === 'page' || (input?.source.type === 'feed' && input.source.way === 'fetched');
    return {
      host: stored !== null && isAddress ? hostOf(stored) : null,
      browser: browserPath() !== null,
      intakePort: this.#intake.port,
    };
  }

  /** Stores the address of a page or a fetched feed. @throws Fault `address.wrong` */
  setAddress(inputId: string, text: string): void {
    const input = this.#input(inputId);
    if (!input) throw new Fault('input.missing', 'this input is not in the show any more');
    const url = readAddress(text, input.source.type === 'page' ? ['https', 'http'] : PULL_SCHEMES);
    this.secrets.set(subjects.inputAddress(inputId), url.href, Date.now());
    this.edited();
  }

  /** Where an encoder sends this input to. @param fresh makes the old one worthless */
  publishAddress(inputId: string, hostname: string, fresh: boolean): string {
    const subject = subjects.inputKey(inputId);
    let key = fresh ? null : this.secrets.get(subject);
    if (key === null) {
      key = randomBytes(12).toString('hex');
      this.secrets.set(subject, key, Date.now());
      this.#intake.drop(inputId);
    }
    const reached = this.#everywhere ? (networkAddress() ?? hostname) : hostname;
    return `rtmp://${reached}:${this.#intake.port}/${INTAKE_APP}/${key}`;
  }

  close(): void {
    clearInterval(this.#beat);
    this.#intake.close();
    for (const { outlets, renderer } of this.#pages.values()) {
      outlets.close();
      void renderer?.close();
    }
    for (const channel of this.#channels.values()) channel.outlets.close();
    for (const { pull } of this.#pulls.values()) pull.close();
    void this.#browser.kill();
  }

  #input(inputId: string): InputRecord | null {
    return this.shows.input(inputId);
  }

  #inputOfKey(key: string): string | null {
    if (key === '') return null;
    const wanted = digest(key);
    for (const { document } of this.shows.all())
      for (const { id, source } of recordsOf(document, 'input')) {
        if (source.type !== 'feed' || source.way !== 'sent') continue;
        const own = this.secrets.get(subjects.inputKey(id));
        // Compared by their digests, so that the time it takes says nothing about the key.
        if (own !== null && digest(own) === wanted) return id;
      }
    return null;
  }

  #channel(inputId: string): FeedChannel {
    let channel = this.#channels.get(inputId);
    if (!channel) this.#channels.set(inputId, (channel = new FeedChannel()));
    return channel;
  }

  /** Begins, keeps or ends the fetching of a feed. */
  #mind(inputId: string): void {
    const input = this.#input(inputId);
    const channel = this.#channel(inputId);
    const running = this.#pulls.get(inputId);
    const fetched = input?.source.type === 'feed' && input.source.way === 'fetched';
    const url = fetched ? this.secrets.get(subjects.inputAddress(inputId)) : null;
    if (running && running.url !== url) {
      running.pull.close();
      if (running.timer) clearTimeout(running.timer);
      this.#pulls.delete(inputId);
      channel.end('');
    }
    if (!fetched) {
      if (channel.status.message === '' && channel.status.state === 'waiting')
        channel.end('nobody sends yet: copy the address in its settings into an encoder');
      return;
    }
    if (url === null) return channel.end(NO_ADDRESS);
    const present = this.#pulls.get(inputId);
    if (channel.outlets.count > 0) {
      if (present?.timer) clearTimeout(present.timer);
      if (present) present.timer = null;
      else {
        channel.setStatus('waiting', 'is being fetched');
        const pull = new FeedPull(
          url,
          {
            onBegin: () => channel.begin(),
            onTag: (tag) => channel.push(tag),
            onEnd: (why) => channel.end(why),
          },
          this.log,
        );
        this.#pulls.set(inputId, { pull, url, timer: null });
      }
    } else if (present && !present.timer) {
      present.timer = setTimeout(() => {
        present.pull.close();
        this.#pulls.delete(inputId);
      }, LINGER_MS);
      present.timer.unref();
    }
  }

  #page(inputId: string): PageOutlet {
    let page = this.#pages.get(inputId);
    if (!page) {
      const outlets = new Outlets(
        () => {
          const renderer = this.#pages.get(inputId)?.renderer;
          const status = renderer?.status ?? { state: 'waiting' as const, message: NO_ADDRESS, blocked: [] };
          return [
            inputPart({ kind: 'status', status }),
            ...(renderer?.picture ? [picturePart(renderer.picture)] : []),
          ];
        },
        () => this.#render(inputId),
      );
      page = { outlets, renderer: null, settings: '', timer: null };
      this.#pages.set(inputId, page);
      this.#render(inputId);
    }
    return page;
  }

  /** Begins, renews or ends the rendering of a page. */
  #render(inputId: string): void {
    const page = this.#pages.get(inputId);
    if (!page) return;
    const settings = this.#pageSettings(inputId);
    const text = JSON.stringify(settings);
    if (text !== page.settings) {
      page.settings = text;
      void page.renderer?.close();
      page.renderer = null;
      if (settings === null)
        page.outlets.send(
          inputPart({ kind: 'status', status: { state: 'waiting', message: NO_ADDRESS, blocked: [] } }),
        );
    }
    if (settings && page.outlets.count > 0) {
      if (page.timer) clearTimeout(page.timer);
      page.timer = null;
      page.renderer ??= new PageRenderer(settings, this.#browser, {
        onPicture: (picture) => this.#showPicture(page, picture),
        onSound: ({ atMs, samples }) =>
          page.outlets.send(inputPart({ kind: 'audio', timestampMs: Math.round(atMs), body: samples })),
        onStatus: (status) => page.outlets.send(inputPart({ kind: 'status', status })),
      });
    } else if (page.renderer && !page.timer) {
      page.timer = setTimeout(() => {
        page.timer = null;
        if (page.outlets.count > 0) return;
        void page.renderer?.close();
        page.renderer = null;
      }, LINGER_MS);
      page.timer.unref();
    }
  }

  #showPicture(page: PageOutlet, picture: PagePicture): void {
    page.outlets.sendNewest(picturePart(picture), (response) =>
      // A page changes when it likes: the last picture must not be the one that was left out.
      response.once('drain', () => {
        const newest = page.renderer?.picture;
        if (newest && !response.writableEnded) response.write(picturePart(newest));
      }),
    );
  }

  #pageSettings(inputId: string): PageSettings | null {
    const source = this.#input(inputId)?.source;
    const url = this.secrets.get(subjects.inputAddress(inputId));
    if (source?.type !== 'page' || url === null) return null;
    const { width, height, fps, allowed } = source;
    return { url, width, height, fps, allowed };
  }

  #heartbeat(): void {
    const { pace } = this.#browser;
    pace.look(this.pictures());
    for (const { outlets, renderer } of this.#pages.values()) {
      if (outlets.count === 0 || !renderer) continue;
      const { status } = renderer;
      const slowed = status.state === 'running' && status.message === '' && pace.factor > 1;
      const message = slowed ? SLOWED : status.message;
      outlets.send(inputPart({ kind: 'status', status: { ...status, message } }));
    }
    for (const { outlets, status } of this.#channels.values())
      if (outlets.count > 0) outlets.send(inputPart({ kind: 'status', status }));
  }
}

const picturePart = ({ atMs, png }: PagePicture) =>
  inputPart({ kind: 'picture', timestampMs: Math.round(atMs), body: png });

const digest = (text: string) => createHash('sha256').update(text).digest('hex');

/** This machine's address in its network; null when it is in none. */
function networkAddress(): string | null {
  const all = Object.values(networkInterfaces()).flatMap((list) => list ?? []);
  return all.find((a) => a.family === 'IPv4' && !a.internal)?.address ?? null;
}

function hostOf(address: string): string {
  try {
    return new URL(address).host;
  } catch {
    return 'an address';
  }
}
