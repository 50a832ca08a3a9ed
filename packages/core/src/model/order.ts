import type { Table } from './types.js'

/**
 * Tables with parents before children, by the links between them, then by name. Where links form a circle the first
 * by name stands first. The result is the same for any order of the input.
 */
export function parentsFirst(tables: Iterable<Table>): Table[] {
  const all = new Map([...tables].map((table) => [table.name, table]))
  const done = new Set<string>()
  const ordered: Table[] = []
  const visit = (table: Table, path: Set<string>) => {
    if (done.has(table.name) || path.has(table.name)) return
    path.add(table.name)
    for (const name of [...new Set(table.fields.map((field) => field.link?.table))].sort()) {
      const parent = name === undefined ? undefined : all.get(name)
      if (parent) visit(parent, path)
    }
    path.delete(table.name)
    if (done.has(table.name)) return
    done.add(table.name)
    ordered.push(table)
  }
  for (const name of [...all.keys()].sort()) visit(all.get(name)!, new Set())
  return ordered
}

const orders = new WeakMap<ReadonlyMap<string, Table>, readonly Table[]>()

/** All tables of a project in that order, computed once. */
export function tablesInOrder(tables: ReadonlyMap<string, Table>): readonly Table[] {
  let ordered = orders.get(tables)
  if (!ordered) orders.set(tables, (ordered = parentsFirst(tables.values())))
  return ordered
}

/**
 * Sorts names so that each stands after those it names in `after`, otherwise by name.
 * @returns the order, or the names that form a circle
 */
export function inOrder(after: ReadonlyMap<string, readonly string[]>): { order: string[] } | { circle: string[] } {
  const waiting = new Map([...after].map(([name, first]) => [name, new Set(first.filter((each) => after.has(each)))]))
  const order: string[] = []
  while (waiting.size > 0) {
    const free = [...waiting.keys()].filter((name) => waiting.get(name)!.size === 0).sort()
    const next = free[0]
    if (next === undefined) return { circle: [...waiting.keys()].sort() }
    waiting.delete(next)
    for (const first of waiting.values()) first.delete(next)
    order.push(next)
  }
  return { order }
}
