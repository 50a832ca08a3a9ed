import type { Migration } from './types.js'

export const backfills: Migration = {
  number: 6,
  what: 'backfills with the records they go through; what ran in a save and what it cost; saves that were refused; messages given up; views of lists',
  apply: (db) =>
    void db.exec(`
CREATE TABLE ph_backfill (
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, user TEXT NOT NULL, tbl TEXT NOT NULL, wish TEXT NOT NULL, undoes INTEGER,
  state TEXT NOT NULL, failure TEXT, total INTEGER NOT NULL, done INTEGER NOT NULL, figures TEXT NOT NULL, ended TEXT
) STRICT;
CREATE TABLE ph_backfill_record (
  job INTEGER NOT NULL, place INTEGER NOT NULL, tbl TEXT NOT NULL, record INTEGER NOT NULL, PRIMARY KEY (job, place)
) STRICT, WITHOUT ROWID;
CREATE TABLE ph_backfill_left (
  id INTEGER PRIMARY KEY, job INTEGER NOT NULL, tbl TEXT NOT NULL, record INTEGER NOT NULL, field TEXT, message TEXT NOT NULL
) STRICT;
CREATE INDEX ph_backfill_left_job ON ph_backfill_left (job, id);
ALTER TABLE ph_save ADD COLUMN job INTEGER;
ALTER TABLE ph_save ADD COLUMN versions TEXT;
ALTER TABLE ph_save ADD COLUMN ms REAL;
ALTER TABLE ph_save ADD COLUMN budget TEXT;
ALTER TABLE ph_save ADD COLUMN share REAL;
UPDATE ph_save SET ms = json_extract(spent, '$.ms');
CREATE INDEX ph_save_job ON ph_save (job) WHERE job IS NOT NULL;
CREATE TABLE ph_refused (
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, user TEXT NOT NULL, rows INTEGER NOT NULL, after INTEGER NOT NULL, given TEXT,
  versions TEXT NOT NULL, spent TEXT NOT NULL, ms REAL NOT NULL, code TEXT NOT NULL, hook TEXT, tbl TEXT, error TEXT NOT NULL
) STRICT;
CREATE TABLE ph_list_view (
  tbl TEXT NOT NULL, name TEXT NOT NULL, query TEXT NOT NULL, user TEXT NOT NULL, at TEXT NOT NULL, PRIMARY KEY (tbl, name)
) STRICT, WITHOUT ROWID;
ALTER TABLE ph_outbox ADD COLUMN next_try TEXT;
ALTER TABLE ph_outbox ADD COLUMN given_up TEXT;
DROP INDEX ph_outbox_waiting;
CREATE INDEX ph_outbox_waiting ON ph_outbox (id) WHERE delivered IS NULL AND given_up IS NULL;
`),
}
