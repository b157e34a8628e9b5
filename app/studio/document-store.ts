import {
  applyEdit,
  changedRecords,
  changesApplied,
  documentOf,
  rebased,
  type Edit,
  type ShowDocument,
} from '~/core/show/document';
import equal from 'fast-deep-equal';
import { History, type Step } from '~/core/show/history';
import type { AnyRecord } from '~/core/show/records';
import { changedPaths, overlap, settle, type ToldChange } from '~/core/show/settle';

export type SaveState = 'saved' | 'saving' | 'retrying';

/** Waits between tries of a save; the last one repeats. */
const RETRY_MS = [500, 1500, 4000, 8000];
/** What another window changes is told when it was changed here so short a time ago. */
const RECENT_MS = 120_000;

export interface DocumentPorts {
  /** Sends one edit; resolves with what the server made of it, rejects when it could not be reached. */
  save(
    edit: Edit,
    seen: readonly AnyRecord[],
  ): Promise<{ revision: number; gone: string[] } | { refused: string }>;
  /** Loads the show as it stands, when something was not heard of. */
  reload(): Promise<{ revision: number; records: AnyRecord[] }>;
  newId(): string;
  now(): number;
  wait(milliseconds: number): Promise<void>;
}

/** An edit of this window that the server has not told back yet, and the records as they were when it was made. */
interface Own {
  edit: Edit;
  seen: readonly AnyRecord[];
  /** The revision it became, once the server has answered. */
  revision: number | null;
}

/**
 * The show as the page has it: what the server has told, and on top of it the edits that it has not told back yet. Edits are
 * applied at once, can be undone, and are saved in order behind the user's back; what other windows do is taken in as it
 * comes, and nothing is ever loaded over what was done here.
 */
export class DocumentStore {
  /** As the server has it, up to `#revision`. */
  #confirmed: ShowDocument;
  #revision: number;
  #document: ShowDocument;
  #base: ShowDocument | null = null;
  #preview: { put: AnyRecord[]; seen: AnyRecord[] } | null = null;
  readonly #history = new History();
  /** In order: those with a revision are saved, and wait to be told back. */
  #own: Own[] = [];
  /** Told before something that comes first. */
  readonly #early = new Map<number, ToldChange>();
  #catchingUp = false;
  /** What was changed here lately, by record. */
  readonly #recent = new Map<string, { paths: string[]; atMs: number }>();
  readonly #listeners = new Set<() => void>();
  #saving = false;
  saveState: SaveState = 'saved';
  /** What the user should know about the last save; null when all is well. */
  notice: string | null = null;

  constructor(
    records: AnyRecord[],
    revision: number,
    readonly ports: DocumentPorts,
  ) {
    this.#document = this.#confirmed = documentOf(records);
    this.#revision = revision;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly document = (): ShowDocument => this.#document;

  /** The show without what is only shown for now. */
  base(): ShowDocument {
    return this.#base ?? this.#document;
  }

  /** Of the show as it was confirmed. */
  get revision(): number {
    return this.#revision;
  }

  get undoName(): string | null {
    return this.#history.undoName;
  }

  get redoName(): string | null {
    return this.#history.redoName;
  }

  /** When something was edited or undone here last; milliseconds since 1970. */
  lastEditMs = -Infinity;

  /** Names of the steps, oldest first, and how many of them are done. */
  steps(): { names: string[]; done: number } {
    return this.#history.steps();
  }

  /**
   * Applies, remembers for undo, and saves. What changes nothing leaves no step behind: a field that is committed by
   * Enter and left before it was drawn anew commits the same a second time.
   *
   * @throws Fault `edit.*` when it does not fit; nothing is changed then
   */
  edit(name: string, records: AnyRecord[], removed: string[] = []): void {
    // Told once: whoever follows would show the place before a drag for a moment.
    const put = changedRecords(this.base(), records);
    if (put.length === 0 && removed.length === 0) return this.cancel();
    this.#document = this.base();
    this.#base = this.#preview = null;
    try {
      const seen = put.flatMap((record) => this.#document.get(record.id) ?? []);
      this.#history.record(this.#apply({ id: this.ports.newId(), name, put, removed }, seen));
    } finally {
      this.#notify();
    }
  }

  /** Shows a change that is still going on, such as a drag: neither saved nor remembered until it is an edit. */
  preview(put: AnyRecord[]): void {
    this.#base ??= this.#document;
    const base = this.#base;
    this.#preview = { put, seen: put.flatMap((record) => base.get(record.id) ?? []) };
    this.#document = applyEdit(base, { id: 'preview', name: '', put, removed: [] }).document;
    this.#notify();
  }

  /** Takes back a preview. */
  cancel(): void {
    if (!this.#base) return;
    this.#document = this.#base;
    this.#base = this.#preview = null;
    this.#notify();
  }

  undo(): boolean {
    this.cancel();
    const done = this.#history.undo((step) => this.#again(step));
    this.#notify();
    return done;
  }

  redo(): boolean {
    this.cancel();
    const done = this.#history.redo((step) => this.#again(step));
    this.#notify();
    return done;
  }

  /** Undoes or redoes until `done` steps are done. */
  jump(done: number): void {
    this.cancel();
    this.#history.jump(done, (step) => this.#again(step));
    this.#notify();
  }

  dismissNotice(): void {
    this.notice = null;
    this.#notify();
  }

  /** What the server tells of an edit, one's own or another's. */
  told(change: ToldChange): void {
    if (change.revision <= this.#revision) return;
    this.#early.set(change.revision, change);
    let next: ToldChange | undefined;
    while ((next = this.#early.get(this.#revision + 1))) {
      this.#early.delete(next.revision);
      this.#enter(next);
    }
    this.#show();
    if (this.#early.size > 0) void this.#catchUp();
  }

  /** What everybody else has by now: something may have been told while this window was cut off. */
  heardOf(revision: number): void {
    if (revision !== this.#revision) void this.#catchUp();
  }

  #enter({ revision, id, put, removed }: ToldChange): void {
    const own = this.#own.find(({ edit }) => edit.id === id);
    if (own) this.#own = this.#own.filter((one) => one !== own);
    else this.#noteForeign(put, removed);
    // The same record as the one at hand, where it is equal: nobody has to look at it again.
    const same = put.map((record) => {
      const mine = this.#document.get(record.id);
      return mine && equal(mine, record) ? mine : record;
    });
    this.#confirmed = changesApplied(this.#confirmed, same, removed);
    this.#revision = revision;
  }

  /** Says when another window changed what was changed here a moment ago. */
  #noteForeign(put: readonly AnyRecord[], removed: readonly string[]): void {
    const since = this.ports.now() - RECENT_MS;
    for (const [id, { atMs }] of this.#recent) if (atMs < since) this.#recent.delete(id);
    for (const record of put) {
      const mine = this.#recent.get(record.id);
      const theirs = mine && changedPaths(this.#confirmed.get(record.id), record);
      if (theirs && overlap(mine.paths, theirs))
        this.notice = `“${record.name}” was changed in another window too. The later change counts.`;
    }
    for (const id of removed) {
      const record = this.#confirmed.get(id);
      if (record && this.#recent.has(id)) this.notice = `“${record.name}” was removed in another window.`;
    }
  }

  /** Loads the show as it stands, and puts what was not told back yet on top again. */
  async #catchUp(): Promise<void> {
    if (this.#catchingUp) return;
    this.#catchingUp = true;
    try {
      for (let tries = 0; ; tries++) {
        try {
          const { revision, records } = await this.ports.reload();
          if (revision >= this.#revision) this.#startFrom(revision, records);
          break;
        } catch {
          await this.ports.wait(RETRY_MS[Math.min(tries, RETRY_MS.length - 1)]);
        }
      }
    } finally {
      this.#catchingUp = false;
    }
    this.#show();
    if (this.#early.size === 0) return;
    await this.ports.wait(RETRY_MS[0]);
    // Still something is missing.
    if (this.#early.size > 0) void this.#catchUp();
  }

  #startFrom(revision: number, records: AnyRecord[]): void {
    const known = records.map((record) => {
      const mine = this.#document.get(record.id);
      return mine && equal(mine, record) ? mine : record;
    });
    this.#confirmed = documentOf(known);
    this.#revision = revision;
    this.#own = this.#own.filter((own) => own.revision === null || own.revision > revision);
    for (const early of [...this.#early.keys()].sort((a, b) => a - b)) {
      const change = this.#early.get(early)!;
      if (early <= revision) this.#early.delete(early);
      else if (early === this.#revision + 1) {
        this.#early.delete(early);
        this.#enter(change);
      }
    }
  }

  /** Shows what was confirmed with one's own edits on top; the same document when that is what is shown already. */
  #show(): void {
    let next = this.#confirmed;
    for (const { edit, seen } of this.#own)
      try {
        next = settle(next, edit, seen).document;
      } catch {
        // It does not fit any more: the server says so when it gets there.
      }
    if (sameRecords(next, this.base())) return this.#notify();
    if (this.#base && this.#preview) {
      this.#base = next;
      const put = this.#preview.put.filter((r) => next.has(r.id));
      const seen = new Map(this.#preview.seen.map((record) => [record.id, record]));
      this.#document = changesApplied(next, rebased(put, seen, next), []);
    } else this.#document = next;
    this.#notify();
  }

  #again(step: Step): Step {
    const { seen, ...edit } = step;
    return this.#apply({ ...edit, id: this.ports.newId() }, seen);
  }

  #apply(edit: Edit, seen: readonly AnyRecord[]): Step {
    const { document, inverse } = settle(this.#document, edit, seen);
    const atMs = this.ports.now();
    this.lastEditMs = atMs;
    for (const before of inverse.put) {
      const paths = changedPaths(before, document.get(before.id));
      const known = this.#recent.get(before.id)?.paths ?? [];
      this.#recent.set(before.id, { paths: [...new Set([...known, ...paths])], atMs });
    }
    this.#document = document;
    this.#own.push({ edit, seen, revision: null });
    void this.#save();
    return { ...inverse, seen: inverse.put.flatMap((record) => document.get(record.id) ?? []) };
  }

  async #save(): Promise<void> {
    if (this.#saving) return;
    this.#saving = true;
    this.#setSave('saving');
    let tries = 0;
    let first: Own | undefined;
    while ((first = this.#own.find(({ revision }) => revision === null))) {
      let answer: Awaited<ReturnType<DocumentPorts['save']>>;
      try {
        answer = await this.ports.save(first.edit, first.seen);
      } catch {
        this.#setSave('retrying');
        await this.ports.wait(RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)]);
        continue;
      }
      tries = 0;
      if ('refused' in answer) this.#refused(first, answer.refused);
      else {
        first.revision = answer.revision;
        // Told in the meantime, or contained in what was loaded.
        if (answer.revision <= this.#revision) this.#own = this.#own.filter((own) => own !== first);
        if (answer.gone.length > 0)
          this.notice = `Removed in another window, so your change to it was left out: ${answer.gone.join(', ')}.`;
      }
    }
    this.#saving = false;
    this.#setSave('saved');
  }

  /** One edit is left out; all others stay, and so does what was done before. */
  #refused(own: Own, why: string): void {
    this.#own = this.#own.filter((one) => one !== own);
    this.#history.forget(`undo:${own.edit.id}`);
    this.notice = `A change could not be saved: ${why}`;
    this.#show();
  }

  /** Resolves when everything is saved that was changed until now. */
  saved(): Promise<void> {
    const waiting = () => this.#own.some(({ revision }) => revision === null);
    if (!waiting()) return Promise.resolve();
    return new Promise((resolve) => {
      const stop = this.subscribe(() => {
        if (waiting()) return;
        stop();
        resolve();
      });
    });
  }

  #setSave(state: SaveState): void {
    if (this.saveState === state) return;
    this.saveState = state;
    this.#notify();
  }

  #notify(): void {
    for (const listener of this.#listeners) listener();
  }
}

function sameRecords(a: ShowDocument, b: ShowDocument): boolean {
  if (a === b) return true;
  if (a.size !== b.size) return false;
  for (const [id, record] of a) if (b.get(id) !== record) return false;
  return true;
}
