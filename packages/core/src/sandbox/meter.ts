import { LINE_BITS } from './instrument.js'

/**
 * What the worker shares with the thread that watches it: where a hook stands and that it still moves.
 * Cells of the shared Int32Array.
 */
export const CELL = {
  /** Module number × 2^18 + line, written by the hooks' own code. */
  place: 0,
  /** Goes up whenever the engine does something; a watcher sees life by it. */
  pulse: 1,
  /** 1-based row of the input that is being worked on, 0 for none. */
  row: 2,
  /** Index into the engine's list of hook names + 1, 0 for none, LOADING while a module is loaded. */
  hook: 3,
  /** 1 while SQLite works, which may take its time. */
  inQuery: 4,
  /** Index into the engine's list of tables + 1, 0 for none. */
  table: 5,
  id: 6,
} as const

export const CELLS = 8
export const LOADING = -1

export interface Meter {
  /** Steps so far in this save. */
  n: number
  /** At which count `stop` is called. */
  m: number
  stop(): boolean
}

export function readPlace(value: number): { module: number; line: number } {
  return { module: value >>> LINE_BITS, line: value & (2 ** LINE_BITS - 1) }
}
