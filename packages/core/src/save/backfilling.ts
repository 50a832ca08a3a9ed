import type { Shape } from '../store/shape.js'
import type { EffectSink } from './effect-sink.js'
import type { SaveRow } from './row.js'

/** Number series, as a save counts them on. @throws HookError hook/unknown-sequence */
export interface Series {
  next(sequence: string): string
  /** The texts of the next so many numbers, of which none is taken. */
  ahead(sequence: string, count: number): string[]
  /** The first and the last of these, where the others lie between them as texts; else null. */
  ends(sequence: string, count: number): [string, string] | null
}

/** What a backfill asks of the saves of its batches; backfill/ makes it. */
export interface Backfilling {
  /** The backfill's number; null where nothing is kept, as in its plan. */
  job: number | null
  /** Names of hooks that run for every typed row, as if each watched field had just changed, or the record had just been made. */
  wake: ReadonlySet<string>
  /** What after-save hooks ask for is counted, and not done. */
  holdEffects: boolean
  holdMessages: boolean
  /** A pass over the rows begins: what was reported about the one before does not count. */
  begin(): void
  /** Sets values of a typed row from number series. @throws HookError that refuses the row */
  number(row: SaveRow, series: Series): void
  /** A record was written. @param fields indexes of those that changed; of a create or a delete none */
  wrote(shape: Shape, row: SaveRow, fields: readonly number[], depth: number): void
  /** So many records were written as a set. @param fields in how many of them each field changed, by its index */
  wroteSet(shape: Shape, count: number, fields: ReadonlyMap<number, number>): void
  held(sink: EffectSink): void
}
