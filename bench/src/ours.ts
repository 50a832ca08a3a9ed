import { join } from 'node:path'
import { loadRecords, makeRuntime, save, sealIntrinsics, Store } from '@patient-hook/core/internals'
import { median } from './median.js'
import {
  changedLots,
  CHECK_SQL,
  DISTRICTS,
  hooks,
  masterData,
  newLots,
  PARENTS,
  pushedCollections,
  tables,
  type Measured,
  type Phase,
} from './work.js'

let hardened = false

/** As the worker does before it loads a hook; it can be done once in a process. */
function harden(): void {
  if (hardened) return
  hardened = true
  sealIntrinsics()
}

/** The save path as the worker runs it: hardened compartments, step counting, budgets, checks, history. */
export function ours(folder: string, rows: number, history: boolean): Omit<Measured, 'peakMb'> {
  harden()
  const files = new Map([
    ['project.json', '{"name":"bench"}'],
    ['plugins/p/plugin.json', '{}'],
  ])
  for (const [name, { fields, links }] of Object.entries(tables)) {
    const link = links as Record<string, string>
    const properties = Object.fromEntries(
      Object.entries(fields).map(([field, type]) => [field, { type, ...(link[field] ? { 'x-link': link[field] } : {}) }]),
    )
    files.set(`tables/${name}.json`, JSON.stringify({ type: 'object', properties }))
  }
  for (const [name, literal] of Object.entries(hooks))
    files.set(`plugins/p/hooks/${name}.ts`, `import { defineHook } from 'patient-hook'\nexport default defineHook(${literal})`)
  const { project, program } = makeRuntime(files)
  const store = new Store(join(folder, 'ours.db'))
  store.createTables(project)
  store.transaction(() => {
    const master = masterData()
    for (const table of ['species', 'site', 'collection'] as const) loadRecords(store, project.tables.get(table)!, master[table])
    loadRecords(store, project.tables.get('collection')!, pushedCollections())
    return { value: undefined, keep: true }
  })
  const environment = { project, program, store, history }
  const ms = {} as Record<Phase, number>
  const phase = (name: Phase, inputs: { table: string; values: Record<string, string | number | null> }[]) => {
    const started = performance.now()
    save(environment, inputs, { user: 'ada', clock: '2026-01-01T00:00:00Z' })
    ms[name] = performance.now() - started
  }
  phase(
    'create',
    newLots(rows).map((values) => ({ table: 'lot', values })),
  )
  phase(
    'update',
    changedLots(rows).map((values) => ({ table: 'lot', values })),
  )
  const pushes = DISTRICTS.map((district) => {
    phase(
      'push',
      Array.from({ length: PARENTS }, (_, i) => ({ table: 'site', values: { id: i + 1, district } })),
    )
    return ms.push
  })
  ms.push = median(pushes)
  return { ms, sum: store.db.prepare(CHECK_SQL).pluck().get() as number }
}
