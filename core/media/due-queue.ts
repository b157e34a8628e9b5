/** Things with times of their own that wait until the programme has come to them. */
export class DueQueue<T> {
  readonly #waiting: { seconds: number; item: T }[] = [];

  /** @param most that wait at once; of more the oldest are let go, by `leave` */
  constructor(
    readonly most: number,
    readonly leave: (item: T) => void = () => {},
  ) {}

  /** @param seconds in its own time; later than those before it */
  push(seconds: number, item: T): void {
    this.#waiting.push({ seconds, item });
    if (this.#waiting.length > this.most) this.leave(this.#waiting.shift()!.item);
  }

  /**
   * @param offset from its own time to the programme's, seconds; null: nothing is waited for
   * @param now programme seconds
   * @returns the newest that is due, or null; those before it are let go
   */
  newest(offset: number | null, now: number): T | null {
    let due: T | null = null;
    while (this.#waiting.length > 0 && (offset === null || this.#waiting[0].seconds + offset <= now)) {
      if (due !== null) this.leave(due);
      due = this.#waiting.shift()!.item;
    }
    return due;
  }

  /** Lets all of it go. */
  clear(): void {
    for (const { item } of this.#waiting.splice(0)) this.leave(item);
  }
}
