import type { Migration } from './types.js'

export const backfillParts: Migration = {
  number: 7,
  what: 'the records that a backfill goes through in parts of a thousand: their ids, or table and id where it takes another one back',
  apply: (db) =>
    void db.exec(`
CREATE TABLE ph_backfill_part (
  job INTEGER NOT NULL, part INTEGER NOT NULL, records TEXT NOT NULL, PRIMARY KEY (job, part)
) STRICT, WITHOUT ROWID;
INSERT INTO ph_backfill_part (job, part, records)
SELECT r.job, (r.place - 1) / 1000,
  json_group_array(CASE WHEN b.undoes IS NULL THEN r.record ELSE json_array(r.tbl, r.record) END ORDER BY r.place)
FROM ph_backfill_record r JOIN ph_backfill b ON b.id = r.job GROUP BY r.job, (r.place - 1) / 1000;
DROP TABLE ph_backfill_record;
`),
}
