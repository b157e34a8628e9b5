import { Fault } from '../../core/fault';
import type { Database } from '../db/database';
import type { SecretRepository } from '../db/secret-repository';
import { subjects } from '../db/secret-subjects';
import type { ChatServer } from './irc-client';

type Row = Omit<ChatServer, 'tls' | 'channels'> & { tls: number; channels: string };

/** Chat servers a show connects to; passwords go in and do not come out again. */
export class ChatServerRepository {
  constructor(
    readonly database: Database,
    readonly secrets: SecretRepository,
    readonly showId: string,
  ) {}

  list(): ChatServer[] {
    const rows = this.database
      .prepare(
        'SELECT id, name, host, port, tls, nick, channels FROM chat_server WHERE show_id = ? ORDER BY name, id',
      )
      .all(this.showId) as Row[];
    return rows.map((row) => ({
      ...row,
      tls: row.tls === 1,
      channels: JSON.parse(row.channels) as string[],
    }));
  }

  /** @param password null leaves what is stored; empty takes it away */
  put(server: ChatServer, password: string | null, nowMs: number): void {
    const { changes } = this.database
      .prepare(
        `INSERT INTO chat_server (id, show_id, name, host, port, tls, nick, channels) VALUES (@id, @showId, @name, @host, @port, @tls, @nick, @channels)
         ON CONFLICT (id) DO UPDATE SET name = excluded.name, host = excluded.host, port = excluded.port, tls = excluded.tls,
           nick = excluded.nick, channels = excluded.channels
         WHERE show_id = excluded.show_id`,
      )
      .run({
        ...server,
        showId: this.showId,
        tls: server.tls ? 1 : 0,
        channels: JSON.stringify(server.channels),
      });
    if (changes === 0) throw new Fault('chat.missing', 'this chat server belongs to another show');
    if (password === '') this.secrets.remove(subjects.chat(server.id));
    else if (password !== null) this.secrets.set(subjects.chat(server.id), password, nowMs);
  }

  remove(id: string): void {
    this.database.prepare('DELETE FROM chat_server WHERE id = ? AND show_id = ?').run(id, this.showId);
    this.secrets.remove(subjects.chat(id));
  }

  password(id: string): string | null {
    return this.secrets.get(subjects.chat(id));
  }
}
