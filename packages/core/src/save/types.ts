import type { ErrorReport } from '../errors.js'
import type { RecordValues, Spent, Value } from '../model/types.js'
import type { Hook } from './program.js'
import type { SaveRow } from './row.js'

/** What goes into a save and what comes out of it. Plain data: crosses threads and HTTP as it is. */

export type EventName = 'create' | 'update' | 'delete'
export type Moment = 'before-save' | 'after-save' | 'before-commit'
/** A link to another row of the same save, by the name it was given with `as`. */
export interface Ref {
  ref: string
}
export type InputValues = Record<string, Value | Ref | undefined>

export interface InputRow {
  table: string
  /** With `id`: an update of that record. */
  values?: InputValues
  /** A name for this row, so that other rows of the save can link to it. */
  as?: string
  /** Create a copy of this record, overlaid with the values. */
  copyOf?: number
  /** Remove the record values.id. */
  remove?: boolean
}

export interface SaveOptions {
  user?: string
  /** ISO date and time; default: the machine's. */
  clock?: string
  /** Keep the good rows when others are refused. */
  partial?: boolean
  /** Roll everything back at the end. */
  rehearse?: boolean
  /** Note verdicts, values and who set them. */
  record?: boolean
  /** Give the saved records back, as they stand at the end. */
  returnRecords?: boolean
  /** Only these hooks are live. */
  hooks?: readonly string[]
  /** Creates take the ids that are given: for fixtures and the effect sheet. */
  keepIds?: boolean
}

/** A line of a project's code, from 1. */
export interface Place {
  file: string
  line: number
}

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

export interface ChangeOut {
  field: string
  from: Value
  to: Value
  /** The line that set it, or asked for it as an effect; only where code was probed. */
  at?: Place
  /** `typed`, the hook's name, or `link` for a link that was cleared because its record went. */
  by: string
  kind: ValueKind
}
/** How a value came about; shown by letter and hue: T, H, R, N. */
export type ValueKind = 'typed' | 'hook' | 'ripple' | 'sequence'
export interface RowOut {
  table: string
  id: number
  event: EventName
  depth: number
  /** 1-based row of the input, 0 for a ripple. */
  row: number
  was: RecordValues | null
  now: RecordValues | null
  changes: ChangeOut[]
}
export interface Verdict {
  hook: string
  table: string
  id: number
  depth: number
  verdict: 'ran' | 'skipped'
  reason: string
}
export interface Lookup {
  hook: string
  call: string
  found: number
  depth: number
}
export interface Sent {
  channel: string
  message: unknown
  hook: string
}
export interface LogLine {
  hook: string
  table: string
  id: number | null
  text: string
}

export interface SaveResult {
  /** The save's number; null when nothing was kept. */
  save: number | null
  kept: boolean
  refusals: ErrorReport[]
  /** Records in the order of the input; null for a refused or removed one. */
  records: (RecordValues | null)[]
  rows: RowOut[]
  verdicts: Verdict[]
  lookups: Lookup[]
  sent: Sent[]
  logs: LogLine[]
  spent: Spent
  /** Rows for which each hook ran, by the hook's name. */
  ran: Record<string, number>
}
