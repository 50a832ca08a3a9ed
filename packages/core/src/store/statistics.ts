import { quote } from '../model/ddl.js'
import type { Store } from './database.js'

/**
 * Tells SQLite how many records a value of each index has (in its table sqlite_stat1, in the form in which ANALYZE writes it). Without that it takes
 * every index for as good as any other, and a look-up by links and a state may go through all records in that state. ANALYZE itself goes through
 * all of every index, or with a limit through the first entries only, which are one state; here some hundred values are looked up, whatever the size.
 */

/** Of smaller tables nothing is reported: they are soon gone through. */
const FEWEST = 1000

/** As many values of an index are looked up at most, and as many of their records counted. */
const [VALUES, RECORDS] = [500, 50_000]

/** The sizes of tables are looked at after so many changes. */
const CHANGES = 10_000

interface Index {
  name: string
  unique: boolean
  columns: readonly string[]
}

export class Statistics {
  /** Changes that this connection had made, and SQLite's number of the schema, when tables were looked at. */
  #looked = { changes: 0, schema: -1 }
  /** Changes that it had made when statistics of all tables were. */
  #made = 0

  /** @param store that is written */
  constructor(private readonly store: Store) {}

  /** To be called after work that may have written. Takes milliseconds for a table, and only once in many thousand changes. */
  afterWork(): void {
    const changes = this.store.one('SELECT total_changes()') as number
    if (this.#schema() === this.#looked.schema && changes - this.#looked.changes < CHANGES) return
    try {
      this.#look(changes)
    } catch {
      // Another program holds the file, or the disk is full: plans are as they were.
    }
    this.#looked = { changes, schema: this.#schema() }
  }

  #schema(): number {
    return this.store.one('PRAGMA schema_version') as number
  }

  #look(changes: number): void {
    const sizes = new Map(
      tablesOf(this.store).map((name) => [name, this.store.one(`SELECT count(*) FROM ${quote(name)}`) as number]),
    )
    const told = toldOf(this.store)
    const all = [...sizes.values()].reduce((sum, size) => sum + size, 0)
    const isOld = changes - this.#made >= Math.max(CHANGES, all / 2)
    const due = [...sizes].filter(([name, size]) => {
      const then = told.get(name)
      if (then === undefined) return size >= FEWEST
      if (isOld || size >= 2 * then.size || size <= then.size / 2) return true
      return indexesOf(this.store, name).some((index) => !then.indexes.has(index.name))
    })
    if (isOld) this.#made = changes
    if (due.length > 0) tell(this.store, new Map(due))
  }
}

const tablesOf = (store: Store): string[] =>
  store.values(
    `SELECT name FROM sqlite_schema WHERE type = 'table' AND substr(name, 1, 3) <> 'ph_' AND substr(name, 1, 7) <> 'sqlite_'`,
  ) as string[]

const areThere = (store: Store): boolean => store.one(`SELECT 1 FROM sqlite_schema WHERE name = 'sqlite_stat1'`) !== undefined

/** By table, how many records it had when statistics of it were made, and of which indexes they are. */
function toldOf(store: Store): Map<string, { size: number; indexes: Set<string | null> }> {
  const tables = new Map<string, { size: number; indexes: Set<string | null> }>()
  if (!areThere(store)) return tables
  for (const [name, index, size] of store.rows(`SELECT tbl, idx, CAST(stat AS INTEGER) FROM sqlite_stat1`) as [
    string,
    string | null,
    number,
  ][]) {
    const told = tables.get(name) ?? { size, indexes: new Set() }
    tables.set(name, told)
    told.indexes.add(index)
  }
  return tables
}

/** @param sizes by table */
function tell(store: Store, sizes: ReadonlyMap<string, number>): void {
  store.transaction(() => {
    // Makes the table where there is none.
    if (!areThere(store)) store.db.exec('ANALYZE sqlite_schema')
    for (const [table, size] of sizes) {
      store.run('DELETE FROM sqlite_stat1 WHERE tbl = ?', table)
      for (const index of indexesOf(store, table)) {
        const stat = [size, ...recordsOfOne(store, table, index, size)].join(' ')
        store.run('INSERT INTO sqlite_stat1 (tbl, idx, stat) VALUES (?, ?, ?)', table, index.name, stat)
      }
    }
    return { value: undefined, keep: true }
  })
  // Has them read.
  store.db.exec('ANALYZE sqlite_schema')
}

function indexesOf(store: Store, table: string): Index[] {
  const indexes = store.rows('SELECT name, "unique" FROM pragma_index_list(?)', table) as [string, number][]
  return indexes.map(([name, unique]) => ({
    name,
    unique: unique === 1,
    columns: store.values('SELECT name FROM pragma_index_info(?) ORDER BY seqno', name) as string[],
  }))
}

/** How many records have the same first column, the same first two, and so on; at least 1. */
function recordsOfOne(store: Store, table: string, { columns, unique }: Index, size: number): number[] {
  const last = columns.length - 1
  const ofFirst = unique && last === 0 ? 1 : recordsOfValue(store, table, columns[0]!, size)
  return columns.map((_, at) => (at === 0 ? ofFirst : unique && at === last ? 1 : Math.min(ofFirst, 10)))
}

function recordsOfValue(store: Store, table: string, column: string, size: number): number {
  const [name, field] = [quote(table), quote(column)]
  // From value to value by the index, without what lies between. No field has such a name.
  const [values, highest] = store.rows(
    `WITH RECURSIVE "ph next" ("ph value") AS (
       SELECT min(${field}) FROM ${name}
       UNION ALL SELECT (SELECT min(${field}) FROM ${name} WHERE ${field} > "ph value") FROM "ph next" WHERE "ph value" IS NOT NULL LIMIT ${VALUES}
     ) SELECT count("ph value"), max("ph value") FROM "ph next"`,
  )[0] as [number, unknown]
  if (values === 0) return size
  if (values < VALUES) return Math.max(1, Math.round(size / values))
  const records = store.one(
    `SELECT count(*) FROM (SELECT 1 FROM ${name} WHERE ${field} <= ? LIMIT ${RECORDS})`,
    highest,
  ) as number
  return Math.max(1, Math.round(records / VALUES))
}
