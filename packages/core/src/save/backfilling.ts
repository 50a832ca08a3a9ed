import type { Shape } from '../store/shape.js'
import type { EffectSink } from './effects.js'
import type { SaveRow } from './row.js'

/** What a backfill asks of the saves of its batches; backfill/ makes it. */
export interface Backfilling {
  /** The backfill's number; null where nothing is kept, as in its plan. */
  job: number | null
  /** Names of hooks that run for every typed row, as if each watched field had come just now, or the record had just been made. */
  wake: ReadonlySet<string>
  /** What after-save hooks ask for is counted, and not done. */
  holdEffects: boolean
  holdMessages: boolean
  /** A pass over the rows begins: what was told of the one before does not count. */
  begin(): void
  /** Sets values of a typed row from number series. @throws HookError that refuses the row */
  number(row: SaveRow, next: (sequence: string) => string, ahead: (sequence: string, count: number) => string[]): void
  /** A record was written. @param fields indexes of those that changed; of a create or a delete none */
  wrote(shape: Shape, row: SaveRow, fields: readonly number[], depth: number): void
  held(sink: EffectSink): void
}
