/** What the thread that copies recordings is told and tells. */
export interface RewrapWork {
  from: string;
  /** Where the copy is written; it gets its name when it is proven. Next to it lie those of `PARTS` meanwhile. */
  file: string;
  to: 'mp4' | 'mkv';
  fromSeconds: number | null;
  toSeconds: number | null;
}

/** What is made on the way to a copy, by what its name ends with. */
export const PARTS = { range: '.range.mkv', sound: '.sound.mkv' } as const;

export type FromRewrap =
  | { type: 'progress'; share: number }
  /** A program works for it, which outlives the thread unless it is ended. */
  | { type: 'helper'; pid: number | null }
  | { type: 'done'; seconds: number; bytes: number }
  | { type: 'failed'; message: string };
