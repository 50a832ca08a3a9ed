import { HookError } from '../errors.js'
import { tableNamed } from '../model/table-named.js'
import { parseTable } from '../model/table-file.js'
import type { Table } from '../model/types.js'
import { Store } from '../store/database.js'
import type { Readable } from './record-list.js'

/** The live records and their tables, as they are at each read. */
export class LiveTables implements Readable {
  #store: Store | null = null
  #version: unknown = null
  #tables = new Map<string, Table>()
  readonly #texts = new Map<string, { text: string; table: Table }>()
  #counts = new Map<string, number>()

  constructor(private readonly database: string | Store) {}

  /** @throws HookError store/… */
  get store(): Store {
    const store = (this.#store ??=
      typeof this.database === 'string' ? new Store(this.database, { readonly: true }) : this.database)
    const version = store.db.pragma('data_version', { simple: true })
    if (version === this.#version) return store
    this.#version = version
    this.#counts.clear()
    const files = store.rows(`SELECT path, text FROM ph_file WHERE path LIKE 'tables/%'`) as [string, string][]
    const tables = files.map(([path, text]) => {
      const known = this.#texts.get(path)
      if (known?.text === text) return known.table
      const table = parseTable(path, text)
      this.#texts.set(path, { text, table })
      store.forget()
      return table
    })
    this.#tables = new Map(tables.map((table) => [table.name, table]))
    return store
  }

  table(name: string): Table {
    void this.store
    return tableNamed(this.#tables, name)
  }

  /** How many rows a query has; counted once as long as no record changes. */
  count(sql: string, parameters: readonly unknown[]): number {
    const key = JSON.stringify([sql, parameters])
    let count = this.#counts.get(key)
    if (count === undefined) {
      if (this.#counts.size > 100) this.#counts.clear()
      this.#counts.set(key, (count = this.store.one(sql, ...parameters) as number))
    }
    return count
  }

  toHookError(error: unknown): unknown {
    if (error instanceof HookError || !this.#store) return error
    return this.#store.toHookError(error)
  }
}
