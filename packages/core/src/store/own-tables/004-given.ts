import type { Migration } from './types.js'

export const given: Migration = {
  number: 4,
  what: 'a save keeps what it was given, so it can be run again',
  apply: (db) => void db.exec('ALTER TABLE ph_save ADD COLUMN given TEXT'),
}
