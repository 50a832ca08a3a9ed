import { HookError } from '../errors.js'
import { hintFor } from '../model/names.js'
import type { Project } from '../model/types.js'
import { utcText } from '../model/dates.js'
import { savePartially } from './partial.js'
import type { SaveEnvironment } from './environment.js'
import { runPass, type SaveOutcome } from './pass.js'
import type { InputRow, SaveOptions, SaveResult } from './types.js'
import { Units } from './units.js'

export type { SaveEnvironment } from './environment.js'
export type { SaveOutcome } from './pass.js'

/** A save from the outside: all or nothing, or the good rows only. */

/** Saves, and throws when the save is refused. @throws HookError with every refusal under `refusals` */
export function save(environment: SaveEnvironment, inputs: readonly InputRow[], options: SaveOptions = {}): SaveResult {
  const outcome = trySave(environment, inputs, options)
  if (outcome.error) throw new HookError(outcome.error)
  return outcome
}

/** Saves, and gives what happened also when it was refused or failed: for rehearsals and the effect sheet. */
export function trySave(environment: SaveEnvironment, inputs: readonly InputRow[], options: SaveOptions = {}): SaveOutcome {
  let units: Units
  try {
    checkOptions(environment.project, options)
    units = new Units(inputs)
  } catch (error) {
    if (!(error instanceof HookError)) throw error
    return { ...nothing(), error: error.report }
  }
  const givenIds = new Map<number, number>()
  const pass = (dropped: ReadonlySet<number>) => runPass(environment, units, dropped, options, givenIds)
  return options.partial ? savePartially(units, pass) : pass(new Set()).outcome
}

/** @throws HookError for a user that the project does not have, and for a clock that is not a time */
function checkOptions({ users }: Project, { user, clock }: SaveOptions): void {
  const names = users.map((each) => each.name)
  if (user !== undefined && names.length > 0 && !names.includes(user))
    throw new HookError('save/unknown-user', { user, hint: hintFor(user, names) })
  if (clock !== undefined && utcText(clock) === null) throw new HookError('save/bad-clock', { clock })
}

const nothing = (): SaveResult => ({
  save: null,
  kept: false,
  refusals: [],
  records: [],
  rows: [],
  verdicts: [],
  lookups: [],
  sent: [],
  logs: [],
  spent: { queries: 0, rowsRead: 0, rowsWritten: 0, steps: 0, ripples: 0, ms: 0 },
  limits: { queries: 0, rowsRead: 0, rowsWritten: 0, steps: 0, ripples: 0, ms: 0 },
  ran: {},
  took: {},
})
