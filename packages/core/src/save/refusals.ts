import type { ErrorReport } from '../errors.js'
import type { Origin } from './origin.js'
import type { SaveRow } from './row.js'

/**
 * The refusals of one pass of a save, and the units of the input that they apply to. In a partial save a refusal may
 * hang on another unit: a value that is given twice is refused only as long as the first one is kept.
 */
/** Refusals that ripples bring, listed for one typed row. */
const MOST_OF_A_ROW = 10

export class Refusals {
  readonly list: ErrorReport[] = []
  readonly #listed = new Map<number, number>()
  /** Units that a refusal applies to in this pass. */
  readonly units = new Set<number>()
  /** Units with a refusal that does not hang on any other. */
  readonly #firm = new Set<number>()
  readonly #hanging: { units: readonly number[]; on: readonly number[]; when: 'kept' | 'refused' }[] = []

  /**
   * @param unitOf the unit of a typed row
   * @param partial the good rows are kept: then every typed row has its own refusal
   */
  constructor(
    private readonly unitOf: (row: number) => number,
    private readonly partial: boolean,
  ) {}

  get none(): boolean {
    return this.list.length === 0
  }

  note(error: ErrorReport, { rows }: Origin): void {
    this.#list(error, rows)
    for (const row of rows) {
      this.units.add(this.unitOf(row))
      this.#firm.add(this.unitOf(row))
    }
  }

  /** Puts an error against a row: the save fails, or goes on without that unit when partial. */
  against(row: SaveRow, error: ErrorReport): void {
    row.refused = true
    this.note({ ...placeOf(row), ...error }, row.origin)
  }

  /** Puts an error against a row that stands only when another row is kept, or only when it is refused itself. */
  hanging(row: SaveRow, error: ErrorReport, on: SaveRow, when: 'kept' | 'refused'): void {
    row.refused = true
    this.noteHanging({ ...placeOf(row), ...error }, row.origin, on.origin, when)
  }

  /** The same of whatever comes from typed rows. */
  noteHanging(error: ErrorReport, { rows }: Origin, on: Origin, when: 'kept' | 'refused'): void {
    this.#list(error, rows)
    const units = rows.map(this.unitOf)
    for (const unit of units) this.units.add(unit)
    this.#hanging.push({ units, on: on.rows.map(this.unitOf), when })
  }

  /** Do both come from the same unit, at least in part? */
  shareUnit(a: Origin, b: Origin): boolean {
    const units = new Set(a.rows.map(this.unitOf))
    return b.rows.some((row) => units.has(this.unitOf(row)))
  }

  /** Does a refusal apply to a unit that caused the row? */
  concern(row: SaveRow): boolean {
    return row.refused || (this.units.size > 0 && row.origin.rows.some((typed) => this.units.has(this.unitOf(typed))))
  }

  /** The units that are refused when all is shown; those that hung on a unit which does not come are to be tried again. */
  standing(): ReadonlySet<number> {
    const standing = new Set(this.#firm)
    for (const { units, on, when } of this.#hanging) {
      const refused = on.some((unit) => standing.has(unit))
      if (refused === (when === 'refused')) for (const unit of units) standing.add(unit)
    }
    return standing
  }

  #list(error: ErrorReport, rows: readonly number[]): void {
    if (!this.partial || error.row !== undefined) this.list.push(error)
    else
      for (const row of rows) {
        const listed = this.#listed.get(row) ?? 0
        if (listed < MOST_OF_A_ROW) this.list.push({ ...error, row })
        this.#listed.set(row, listed + 1)
      }
  }
}

function placeOf(row: SaveRow): Partial<ErrorReport> {
  const place: Partial<ErrorReport> = { table: row.shape.table.name, id: row.event === 'create' ? null : row.id }
  if (row.row > 0) place.row = row.row
  return place
}
