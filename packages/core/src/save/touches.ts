import type { RecordValues } from '../model/types.js'
import type { Program } from './program.js'
import type { SaveRow } from './row.js'

/** Which records a save touched and removed: before-commit looks at them once, at the end. */

/** A record's state before the save first touched it. */
export interface Touched {
  was: RecordValues | null
  roots: readonly number[]
  /** Woken for a child's sake only. */
  byChild: boolean
  /** 1-based row of the input, 0 for a ripple. */
  row: number
}

export class Touches {
  readonly records = new Map<string, Map<number, Touched>>()
  /** By table, then by id: the units that removed the record. */
  readonly removed = new Map<string, Map<number, readonly number[]>>()

  constructor(private readonly program: Program) {}

  /** Does anything at before-commit ask for the records of this table? */
  concern(table: string): boolean {
    return this.program.at(table, 'before-commit').length > 0 || this.program.touchedBy.has(table)
  }

  note(row: SaveRow): void {
    const { name } = row.shape.table
    const { program } = this
    if (program.at(name, 'before-commit').length > 0)
      this.#keep(name, row.id, { was: row.was, roots: row.roots, byChild: false, row: row.row })
    for (const { link, parent } of program.touchedBy.get(name) ?? [])
      for (const record of [row.was, row.now]) {
        const id = record?.[link]
        if (typeof id === 'number') this.#keep(parent, id, { was: null, roots: row.roots, byChild: true, row: 0 })
      }
  }

  #keep(table: string, id: number, touch: Touched): void {
    const ids = this.records.get(table) ?? new Map<number, Touched>()
    this.records.set(table, ids)
    const known = ids.get(id)
    if (!known) ids.set(id, touch)
    else {
      const roots = known.roots === touch.roots ? known.roots : [...new Set([...known.roots, ...touch.roots])]
      ids.set(id, known.byChild && !touch.byChild ? { ...touch, roots } : { ...known, roots })
    }
  }

  noteRemoved(row: SaveRow): void {
    const { name } = row.shape.table
    const ids = this.removed.get(name) ?? new Map<number, readonly number[]>()
    this.removed.set(name, ids)
    ids.set(row.id, row.roots)
  }
}
