import Database from 'better-sqlite3'
import { columnsOf, masterData, pushedCollections, tables } from './work.js'

/** The tables of the work in plain SQLite, as the product makes them, for the contestants that have no hooks. */

const SQL = { string: 'TEXT', integer: 'INTEGER', number: 'REAL' } as const
export const HISTORY = `CREATE TABLE ph_history (id INTEGER PRIMARY KEY, save INTEGER NOT NULL, tbl TEXT NOT NULL, record INTEGER NOT NULL, event TEXT NOT NULL, depth INTEGER NOT NULL, cause TEXT NOT NULL, patch TEXT NOT NULL) STRICT;
  CREATE INDEX ph_history_record ON ph_history (record, tbl);`

export function openPlain(file: string): Database.Database {
  const db = new Database(file)
  db.pragma('journal_mode = WAL')
  db.pragma('synchronous = FULL')
  db.pragma('foreign_keys = ON')
  for (const [name, { fields, links }] of Object.entries(tables)) {
    const link = links as Record<string, string>
    const columns = Object.entries(fields).map(
      ([field, type]) =>
        `"${field}" ${SQL[type]}${link[field] ? ` REFERENCES "${link[field]}" ("id") DEFERRABLE INITIALLY DEFERRED` : ''}`,
    )
    db.exec(`CREATE TABLE "${name}" ("id" INTEGER PRIMARY KEY, ${columns.join(', ')}) STRICT`)
    for (const field of Object.keys(link)) db.exec(`CREATE INDEX "${name}.${field}" ON "${name}" ("${field}")`)
  }
  return db
}

export function fill(db: Database.Database): void {
  const insert = (table: keyof typeof tables, rows: Record<string, unknown>[]) => {
    const columns = ['id', ...columnsOf(table)]
    const statement = db.prepare(`INSERT INTO "${table}" (${columns.join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`)
    db.transaction(() => rows.forEach((row) => statement.run(columns.map((column) => row[column] ?? null))))()
  }
  const master = masterData()
  insert('species', master.species)
  insert('site', master.site)
  insert('collection', [...master.collection, ...pushedCollections()])
}
