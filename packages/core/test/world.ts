import { makeRuntime, type RuntimeOptions } from '../src/engine/runtime.js'
import type { Value } from '../src/model/types.js'
import { save, trySave, type SaveEnvironment, type SaveOutcome } from '../src/save/save.js'
import type { InputRow, SaveOptions, SaveResult } from '../src/save/types.js'
import { Store } from '../src/store/database.js'

/** Small projects for tests: tables by their fields, hooks by their code. */

export type FieldSource = Record<string, unknown>
export interface Source {
  tables: Record<string, { fields: Record<string, FieldSource>; required?: string[]; unique?: string[][] }>
  hooks?: Record<string, string>
  lib?: Record<string, string>
  project?: Record<string, unknown>
  states?: Record<string, unknown>
  tests?: Record<string, string>
  fixtures?: Record<string, Record<string, unknown[]>>
}

export const text = { type: 'string' }
export const integer = { type: 'integer' }
export const number = { type: 'number' }
export const flag = { type: 'boolean' }
export const link = (table: string, onDelete?: string) => ({
  type: 'integer',
  'x-link': table,
  ...(onDelete ? { 'x-on-delete': onDelete } : {}),
})

export function filesOf(source: Source): Map<string, string> {
  const files = new Map<string, string>([['project.json', JSON.stringify({ name: 'test', ...source.project })]])
  for (const [name, table] of Object.entries(source.tables))
    files.set(
      `tables/${name}.json`,
      JSON.stringify({
        type: 'object',
        properties: table.fields,
        required: table.required ?? [],
        ...(table.unique ? { 'x-unique': table.unique } : {}),
      }),
    )
  files.set('plugins/p/plugin.json', JSON.stringify({ version: '1.2.3', hooks: source.states ?? {} }))
  for (const [name, body] of Object.entries(source.hooks ?? {})) files.set(`plugins/p/hooks/${name}.ts`, body)
  for (const [name, body] of Object.entries(source.lib ?? {})) files.set(`plugins/p/lib/${name}.ts`, body)
  for (const [name, body] of Object.entries(source.tests ?? {})) files.set(`plugins/p/tests/${name}.test.ts`, body)
  for (const [set, tables] of Object.entries(source.fixtures ?? {}))
    for (const [table, records] of Object.entries(tables)) files.set(`fixtures/${set}/${table}.json`, JSON.stringify(records))
  return files
}

/** The code of a hook from its literal. */
export const hook = (literal: string): string =>
  `import { defineHook } from 'patient-hook'\nexport default defineHook(${literal})\n`

export class World {
  readonly environment: SaveEnvironment
  readonly store: Store

  constructor(source: Source, file = ':memory:', history = true, options: RuntimeOptions = {}) {
    const { project, program } = makeRuntime(filesOf(source), options)
    this.store = new Store(file)
    this.store.createTables(project)
    this.environment = { project, program, store: this.store, history }
  }

  run(rows: InputRow[], options: SaveOptions = {}): SaveResult {
    return save(this.environment, rows, { returnRecords: true, record: true, clock: '2026-01-01T00:00:00Z', ...options })
  }

  try(rows: InputRow[], options: SaveOptions = {}): SaveOutcome {
    return trySave(this.environment, rows, { returnRecords: true, record: true, clock: '2026-01-01T00:00:00Z', ...options })
  }

  /** Saves rows of one table and gives their records. */
  put(table: string, ...rows: Record<string, Value>[]) {
    return this.run(rows.map((values) => ({ table, values }))).records.map((record) => record!)
  }

  /** Records that came before hooks and checks did: put in as they are. */
  load(table: string, rows: readonly Record<string, unknown>[]): void {
    for (const row of rows) {
      const names = Object.keys(row)
      this.store.run(
        `INSERT INTO "${table}" (${names.map((name) => `"${name}"`).join()}) VALUES (${names.map(() => '?').join()})`,
        ...names.map((name) => (typeof row[name] === 'boolean' ? Number(row[name]) : row[name])),
      )
    }
  }

  all(table: string): Record<string, Value>[] {
    return this.store.db.prepare(`SELECT * FROM "${table}" ORDER BY id`).all() as Record<string, Value>[]
  }
}
