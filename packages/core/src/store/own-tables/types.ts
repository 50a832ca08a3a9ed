import type Database from 'better-sqlite3'

/** A step of the application's own tables (ph_…), from the number before to this one. Once released it never changes. */
export interface Migration {
  /** From 1, without a gap. */
  number: number
  what: string
  /** Runs in the transaction of all steps. */
  apply(db: Database.Database): void
}
