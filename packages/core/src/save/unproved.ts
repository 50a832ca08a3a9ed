import { wasUnderread } from '../store/shape.js'
import { BY_UNKNOWN } from './program.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'
import { wrongValue } from './wrong-value.js'

/**
 * What is known of hooks by their syntax trees makes saves cheaper, and no save relies on it: before rows are written, each value that no
 * hook is known to have set ends the pass, which is run again with everything compared.
 */

/** A hook did what its syntax tree rules out. The pass is to be run again, after `program.distrust(table)`. */
export class Unproved extends Error {
  constructor(readonly table: string) {
    super(`hooks of ${table} do what their code was thought not to`)
  }
}

/** The last look at values before they are written. @throws Unproved */
export function checkAccounted(session: Session, rows: readonly SaveRow[]): void {
  const [first] = rows
  if (!first) return
  const { name } = first.shape.table
  if (session.program.of(name, 'before-save').length === 0) return
  for (const row of rows) {
    const { now, snapshot, shape } = row
    if (now === null || row.failed || (shape.same(now, snapshot) && now.id === row.id)) continue
    if (!session.program.distrusts(name)) throw new Unproved(name)
    // Everything was compared after each hook: the value was written from outside of the hook at work.
    const changed = shape.diff(now, snapshot, row.by, BY_UNKNOWN)
    if (changed < 0) session.refusals.against(row, wrongValue(row, changed).report)
  }
}

/** Did hook code ask for more of the records than was read? @throws Unproved */
export function checkReadEnough(session: Session): void {
  for (const table of session.project.tables.values()) if (wasUnderread(table)) throw new Unproved(table.name)
}
