import type { InputRow } from '@patient-hook/contract'
import { noteQuietly, noteRefused } from '../../save/refused-log.js'
import { trySave, type SaveOutcome } from '../../save/save.js'
import type { SaveOptions } from '../../save/types.js'
import { answerOf, keepAnswer, type AskedOnce } from '../../store/answers.js'
import { loadRecords } from '../../store/records.js'
import type { ErrorReport } from '../../errors.js'
import type { RecordValues } from '../../model/types.js'
import { tablesInOrder } from '../../model/order.js'
import type { OpenProject } from '../open-project.js'

/** Saves that are kept: they run the releases that the user gets. */
export function save(open: OpenProject, rows: InputRow[], options: SaveOptions): SaveOutcome {
  const { liveCode, live: store } = open
  const { project, program } = liveCode.for(options.user)
  const environment = { project, program, store, switches: liveCode.switches }
  const outcome = trySave(environment, rows, { returnRecords: true, keepGiven: true, ...options })
  open.tally.add(program, outcome)
  open.tally.writeNowAndThen(store)
  const { error, refusals, spent } = outcome
  const cause = error ?? refusals[0]
  if (cause) {
    const left = error ? null : new Set(refusals.map(({ row }) => row)).size
    const user = options.user ?? project.users[0]?.name ?? 'owner'
    noteQuietly(() => noteRefused(store, { user, rows, versions: program.versions, spent, error: cause, left }))
  }
  return outcome
}

/** Writes the tally of hooks, for readers. */
export function writeTally(open: OpenProject): void {
  open.tally.write(open.live)
}

/** A save that its engine did not come through: it was rolled back, and only its input is left. */
export function noteFailedSave(open: OpenProject, rows: InputRow[], { user }: SaveOptions, error: ErrorReport): void {
  const { project, program } = open.liveCode.for(user)
  const by = user ?? project.users[0]?.name ?? 'owner'
  noteQuietly(() => noteRefused(open.live, { user: by, rows, versions: program.versions, spent: null, error, left: null }))
}

/**
 * Saves once, however often it is asked for under the same name: the second call gets the first answer, kept in the save's own transaction.
 * @throws HookError access/name-taken where another save was asked for under the name
 */
export function saveOnce(open: OpenProject, rows: InputRow[], options: SaveOptions, asked: AskedOnce): SaveOutcome {
  const { live: store } = open
  const known = answerOf(store, asked)
  if (known !== null) return JSON.parse(known) as SaveOutcome
  return store.transaction(() => {
    const outcome = save(open, rows, options)
    // What the disk or the engine is to blame for may be tried again.
    const final = !/^(store|engine)\//.test(outcome.error?.code ?? '')
    if (final) keepAnswer(store, asked, JSON.stringify(outcome))
    return { value: outcome, keep: true }
  })
}

/** Puts records in as they are, without hooks and history: for tests and measurements that need many. */
export function load(open: OpenProject, records: Record<string, RecordValues[]>): void {
  const { project } = open.runtimes.saved
  open.live.transaction(() => {
    for (const table of tablesInOrder(project.tables)) loadRecords(open.live, table, records[table.name] ?? [])
    return { value: undefined, keep: true }
  })
}
