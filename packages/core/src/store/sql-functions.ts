import type Database from 'better-sqlite3'
import { Unfit } from './unfit.js'

/** What our SQL asks of JavaScript: functions that a connection has beside SQLite's own. */

/** Answers about the set that is written. */
export interface SetLookup {
  /** What the field with this index imports the record, as SQLite is to keep it. */
  given(id: number, index: number): unknown
  /** Is the record one of the set? */
  told(id: number): boolean
}

export class SqlFunctions {
  /** Of the set that is written now. */
  lookup: SetLookup | null = null

  constructor(db: Database.Database) {
    // What SQLite would write or read otherwise than JavaScript does: numbers as text.
    db.function('ph_json', { deterministic: true }, (value: unknown) => JSON.stringify(value))
    db.function('ph_number', { deterministic: true }, (text: unknown) => (text === null ? null : Number(text)))
    db.function('ph_unfit', () => {
      throw new Unfit()
    })
    db.function('ph_given', (id: number, index: number) => this.lookup!.given(id, index))
    db.function('ph_told', (id: number) => Number(this.lookup!.told(id)))
  }
}
