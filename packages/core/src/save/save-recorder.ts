import type { Hook } from './hook.js'
import type { SaveRow } from './row.js'
import type { Place } from './types.js'

/** Told of what a save is at, where code is probed: see rehearse/recorder.ts. */
export interface SaveRecorder {
  /** A pass over the rows begins. */
  begin(): void
  enter(hook: Hook, phase: 'only' | 'load' | 'each' | 'finish'): void
  row(row: SaveRow): void
  leave(): void
  /** The line that set a field of a row. */
  lineOf(row: SaveRow, field: string): Place | null
  /** The line that runs now. */
  here(): Place | null
}
