import type { Edit } from './document';
import type { AnyRecord } from './records';

/** An edit that takes back another, and the records as that one left them: what came since stays. */
export interface Step extends Edit {
  seen: readonly AnyRecord[];
}

/** Steps that can be undone. Records are shared between steps, so a thousand of them stay small. */
const LIMIT = 1000;

/** Undo and redo as two stacks of edits. */
export class History {
  readonly #undo: Step[] = [];
  readonly #redo: Step[] = [];

  /** @param limit steps kept; older ones are forgotten */
  constructor(readonly limit = LIMIT) {}

  get undoName(): string | null {
    return this.#undo.at(-1)?.name ?? null;
  }

  get redoName(): string | null {
    return this.#redo.at(-1)?.name ?? null;
  }

  /** Names of the steps, oldest first, and how many of them are done: the rest were undone and can come back. */
  steps(): { names: string[]; done: number } {
    return {
      names: [...this.#undo.map((e) => e.name), ...this.#redo.map((e) => e.name).reverse()],
      done: this.#undo.length,
    };
  }

  /** Takes the inverse of an edit that was just applied. */
  record(inverse: Step): void {
    this.#undo.push(inverse);
    if (this.#undo.length > this.limit) this.#undo.shift();
    this.#redo.length = 0;
  }

  /**
   * @param apply applies an edit and returns its inverse
   * @returns whether there was anything to undo
   */
  undo(apply: (step: Step) => Step): boolean {
    const edit = this.#undo.pop();
    if (!edit) return false;
    this.#redo.push(apply(edit));
    return true;
  }

  redo(apply: (step: Step) => Step): boolean {
    const edit = this.#redo.pop();
    if (!edit) return false;
    this.#undo.push(apply(edit));
    return true;
  }

  /** Undoes or redoes until `done` steps are done. */
  jump(done: number, apply: (step: Step) => Step): void {
    const target = Math.max(0, Math.min(this.#undo.length + this.#redo.length, Math.round(done)));
    while (this.#undo.length > target) this.undo(apply);
    while (this.#undo.length < target) this.redo(apply);
  }

  /** Forgets a step that came to nothing. @param id of the step */
  forget(id: string): void {
    for (const steps of [this.#undo, this.#redo]) {
      const at = steps.findIndex((step) => step.id === id);
      if (at >= 0) steps.splice(at, 1);
    }
  }
}
