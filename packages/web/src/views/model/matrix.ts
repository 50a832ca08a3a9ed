import type { HookInfo, Table } from '@patient-hook/contract'

/** The matrix of hooks × fields: reads, writes, and conflicts. */

export interface MatrixCell {
  reads: boolean
  writes: boolean
  /** Why the cell is highlighted, or empty. */
  warning: string
}
export interface MatrixRow {
  hook: HookInfo
  cells: Map<string, MatrixCell>
}

/** Does `second` run after `first` by its after list, directly or through others? */
function follows(second: HookInfo, first: HookInfo, all: readonly HookInfo[], seen = new Set<string>()): boolean {
  return second.after.some((name) => {
    if (name === first.name) return true
    if (seen.has(name)) return false
    seen.add(name)
    const between = all.find((each) => each.name === name)
    return between !== undefined && follows(between, first, all, seen)
  })
}

/** Rows in save-path order, as `hooks` is. */
export function matrixOf(table: Table, hooks: readonly HookInfo[]): MatrixRow[] {
  const rows = hooks.map((hook): MatrixRow => {
    const cells = new Map<string, MatrixCell>()
    for (const { field, kind, table: of } of hook.uses) {
      if (of !== table.name) continue
      const cell = cells.get(field) ?? { reads: false, writes: false, warning: '' }
      cells.set(field, kind === 'read' ? { ...cell, reads: true } : { ...cell, writes: true })
    }
    return { hook, cells }
  })
  const meet = (a: HookInfo, b: HookInfo) =>
    a.table === b.table && a.moment === b.moment && a.on.some((event) => b.on.includes(event))
  rows.forEach((row, index) => {
    for (const [field, cell] of row.cells) {
      const others = rows.filter((other) => other !== row && meet(other.hook, row.hook) && other.cells.get(field)?.writes)
      const rival = cell.writes
        ? others.find((other) => !follows(other.hook, row.hook, hooks) && !follows(row.hook, other.hook, hooks))
        : undefined
      const later = cell.reads && !cell.writes ? others.find((other) => rows.indexOf(other) > index) : undefined
      if (rival) cell.warning = `${rival.hook.name} writes ${field} too, and no after says which comes first`
      else if (later) cell.warning = `${later.hook.name} writes ${field} later: this hook reads the value before that`
    }
  })
  return rows.filter((row) => row.cells.size > 0)
}
