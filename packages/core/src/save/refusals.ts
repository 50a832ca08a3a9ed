import type { ErrorReport } from '../errors.js'
import type { SaveRow } from './row.js'

/** The refusals of one pass of a save, and the units of the input that they stand against. */
export class Refusals {
  readonly list: ErrorReport[] = []
  readonly units = new Set<number>()

  get none(): boolean {
    return this.list.length === 0
  }

  note(error: ErrorReport, roots: readonly number[]): void {
    this.list.push(error)
    for (const root of roots) this.units.add(root)
  }

  /** Puts an error against a row: the save fails, or goes on without that unit when partial. */
  against(row: SaveRow, error: ErrorReport): void {
    row.refused = true
    const place: Partial<ErrorReport> = { table: row.shape.table.name, id: row.event === 'create' ? (error.id ?? null) : row.id }
    if (row.row > 0) place.row = row.row
    this.note({ ...place, ...error }, row.roots)
  }

  /** Does a refusal stand against a unit that caused the row? */
  concern(row: SaveRow): boolean {
    return row.refused || (this.units.size > 0 && row.roots.some((root) => this.units.has(root)))
  }
}
