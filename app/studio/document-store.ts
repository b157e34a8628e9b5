import { applyEdit, changedRecords, documentOf, type Edit, type ShowDocument } from '~/core/show/document';
import { History } from '~/core/show/history';
import type { AnyRecord } from '~/core/show/records';

export type SaveState = 'saved' | 'saving' | 'retrying';

/** Waits between tries of a save; the last one repeats. */
const RETRY_MS = [500, 1500, 4000, 8000];

export interface DocumentPorts {
  /** Sends one edit; resolves with what the server made of it, rejects when it could not be reached. */
  save(
    edit: Edit,
    baseRevision: number,
  ): Promise<{ revision: number } | { conflict: true } | { refused: string }>;
  /** Loads the show again after a conflict. */
  reload(): Promise<{ revision: number; records: AnyRecord[] }>;
  newId(): string;
  wait(milliseconds: number): Promise<void>;
}

/**
 * The show as the page has it: edits are applied at once, can be undone, and are saved in order behind the user's back.
 * A lost save is sent again; a conflict loads the show anew rather than overwriting what somebody else did.
 */
export class DocumentStore {
  #document: ShowDocument;
  #revision: number;
  #base: ShowDocument | null = null;
  readonly #history = new History();
  readonly #queue: Edit[] = [];
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
    this.#document = documentOf(records);
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

  get undoName(): string | null {
    return this.#history.undoName;
  }

  get redoName(): string | null {
    return this.#history.redoName;
  }

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
    this.#base = null;
    try {
      this.#history.record(this.#apply({ id: this.ports.newId(), name, put, removed }));
    } finally {
      this.#notify();
    }
  }

  /** Shows a change that is still going on, such as a drag: neither saved nor remembered until it is an edit. */
  preview(put: AnyRecord[]): void {
    this.#base ??= this.#document;
    this.#document = applyEdit(this.#base, { id: 'preview', name: '', put, removed: [] }).document;
    this.#notify();
  }

  /** Takes back a preview. */
  cancel(): void {
    if (!this.#base) return;
    this.#document = this.#base;
    this.#base = null;
    this.#notify();
  }

  undo(): boolean {
    this.cancel();
    const done = this.#history.undo((edit) => this.#apply({ ...edit, id: this.ports.newId() }));
    this.#notify();
    return done;
  }

  redo(): boolean {
    this.cancel();
    const done = this.#history.redo((edit) => this.#apply({ ...edit, id: this.ports.newId() }));
    this.#notify();
    return done;
  }

  /** Undoes or redoes until `done` steps are done. */
  jump(done: number): void {
    this.cancel();
    this.#history.jump(done, (edit) => this.#apply({ ...edit, id: this.ports.newId() }));
    this.#notify();
  }

  dismissNotice(): void {
    this.notice = null;
    this.#notify();
  }

  #apply(edit: Edit): Edit {
    const { document, inverse } = applyEdit(this.#document, edit);
    this.#document = document;
    this.#queue.push(edit);
    void this.#save();
    return inverse;
  }

  async #save(): Promise<void> {
    if (this.#saving) return;
    this.#saving = true;
    this.#setSave('saving');
    let tries = 0;
    while (this.#queue.length > 0) {
      let answer: Awaited<ReturnType<DocumentPorts['save']>>;
      try {
        answer = await this.ports.save(this.#queue[0], this.#revision);
      } catch {
        this.#setSave('retrying');
        await this.ports.wait(RETRY_MS[Math.min(tries++, RETRY_MS.length - 1)]);
        continue;
      }
      tries = 0;
      if ('revision' in answer) {
        this.#revision = answer.revision;
        this.#queue.shift();
      } else if (
        !(await this.#startOver(
          'conflict' in answer
            ? 'The show was changed in another window, so it was loaded again. Your last change here was not saved.'
            : `A change could not be saved: ${answer.refused}`,
        ))
      ) {
        await this.ports.wait(RETRY_MS[0]);
      }
    }
    this.#saving = false;
    this.#setSave('saved');
  }

  async #startOver(notice: string): Promise<boolean> {
    try {
      const { revision, records } = await this.ports.reload();
      this.#queue.length = 0;
      this.#history.clear();
      this.#base = null;
      this.#revision = revision;
      this.#document = documentOf(records);
      this.notice = notice;
      this.#notify();
      return true;
    } catch {
      return false;
    }
  }

  /** Resolves when everything is saved that was changed until now. */
  saved(): Promise<void> {
    if (this.#queue.length === 0) return Promise.resolve();
    return new Promise((resolve) => {
      const stop = this.subscribe(() => {
        if (this.#queue.length > 0) return;
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
