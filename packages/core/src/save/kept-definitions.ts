import { KeptOnDisk } from '../disk/kept-on-disk.js'
import type { Project, Table } from '../model/types.js'
import type { HookDefinition } from './hook-definition.js'

/**
 * What hooks were found to define, on disk: a project of many hooks is opened without running the modules of all. What a module gives depends on
 * nothing but texts (a hook has no clock, no randomness and nothing outside): those it is made of, and of its tables those parts that it was checked by.
 */

interface Kept {
  definition: HookDefinition
  /** What it was checked by. */
  tables: readonly (readonly [name: string, shape: string])[]
}

const kept = new KeptOnDisk<Kept>('hook-definitions')

/** @param texts all that the module is made of; null where it may give something else the next time */
export function readDefinition(project: Project, file: string, texts: string | null): HookDefinition | null {
  if (texts === null) return null
  const known = kept.read(file, fromOf(project, texts))
  return known?.tables.every(([name, shape]) => shapeOf(project.tables.get(name)) === shape) ? known.definition : null
}

export function writeDefinition(project: Project, file: string, texts: string | null, definition: HookDefinition): void {
  if (texts === null) return
  const names = tablesOf(definition)
  const tables = names.map((name) => [name, shapeOf(project.tables.get(name))] as const)
  kept.write(file, fromOf(project, texts), { definition, tables })
}

/** Names of the tables that a definition was checked by. */
export const tablesOf = ({ table, touchedBy }: HookDefinition): string[] => [
  ...new Set([table, ...touchedBy.map((touch) => touch.table)]),
]

// A module is metered as it is loaded.
const fromOf = ({ budgets }: Project, texts: string): string => `${JSON.stringify(budgets)}\n${texts}`

const shapes = new WeakMap<Table, string>()

/** Fields and where they link to, in their order. */
function shapeOf(table: Table | undefined): string {
  if (!table) return ''
  let shape = shapes.get(table)
  if (shape === undefined) shapes.set(table, (shape = JSON.stringify(table.fields.map(({ name, link }) => [name, link?.table]))))
  return shape
}
