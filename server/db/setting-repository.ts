import type { Database } from './database';

/** Settings of this machine, which no show carries to another one. */
export class SettingRepository {
  constructor(readonly database: Database) {}

  get(name: string): string | null {
    const row = this.database.prepare('SELECT value FROM setting WHERE name = ?').get(name) as
      { value: string } | undefined;
    return row?.value ?? null;
  }

  /** @param value null to forget it */
  set(name: string, value: string | null): void {
    if (value === null) this.database.prepare('DELETE FROM setting WHERE name = ?').run(name);
    else
      this.database
        .prepare(
          'INSERT INTO setting (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value',
        )
        .run(name, value);
  }
}
