import type { Migration } from './types.js'

/** What files had before they were numbered; a file of that time has these tables already. */
export const first: Migration = {
  number: 1,
  what: 'files, sequences, saves, history, outbox',
  apply: (db) =>
    void db.exec(`
CREATE TABLE IF NOT EXISTS ph_meta (key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT;
CREATE TABLE IF NOT EXISTS ph_file (path TEXT PRIMARY KEY, text TEXT NOT NULL) STRICT;
CREATE TABLE IF NOT EXISTS ph_sequence (name TEXT PRIMARY KEY, next INTEGER NOT NULL) STRICT;
CREATE TABLE IF NOT EXISTS ph_save (
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, user TEXT NOT NULL, rows INTEGER NOT NULL, spent TEXT NOT NULL
) STRICT;
CREATE TABLE IF NOT EXISTS ph_history (
  id INTEGER PRIMARY KEY, save INTEGER NOT NULL, tbl TEXT NOT NULL, record INTEGER NOT NULL, event TEXT NOT NULL,
  depth INTEGER NOT NULL, cause TEXT NOT NULL, patch TEXT NOT NULL
) STRICT;
CREATE INDEX IF NOT EXISTS ph_history_record ON ph_history (record, tbl);
CREATE TABLE IF NOT EXISTS ph_outbox (
  id INTEGER PRIMARY KEY, save INTEGER NOT NULL, channel TEXT NOT NULL, payload TEXT NOT NULL, at TEXT NOT NULL,
  hook TEXT NOT NULL, delivered TEXT, tries INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX IF NOT EXISTS ph_outbox_waiting ON ph_outbox (delivered, id);
`),
}
