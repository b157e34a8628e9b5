import type { Database } from './database';

/** What secrets are about: each kind has its prefix, so that no border can be talked into storing one of another kind. */
export const subjects = {
  streamKey: (destinationId: string) => `stream-key:${destinationId}`,
  account: (destinationId: string) => `account:${destinationId}`,
  inputAddress: (inputId: string) => `input-address:${inputId}`,
  inputKey: (inputId: string) => `input-key:${inputId}`,
  hook: (hookId: string) => `hook:${hookId}`,
  chat: (serverId: string) => `chat:${serverId}`,
  request: (requestId: string) => `request:${requestId}`,
  announce: (showId: string) => `announce:${showId}`,
  /** How the studio reaches a door that stands elsewhere. */
  door: 'door:elsewhere',
  /** The relay for guests' connections. */
  turn: 'turn:guests',
  /** The broadcast that runs. */
  broadcast: 'broadcast',
} as const;

/** Where the thing stands that a secret of a kind is about. */
const TABLES: Readonly<Record<string, string>> = {
  'stream-key': 'destination',
  account: 'destination',
  'input-address': 'input',
  'input-key': 'input',
  hook: 'hook',
  chat: 'chat_server',
  announce: 'show',
  request: 'request',
};

/** Kind and id of a subject; null for one that is about nothing that could be removed. */
export function readSubject(subject: string): { kind: string; id: string } | null {
  const at = subject.indexOf(':');
  return at < 0 ? null : { kind: subject.slice(0, at), id: subject.slice(at + 1) };
}

/** Secrets whose destination, input, hook, server or show is gone. */
export function orphanedSubjects(database: Database, all: readonly string[]): string[] {
  return all.filter((subject) => {
    const read = readSubject(subject);
    const table = read && TABLES[read.kind];
    // The names of tables are those above.
    return table && !database.prepare(`SELECT 1 FROM ${table} WHERE id = ?`).get(read.id);
  });
}
