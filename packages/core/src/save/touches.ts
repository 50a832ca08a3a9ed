import type { RecordValues } from '../model/types.js'
import { union, type Origin } from './origin.js'
import type { Program } from './program.js'
import type { SaveRow } from './row.js'

/** Which records a save touched and removed: before-commit looks at them once, at the end. */

/** A record's state before the save first touched it. */
export interface Touched {
  was: RecordValues | null
  origin: Origin
  /** A child was saved that wakes hooks for it, whatever they watch. */
  byChild: boolean
  /** It was written itself. */
  written: boolean
  /** 1-based row of the input, 0 for a ripple. */
  row: number
}

/** A record that went. */
export interface Removed {
  was: RecordValues
  origin: Origin
}

export class Touches {
  readonly records = new Map<string, Map<number, Touched>>()
  readonly removed = new Map<string, Map<number, Removed>>()

  constructor(private readonly program: Program) {}

  /** Does anything at before-commit ask for the records of this table? */
  concern(table: string): boolean {
    return this.program.of(table, 'before-commit').length > 0 || this.program.touchedBy.has(table)
  }

  note(row: SaveRow): void {
    const { name } = row.shape.table
    const { program } = this
    if (program.of(name, 'before-commit').length > 0)
      this.#keep(name, row.id, { was: row.was, origin: row.origin, byChild: false, written: true, row: row.row })
    for (const { link, parent } of program.touchedBy.get(name) ?? [])
      for (const record of [row.was, row.now]) {
        const id = record?.[link]
        if (typeof id === 'number')
          this.#keep(parent, id, { was: null, origin: row.origin, byChild: true, written: false, row: 0 })
      }
  }

  #keep(table: string, id: number, touch: Touched): void {
    const ids = this.records.get(table) ?? new Map<number, Touched>()
    this.records.set(table, ids)
    const known = ids.get(id)
    if (!known) ids.set(id, touch)
    else {
      const origin = union([known.origin, touch.origin])
      const first = touch.written && !known.written ? touch : known
      ids.set(id, { ...first, origin, byChild: known.byChild || touch.byChild })
    }
  }

  noteRemoved(row: SaveRow): void {
    const { name } = row.shape.table
    const ids = this.removed.get(name) ?? new Map<number, Removed>()
    this.removed.set(name, ids)
    ids.set(row.id, { was: row.was!, origin: row.origin })
  }
}
