import type { PausedHook, SaveResult as SharedSaveResult } from '@patient-hook/contract'
import type { ErrorReport } from '../errors.js'

/** What goes into a save and what comes out of it: the shapes of the contract, and the options of the save path. */

export type {
  ChangeOut,
  EventName,
  InputRow,
  InputValues,
  LogLine,
  Lookup,
  Moment,
  Place,
  Ref,
  RowOut,
  Sent,
  ValueKind,
  Verdict,
} from '@patient-hook/contract'

export interface SaveOptions {
  user?: string
  /** ISO date and time; default: the machine's. */
  clock?: string
  /** Keep the good rows when others are refused. */
  partial?: boolean
  /** Roll everything back at the end. */
  rehearse?: boolean
  /**
   * Note verdicts, values and who set them. Briefly: not what a row was that still is, and not the values by which it was reported
   * from those that a hook runs for.
   */
  record?: boolean | 'briefly'
  /** Give the saved records back, as they are at the end. */
  returnRecords?: boolean
  /** Only these hooks are live. */
  hooks?: readonly string[]
  /** Creates take the ids that are given: for fixtures and the effect sheet. */
  keepIds?: boolean
  /** Keep with the save what it was given, so it can be run again. */
  keepGiven?: boolean
  /** Hooks for which the save is refused, since they stopped the engine again and again. */
  paused?: readonly PausedHook[]
  /** Written with the save, so it can be found out whether a save whose answer was lost is kept. */
  token?: string
}

export type SaveResult = Omit<SharedSaveResult, 'refusals'> & { refusals: ErrorReport[] }
