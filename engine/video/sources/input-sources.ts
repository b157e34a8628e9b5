import { PictureWatch } from '../picture-watch';
import { assetUrl } from '../../asset-url';
import type { Clock } from '../../../core/time/clock';
import { findRecord, recordsOf, type ShowDocument } from '../../../core/show/document';
import type { InputRecord } from '../../../core/show/records';
import type { ClipsOrder, InputState, Played } from '../../../protocol/engine';
import { AdjustedSource } from './adjusted-source';
import { CubeTables } from '../cube-tables';
import { BackgroundSource } from './background-source';
import { ColouredSource, type Colouring } from './coloured-source';
import { inputStreamUrl } from './input-stream-client';
import { LazySource } from './lazy-source';
import { PageSource } from './page-source';
import { PictureFileSource } from './picture-file-source';
import type { PictureSource } from './picture-source';
import { SimulatedSource } from './simulated-source';
import { SlidesSource } from './slides-source';
import { TestPictureSource } from './test-picture-source';
import { TrackSource } from './track-source';

/** An input that is not kept ready stays open this long after the last scene that shows it, for a quick way back. */
const LINGER_SECONDS = 4;

/** What changes a source so much that it must be opened anew. */
function identity({ source }: InputRecord): string {
  // What a page may reach is the server's business, which renders it anew.
  return ['camera', 'screen', 'page', 'seat'].includes(source.type) ? source.type : JSON.stringify(source);
}

interface Waiting {
  frames?: ReadableStream<VideoFrame>;
  ring?: SharedArrayBuffer;
  problem?: string | null;
  empty?: string;
}

/** The open sources of a show's inputs: opened when they are kept ready or shown, closed when neither. */
export class InputSources {
  readonly #watch = new PictureWatch();
  readonly sources = new Map<string, ColouredSource>();
  readonly #adjusted = new Map<string, AdjustedSource>();
  /** By input and grade: for layers with a grade of their own. */
  readonly #graded = new Map<string, ColouredSource>();
  readonly #tables: CubeTables;
  #document: ShowDocument = new Map();
  readonly #identities = new Map<string, string>();
  readonly #waiting = new Map<string, Waiting>();
  readonly #neededUntil = new Map<string, number>();
  #inputs: readonly InputRecord[] = [];
  /** When sources that have no picture yet were opened, ms, and how long others took, seconds. */
  readonly #opening = new Map<string, number>();
  readonly #started = new Map<string, number>();
  #shown: ReadonlySet<string> = new Set();
  #onAir: ReadonlySet<string> = new Set();
  #seconds = 0;

  /** @param onEnded clips have run out; whether they are to bring on the next scene */
  constructor(
    readonly clock: Clock,
    readonly onEnded: (inputId: string, thenNext: boolean) => void,
    onFailure: (message: string) => void,
  ) {
    this.#tables = new CubeTables(onFailure);
  }

  setDocument(document: ShowDocument): void {
    this.#document = document;
    for (const [key, graded] of this.#graded) {
      const grade = findRecord(document, 'grade', key.slice(key.indexOf('|') + 1));
      if (grade) graded.colour({ grade, key: null });
      else this.#graded.delete(key);
    }
    const inputs = recordsOf(document, 'input');
    for (const input of inputs) this.sources.get(input.id)?.colour(this.#colouring(input));
    const before = new Map(this.#inputs.map((i) => [i.id, i]));
    this.#inputs = inputs;
    const wanted = new Set(inputs.map((i) => i.id));
    for (const id of [...this.sources.keys()]) if (!wanted.has(id)) this.#close(id);
    for (const input of inputs) {
      const old = before.get(input.id);
      if (old === input) continue;
      const source = this.sources.get(input.id);
      if (source && this.#identities.get(input.id) !== identity(input)) this.#close(input.id);
      else this.#adjust(input);
    }
    this.#reconcile();
  }

  #adjust(input: InputRecord): void {
    const adjusted = this.#adjusted.get(input.id);
    adjusted?.adjust(input);
    if (adjusted?.inner instanceof TrackSource)
      adjusted.inner.interlaced = input.source.type === 'camera' && input.source.deinterlace;
  }

  #colouring({ key, gradeId }: InputRecord): Colouring {
    return { key, grade: findRecord(this.#document, 'grade', gradeId) };
  }

  /** A source with a layer's own grade over it; as it is when the grade is gone. */
  gradedFor(inputId: string, source: PictureSource, gradeId: string): PictureSource {
    const grade = findRecord(this.#document, 'grade', gradeId);
    if (!grade) return source;
    const key = `${inputId}|${gradeId}`;
    let graded = this.#graded.get(key);
    if (graded?.inner !== source) {
      graded = new ColouredSource(source, (assetId) => this.#tables.get(assetId));
      graded.colour({ grade, key: null });
      this.#graded.set(key, graded);
    }
    return graded;
  }

  /** Which inputs are seen anywhere, and which of them on air. */
  setShown(shown: ReadonlySet<string>, onAir: ReadonlySet<string>): void {
    const before = this.#onAir;
    this.#shown = shown;
    this.#onAir = onAir;
    this.#reconcile();
    for (const [id, source] of this.sources)
      if (before.has(id) !== onAir.has(id)) source.setOnAir(onAir.has(id), this.#seconds);
  }

  attachTrack(inputId: string, frames: ReadableStream<VideoFrame>): void {
    this.#hand(inputId, { frames, problem: null, empty: undefined });
  }

  attachSound(inputId: string, ring: SharedArrayBuffer): void {
    this.#hand(inputId, { ring });
  }

  problem(inputId: string, problem: string | null): void {
    this.#hand(inputId, { problem });
  }

  /** @param words in place of a picture */
  empty(inputId: string, words: string): void {
    this.#hand(inputId, { frames: undefined, empty: words });
  }

  advance(seconds: number): void {
    this.#seconds = seconds;
    for (const source of this.sources.values()) source.advance(seconds);
    for (const graded of this.#graded.values()) graded.refresh(seconds);
    for (const [id, openedMs] of this.#opening)
      if (this.sources.get(id)?.state === 'ready') {
        this.#opening.delete(id);
        this.#started.set(id, (this.clock.nowMs() - openedMs) / 1000);
      }
    for (const [id, until] of this.#neededUntil) if (seconds > until) this.#close(id);
  }

  /** Colours what can be coloured ahead of its drawing; null when nothing can. After `advance`. */
  prepare(): Promise<void> | null {
    const under = promised([...this.sources.values()].map((source) => source.prepare()));
    const over = () => promised([...this.#graded.values()].map((graded) => graded.prepare()));
    // A layer's own grade lies over its input's.
    return under ? under.then(over).then(() => {}) : over();
  }

  /** Whether everything that is decoded ahead is there. */
  get caughtUp(): boolean {
    return [...this.#adjusted.values()].every((source) => source.caughtUp);
  }

  /** To be called now and then, when there is time: one input is looked at, whether it moves. */
  watch(): void {
    this.#watch.next(this.sources, this.#seconds);
  }

  /** How all inputs do. */
  states(): InputState[] {
    return this.#inputs.map(({ id }) => {
      const source = this.sources.get(id);
      if (!source)
        return {
          inputId: id,
          state: 'asleep',
          message: 'closed until a scene with it is shown',
          width: 0,
          height: 0,
          hasSound: false,
          look: null,
          startSeconds: null,
          blocked: [],
          played: null,
        };
      const { state, message, width, height, hasSound } = source;
      const inner = this.#adjusted.get(id)?.inner;
      const blocked = inner instanceof PageSource ? inner.blocked : [];
      return {
        inputId: id,
        state,
        message,
        width,
        height,
        hasSound,
        look: this.#watch.lookOf(id),
        startSeconds: this.#started.get(id) ?? null,
        blocked,
        played: rounded(this.#adjusted.get(id)?.inner.played ?? null),
      };
    });
  }

  order(inputId: string, order: ClipsOrder): void {
    this.#adjusted.get(inputId)?.inner.obey?.(order);
  }

  #reconcile(): void {
    for (const input of this.#inputs) {
      const { id } = input;
      // Whoever sits on a seat sends all the time, whatever is shown.
      if (input.keepReady || input.source.type === 'seat' || this.#shown.has(id)) {
        this.#neededUntil.delete(id);
        if (!this.sources.has(id)) this.#open(input);
      } else if (this.sources.has(id) && !this.#neededUntil.has(id))
        this.#neededUntil.set(id, this.#seconds + LINGER_SECONDS);
    }
  }

  #open(input: InputRecord): void {
    const adjusted = new AdjustedSource(
      open(input, (thenNext) => this.onEnded(input.id, thenNext)),
      input,
    );
    const source = new ColouredSource(adjusted, (assetId) => this.#tables.get(assetId));
    source.colour(this.#colouring(input));
    this.#adjusted.set(input.id, adjusted);
    this.#adjust(input);
    this.sources.set(input.id, source);
    this.#identities.set(input.id, identity(input));
    this.#opening.set(input.id, this.clock.nowMs());
    this.#hand(input.id, {});
    if (this.#onAir.has(input.id)) source.setOnAir(true, this.#seconds);
  }

  /** Messages about an input may come before the document that has it: they wait here. */
  #hand(inputId: string, more: Waiting): void {
    const waiting = { ...this.#waiting.get(inputId), ...more };
    this.#waiting.set(inputId, waiting);
    const source = this.#adjusted.get(inputId)?.inner;
    if (source instanceof TrackSource) {
      if (waiting.frames) source.attach(waiting.frames);
      if (waiting.problem !== undefined) source.problem(waiting.problem);
      if (waiting.empty !== undefined) source.empty(waiting.empty);
      this.#waiting.delete(inputId);
    } else if (waiting.ring) {
      const { ring } = waiting;
      if (isLazy(source)) source.whenOpen((opened) => opened.attachSound?.(ring));
      else source?.attachSound?.(ring);
    }
  }

  #close(id: string): void {
    this.sources.get(id)?.close();
    this.sources.delete(id);
    this.#adjusted.delete(id);
    for (const key of this.#graded.keys()) if (key.startsWith(`${id}|`)) this.#graded.delete(key);
    this.#identities.delete(id);
    this.#opening.delete(id);
    this.#started.delete(id);
    this.#neededUntil.delete(id);
  }
}

/** To half seconds: nobody reads it finer, and each change is told. */
function rounded(played: Played | null): Played | null {
  return played && { ...played, seconds: Math.floor(played.seconds * 2) / 2 };
}

function promised(all: readonly (Promise<void> | null)[]): Promise<void> | null {
  const some = all.filter((one) => one !== null);
  return some.length > 0 ? Promise.all(some).then(() => {}) : null;
}

function isLazy(source: PictureSource | undefined): source is LazySource<PictureSource> {
  return source instanceof LazySource;
}

function open(input: InputRecord, onEnd: (thenNext: boolean) => void): PictureSource {
  const { source } = input;
  switch (source.type) {
    case 'camera':
    case 'screen':
    case 'seat':
      return new TrackSource();
    case 'picture':
      return new PictureFileSource(assetUrl(source.assetId), source.loop);
    case 'slides':
      return new SlidesSource(
        source.files.map(({ name, assetId }) => ({ name, url: assetUrl(assetId) })),
        source.order,
        source.intervalSeconds,
        source.fadeSeconds,
      );
    case 'background':
      return new BackgroundSource(source);
    case 'simulated':
      return new SimulatedSource(source.picture);
    case 'testPicture':
      return new TestPictureSource(source);
    // Demuxer, decoders and the animation player are large: they are fetched when the first such file is shown.
    case 'clips': {
      const files = source.files.map(({ name, assetId }) => ({ name, url: assetUrl(assetId) }));
      const ended = () => {
        if (source.atEnd !== 'loop') onEnd(source.atEnd === 'next');
      };
      return new LazySource(async () => {
        const module = await import('./clips-source');
        return new module.ClipsSource(files, source, ended);
      });
    }
    case 'page':
      return new PageSource(inputStreamUrl(input.id));
    case 'feed':
      return new LazySource(async () => {
        const module = await import('./feed-source');
        return new module.FeedSource(inputStreamUrl(input.id));
      });
    case 'lottie':
      return new LazySource(async () => {
        const module = await import('./lottie-source');
        return new module.LottieSource(assetUrl(source.assetId), source.loop, source.speed);
      });
  }
}
