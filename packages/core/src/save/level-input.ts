import type { Hook } from './hook.js'
import type { Origin } from './origin.js'
import type { InputRow, Place } from './types.js'

/** One row to be saved, with where it comes from and, by field, who set it. */
export interface LevelInput extends InputRow {
  /** The record of an update that was asked for as an effect; typed rows have it among their values. */
  id?: number
  /** The id that a new record was given on the way. */
  fresh?: number
  row: number
  origin: Origin
  /** Who set the fields, as in program.ts: one for all, or by field; default: typed. */
  setBy?: number | Readonly<Record<string, number>>
  /** The hook whose effect this is. */
  askedBy?: Hook | null
  /** The line that asked, by field or for all; only where code was probed. */
  askedAt?: Place | Map<string, Place>
}
