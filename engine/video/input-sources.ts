import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { InputRecord } from '../../core/show/records';
import type { InputState } from '../../protocol/engine';
import { PictureFileSource, SimulatedSource, TrackSource, type PictureSource } from './picture-source';
import { LazySource } from './lazy-source';
import type { VideoFileSource } from './video-file-source';

/** What changes a source so much that it must be opened anew. */
function identity(input: InputRecord): string {
  const { source } = input;
  if (source.type === 'camera') return `camera|${source.mirrored}`;
  if (source.type === 'screen') return 'screen';
  return JSON.stringify(source);
}

/** The open sources of a show's inputs, opened and closed as the document changes. */
export class InputSources {
  readonly sources = new Map<string, PictureSource>();
  readonly #identities = new Map<string, string>();
  readonly #waiting = new Map<
    string,
    { frames?: ReadableStream<VideoFrame>; ring?: SharedArrayBuffer; problem?: string | null }
  >();

  setDocument(document: ShowDocument): void {
    const inputs = recordsOf(document, 'input');
    const wanted = new Set(inputs.map((i) => i.id));
    for (const id of [...this.sources.keys()]) if (!wanted.has(id)) this.#close(id);
    for (const input of inputs) {
      const key = identity(input);
      if (this.#identities.get(input.id) === key) continue;
      this.#close(input.id);
      this.sources.set(input.id, open(input));
      this.#identities.set(input.id, key);
      this.#hand(input.id);
    }
  }

  attachTrack(inputId: string, frames: ReadableStream<VideoFrame>): void {
    this.#waiting.set(inputId, { ...this.#waiting.get(inputId), frames, problem: null });
    this.#hand(inputId);
  }

  attachSound(inputId: string, ring: SharedArrayBuffer): void {
    this.#waiting.set(inputId, { ...this.#waiting.get(inputId), ring });
    this.#hand(inputId);
  }

  problem(inputId: string, problem: string | null): void {
    this.#waiting.set(inputId, { ...this.#waiting.get(inputId), problem });
    this.#hand(inputId);
  }

  advance(seconds: number): void {
    for (const source of this.sources.values()) source.advance(seconds);
  }

  states(): InputState[] {
    return [...this.sources].map(([inputId, { state, message, width, height, hasSound }]) => ({
      inputId,
      state,
      message,
      width,
      height,
      hasSound,
    }));
  }

  /** Messages about an input may come before the document that has it: they wait here. */
  #hand(inputId: string): void {
    const source = this.sources.get(inputId);
    const waiting = this.#waiting.get(inputId);
    if (!source || !waiting) return;
    if (source instanceof TrackSource) {
      if (waiting.frames) source.attach(waiting.frames);
      if (waiting.problem !== undefined) source.problem(waiting.problem);
      this.#waiting.delete(inputId);
    } else if (source instanceof LazySource && waiting.ring) {
      const { ring } = waiting;
      source.whenOpen((video) => video.attachSound(ring));
    }
  }

  #close(id: string): void {
    this.sources.get(id)?.close();
    this.sources.delete(id);
    this.#identities.delete(id);
  }
}

function open(input: InputRecord): PictureSource {
  const { source } = input;
  switch (source.type) {
    case 'camera':
      return new TrackSource(source.mirrored);
    case 'screen':
      return new TrackSource(false);
    case 'picture':
      return new PictureFileSource(new URL(`/files/assets/${source.assetId}`, location.origin).href);
    case 'video':
      return openVideo(new URL(`/files/assets/${source.assetId}`, location.origin).href, source.loop);
    case 'simulated':
      return new SimulatedSource(source.picture);
  }
}

/** Demuxer and decoders are large: they are fetched when the first video file is shown. */
function openVideo(url: string, loop: boolean): LazySource<VideoFileSource> {
  return new LazySource(async () => {
    const module = await import('./video-file-source');
    return new module.VideoFileSource(url, loop);
  });
}
