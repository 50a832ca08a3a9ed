import type { Hook } from './hook.js'
import type { SaveRow } from './row.js'
import type { Place } from './types.js'

/** Told of what a save is at, where code is probed: see rehearse/recorder.ts. */
export interface SaveRecorder {
  /** A pass over the rows begins. */
  begin(): void
  enter(hook: Hook, part: 'only' | 'load' | 'each' | 'finish', depth: number): void
  row(row: SaveRow): void
  leave(): void
  /** A look-up was made: its place in the list of look-ups. */
  lookup(index: number): void
  effect(call: 'update' | 'create' | 'remove' | 'send', to: string, id: number | null, values: unknown, where?: unknown): void
  refuse(field: string | null, message: string): void
  logged(text: string): void
  /** The line that set a field of a row. */
  lineOf(row: SaveRow, field: string): Place | null
  /** The line that runs now. */
  here(): Place | null
}
