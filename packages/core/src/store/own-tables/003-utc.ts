import type Database from 'better-sqlite3'
import { quote } from '../../model/ddl.js'
import { utcText } from '../../model/dates.js'
import type { Migration } from './types.js'

const UTC = '____-__-__T__:__:__.___Z'

/** The date-time fields of a table's file; none where it is not to be read, which opening the project will tell. */
function dateTimes(text: string): string[] {
  try {
    const { properties } = JSON.parse(text) as { properties?: Record<string, { format?: unknown }> }
    return Object.entries(properties ?? {}).flatMap(([name, field]) => (field?.format === 'date-time' ? [name] : []))
  } catch {
    return []
  }
}

const columnsOf = (db: Database.Database, table: string): string[] =>
  (db.pragma(`table_info(${quote(table)})`) as { name: string }[]).map(({ name }) => name)

/** What is finer than a millisecond, and what another record already holds in a unique field, stays as it is. */
export const utc: Migration = {
  number: 3,
  what: 'date-times of records in UTC, in the one form whose text order is the order in time',
  apply: (db) => {
    const files = db.prepare(`SELECT path, text FROM ph_file WHERE path LIKE 'tables/%.json'`).all() as {
      path: string
      text: string
    }[]
    for (const { path, text } of files) {
      const table = path.slice('tables/'.length, -'.json'.length)
      const columns = columnsOf(db, table)
      for (const name of dateTimes(text).filter((each) => columns.includes(each))) {
        const column = quote(name)
        const others = db.prepare(`SELECT id, ${column} AS at FROM ${quote(table)} WHERE ${column} NOT LIKE ?`).all(UTC)
        const update = db.prepare(`UPDATE OR IGNORE ${quote(table)} SET ${column} = ? WHERE id = ?`)
        for (const { id, at } of others as { id: number; at: string }[]) {
          const kept = utcText(at)
          if (kept !== null) update.run(kept, id)
        }
      }
    }
  },
}
