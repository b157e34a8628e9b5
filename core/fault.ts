/**
 * The one error class for things that can go wrong while running.
 *
 * `code` is stable and meant for programs; `message` is for people and says what happened and what to do;
 * `fatal` tells whether the part that raised it can go on.
 */
export class Fault extends Error {
  readonly code: string;
  readonly fatal: boolean;

  constructor(code: string, message: string, options: { fatal?: boolean; cause?: unknown } = {}) {
    super(message, options.cause === undefined ? undefined : { cause: options.cause });
    this.name = 'Fault';
    this.code = code;
    this.fatal = options.fatal ?? true;
  }
}

/** Text of anything that was thrown. */
export function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** Recognises a Fault by its shape: pages and server are bundled apart, so each may have a class of its own. */
export function isFault(error: unknown): error is Fault {
  return (
    error instanceof Error && error.name === 'Fault' && typeof (error as Partial<Fault>).code === 'string'
  );
}
