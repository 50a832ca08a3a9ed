import type { Migration } from './types.js'

export const keys: Migration = {
  number: 6,
  what: 'keys of other programs, kept as hashes; answers of saves that may be asked for twice',
  apply: (db) =>
    void db.exec(`
CREATE TABLE ph_key (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, hash TEXT NOT NULL UNIQUE, user TEXT NOT NULL, scope TEXT NOT NULL,
  made_at TEXT NOT NULL, made_by TEXT NOT NULL, used_at TEXT, revoked_at TEXT
) STRICT;
CREATE TABLE ph_answer (
  key INTEGER NOT NULL, name TEXT NOT NULL, request TEXT NOT NULL, answer TEXT NOT NULL, at TEXT NOT NULL, PRIMARY KEY (key, name)
) STRICT;
`),
}
