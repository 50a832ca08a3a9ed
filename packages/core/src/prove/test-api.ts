import { entry } from '../entry/entry.js'
import { callback, data, scalar } from '../entry/readers.js'
import { HookError, isRefusal, describe, type ErrorReport } from '../errors.js'
import { sealFunctions } from '../harden.js'
import { utcText } from '../model/dates.js'
import { gotOf } from '../model/values.js'
import { quote } from '../model/ddl.js'
import { hintFor } from '../model/names.js'
import { tableNamed } from '../model/table-named.js'
import type { RecordValues } from '../model/types.js'
import { readByIds } from '../store/records.js'
import { whereSql } from '../store/where.js'
import { shapeOf } from '../store/shape.js'
import { readHistory } from '../save/history.js'
import { trySave, type SaveEnvironment, type SaveOutcome } from '../save/save.js'
import type { InputRow, SaveOptions } from '../save/types.js'
import type { TestOptions } from './collect.js'
import { noteExpectation } from './expect.js'

/** The argument of a test: saves on its own copy of a fixture set, and their results. */

export const DEFAULT_CLOCK = '2026-01-01T12:00:00Z'

type Given = Record<string, unknown>

/** @param onSave told of every save, each with its verdicts and values */
export function makeTestApi(
  environment: SaveEnvironment,
  options: TestOptions,
  onSave: ((outcome: SaveOutcome) => void) | null = null,
): Given {
  const { project, store, program } = environment
  let { user } = options
  const users = project.users.map((each) => each.name)
  let time = timeOf(options.clock ?? DEFAULT_CLOCK)
  const ran = new Map<string, number>()
  let last: SaveOutcome | null = null

  const tableOf = (name: unknown) => tableNamed(project.tables, nameOf(name))
  const run = (rows: InputRow[], more: SaveOptions = {}): SaveOutcome => {
    last = trySave(environment, rows, {
      user,
      clock: time,
      hooks: options.hooks,
      returnRecords: true,
      record: onSave !== null,
      ...more,
    })
    onSave?.(last)
    for (const [hook, count] of Object.entries(last.ran)) ran.set(hook, (ran.get(hook) ?? 0) + count)
    if (last.error) throw new HookError(last.error)
    return last
  }
  const row = (table: unknown, values: unknown): InputRow => {
    if (gotOf(values) !== 'an object')
      throw new HookError('save/bad-input', {
        detail: `save('${nameOf(table)}', values) takes an object of values, but got ${gotOf(values)}`,
      })
    return { table: nameOf(table), values: values as InputRow['values'] }
  }
  /** @param given plain data */
  const isPartial = (given: unknown): boolean => gotOf(given) === 'an object' && (given as Given)['partial'] === true

  const api: Given = {
    save: entry('save', [scalar, data], (table, values) => run([row(table, values)]).records[0]),
    saveMany: entry('saveMany', [scalar, data, data], (table, rows, more) => {
      if (!Array.isArray(rows))
        throw new HookError('save/bad-input', { detail: `saveMany takes a list of rows, but got ${gotOf(rows)}` })
      const partial = isPartial(more)
      const outcome = run(
        rows.map((values: unknown) => row(table, values)),
        { partial },
      )
      return partial ? keptOf(outcome) : outcome.records
    }),
    saveAll: entry('saveAll', [data, data], (rows, more) => {
      if (!Array.isArray(rows))
        throw new HookError('save/bad-input', { detail: `saveAll takes a list of { table, values, as }, but got ${gotOf(rows)}` })
      const partial = isPartial(more)
      const outcome = run(rows as InputRow[], { partial })
      const answer = partial ? keptOf(outcome) : outcome.records
      ;(rows as InputRow[]).forEach(({ as }, index) => {
        if (as !== undefined) Object.defineProperty(answer, as, { value: outcome.records[index], configurable: true })
      })
      return answer
    }),
    ref: entry('ref', [scalar], (as) => ({ ref: nameOf(as) })),
    copy: entry(
      'copy',
      [scalar, scalar, data],
      (table, id, values) => run([{ ...row(table, values ?? {}), copyOf: id as number }]).records[0],
    ),
    remove: entry('remove', [scalar, scalar], (table, id) => {
      run([{ table: nameOf(table), values: { id: id as number }, remove: true }])
    }),
    get: entry('get', [scalar, scalar], (table, id) => {
      const shape = shapeOf(tableOf(table))
      if (!Number.isSafeInteger(id))
        throw new HookError('test/failed', { detail: `get takes the id of a record (an integer), but got ${gotOf(id)}` })
      const record = readByIds(store, shape, [id as number]).get(id as number)
      return record ? shape.plain(record) : null
    }),
    rows: entry('rows', [scalar, data], (table, where) => {
      const known = tableOf(table)
      const shape = shapeOf(known)
      const { sql, parameters } = whereSql(known, (where ?? {}) as Given)
      const stored = store.rows(`SELECT ${shape.columns} FROM ${quote(known.name)}${sql} ORDER BY "id"`, ...parameters)
      return stored.map((raw) => shape.plain(shape.fromRaw(raw)))
    }),
    refusal: entry('refusal', [callback], (attempt) => {
      if (typeof attempt !== 'function')
        throw new HookError('test/failed', { detail: 'refusal takes a function: refusal(() => save(...))' })
      noteExpectation()
      let result: unknown
      try {
        result = (attempt as () => unknown)()
      } catch (error) {
        if (HookError.is(error) && isRefusal(error.report)) return toRefusals(error.report)
        throw error
      }
      const refused = refusedOf(result)
      if (refused?.[0]) return refused[0]
      throw new HookError('test/failed', { detail: 'expected the save to be refused, but it was kept' })
    }),
    as: entry('as', [scalar, callback], (name, within) => {
      if (typeof name !== 'string' || name === '')
        throw new HookError('test/failed', { detail: `as takes a user's name, but got ${gotOf(name)}` })
      if (users.length > 0 && !users.includes(name))
        throw new HookError('save/unknown-user', { user: name, hint: hintFor(name, users) })
      const before = user
      user = name
      if (typeof within !== 'function') return api
      try {
        return (within as () => unknown)()
      } finally {
        user = before
      }
    }),
    clock: makeClock(
      () => time,
      (next) => (time = timeOf(next)),
    ),
    sent: entry('sent', [scalar], (channel) =>
      (store.values('SELECT payload FROM ph_outbox WHERE channel = ? ORDER BY id', nameOf(channel)) as string[]).map(
        (text) => JSON.parse(text) as unknown,
      ),
    ),
    ran: entry('ran', [scalar], (hook) => {
      const known = program.hooks.map((each) => each.name)
      if (!known.includes(nameOf(hook)))
        throw new HookError('test/failed', { detail: `ran: there is no hook ${nameOf(hook)}${hintFor(nameOf(hook), known)}` })
      return ran.get(nameOf(hook)) ?? 0
    }),
    spent: entry('spent', [], () => {
      if (!last) throw new HookError('test/failed', { detail: 'spent: save something first' })
      return { ...last.spent }
    }),
    history: entry('history', [scalar, scalar], (table, id) => {
      if (!Number.isSafeInteger(id))
        throw new HookError('test/failed', { detail: `history takes the id of a record (an integer), but got ${gotOf(id)}` })
      return readHistory(store, tableOf(table).name, id as number)
    }),
  }
  return sealFunctions(api)
}

/** A name as it was given; what came instead of one. */
const nameOf = (value: unknown): string => (typeof value === 'string' ? value : gotOf(value))

/** `clock()`, `clock(time)`, and the time itself where it is used as text. */
function makeClock(get: () => string, set: (next: unknown) => string): unknown {
  const clock = entry('clock', [scalar], (next) => (next === undefined ? get() : set(next)), {
    toString: entry('clock.toString', [], get),
    toJSON: entry('clock.toJSON', [], get),
  })
  return clock
}

/** What a partial save within `refusal` gave: only lists of ours have it. */
function refusedOf(result: unknown): readonly unknown[] | undefined {
  return typeof result === 'object' && result !== null ? partialAnswers.get(result) : undefined
}
const partialAnswers = new WeakMap<object, readonly unknown[]>()

/** @throws HookError save/bad-clock */
function timeOf(clock: unknown): string {
  const time = typeof clock === 'string' ? utcText(clock) : null
  if (time === null) throw new HookError('save/bad-clock', { clock: gotOf(clock) })
  return time
}

/** The kept records, with `kept` and `refused` beside them. */
function keptOf({ records, refusals }: SaveOutcome): RecordValues[] {
  const kept = records.filter((record) => record !== null)
  const refused = refusals.map(toRefusal)
  const answer = Object.defineProperties([...kept], { kept: { value: kept }, refused: { value: refused } })
  partialAnswers.set(answer, refused)
  return answer
}

/** Nothing but refusals: of the checks, of what was typed, and by hooks. That a hook failed is none. */
function toRefusal(error: ErrorReport): Given {
  return {
    table: error.table,
    row: error.row ?? 0,
    id: error.id ?? null,
    field: error.field ?? null,
    message: error.message,
    hook: error.hook ?? null,
    code: error.code,
    others: [],
  }
}

function toRefusals(error: ErrorReport): Given {
  const [first = error, ...others] = error.refusals ?? [error]
  return { ...toRefusal(first), others: others.map(toRefusal) }
}

/** Refusals that are reported about a failed save. */
const MOST_TOLD = 10

/** What is reported about a failed save inside of a test: one refusal with its place, or several, each with its own. */
export function failureOf(error: ErrorReport, test: Pick<ErrorReport, 'file' | 'line'>): ErrorReport {
  const { refusals = [], code, message, todo } = error
  if (refusals.length < 2) return { ...test, ...error, message }
  const told = refusals.slice(0, MOST_TOLD).map(describe)
  if (refusals.length > MOST_TOLD) told.push(`and ${refusals.length - MOST_TOLD} more`)
  return { code, message: [`${refusals.length} refusals:`, ...told].join('\n'), todo, ...test, refusals }
}
