import type { ErrorReport } from '../errors.js'
import { indexSql, quote, uniqueIndexName } from '../model/ddl.js'
import type { Field, Table } from '../model/types.js'
import { toSql } from '../store/records.js'
import type { Store } from '../store/database.js'
import type { Refusals } from './refusals.js'
import type { SaveRow } from './row.js'

/**
 * Unique values that records of one save trade where the one that takes a value is written before the one that gives it up: in an earlier
 * batch, say. SQLite looks at each row as it is written, so the index is taken away, and made again, which checks everything, when all
 * rows are written. That costs time with the table's size; few saves do this.
 */
export class Trades {
  /** By table: records of this save that are still to be written. */
  readonly #coming = new Map<string, Set<number>>()
  readonly #open = new Map<string, { table: Table; fields: readonly Field[]; claims: Claim[] }>()

  constructor(
    private readonly store: Store,
    private readonly refusals: Refusals,
  ) {}

  /**
   * These records will be written.
   * @param inParts not all of them at once; rows of a table that links to itself never are
   */
  expect(table: Table, ids: Iterable<number>, inParts: boolean): void {
    const { name, fields, uniqueSets } = table
    if (uniqueSets.length === 0 && !fields.some(({ unique }) => unique)) return
    if (!inParts && !fields.some(({ link }) => link?.table === name)) return
    const all = this.#coming.get(name) ?? new Set()
    this.#coming.set(name, all)
    for (const id of ids) all.add(id)
  }

  arrived(table: string, rows: readonly SaveRow[]): void {
    const ids = this.#coming.get(table)
    if (ids) for (const { id } of rows) ids.delete(id)
  }

  isComing(table: string, id: number): boolean {
    return this.#coming.get(table)?.has(id) ?? false
  }

  /** The row takes values that a record has which is still to be written. @param refusal where that one keeps them after all */
  claim(row: SaveRow, fields: readonly Field[], refusal: ErrorReport): void {
    const { table } = row.shape
    const name = uniqueIndexName(
      table,
      fields.map((field) => field.name),
    )
    let open = this.#open.get(name)
    if (!open) {
      this.#open.set(name, (open = { table, fields, claims: [] }))
      this.store.run(`DROP INDEX ${quote(name)}`)
    }
    open.claims.push({ row, refusal })
  }

  /** All rows are written: whatever is there twice is refused. */
  settle(): void {
    for (const [name, { table, fields, claims }] of this.#open) {
      const same = fields.map((field) => `${quote(field.name)} = ?`).join(' AND ')
      for (const { row, refusal } of claims) {
        const values = fields.map((field) => toSql(row.now![field.name]!))
        const twice = `SELECT EXISTS (SELECT 1 FROM ${quote(table.name)} WHERE ${same} AND "id" <> ?)`
        if (this.store.one(twice, ...values, row.id) === 1) this.refusals.against(row, refusal)
      }
      if (this.refusals.none) this.store.run(indexSql(table).find((sql) => sql.includes(` INDEX ${quote(name)} ON `))!)
    }
  }
}

interface Claim {
  row: SaveRow
  refusal: ErrorReport
}
