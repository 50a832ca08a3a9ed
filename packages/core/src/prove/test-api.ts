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

/** The argument of a test: saves on its own copy of a fixture set, and what they did. */

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

  const tableOf = (name: unknown) => tableNamed(project.tables, String(name))
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
    if (values === null || typeof values !== 'object')
      throw new HookError('save/bad-input', {
        detail: `save('${String(table)}', values) takes an object of values, but got ${gotOf(values)}`,
      })
    return { table: String(table), values: values as InputRow['values'] }
  }

  const api: Given = {
    save: (table: unknown, values: unknown) => run([row(table, values)]).records[0],
    saveMany: (table: unknown, rows: unknown, more: { partial?: boolean } = {}) => {
      if (!Array.isArray(rows))
        throw new HookError('save/bad-input', { detail: `saveMany takes a list of rows, but got ${gotOf(rows)}` })
      const outcome = run(
        rows.map((values: unknown) => row(table, values)),
        { partial: more.partial === true },
      )
      return more.partial ? keptOf(outcome) : outcome.records
    },
    saveAll: (rows: unknown, more: { partial?: boolean } = {}) => {
      if (!Array.isArray(rows))
        throw new HookError('save/bad-input', { detail: `saveAll takes a list of { table, values, as }, but got ${gotOf(rows)}` })
      const outcome = run(rows as InputRow[], { partial: more.partial === true })
      const answer = more.partial ? keptOf(outcome) : outcome.records
      ;(rows as InputRow[]).forEach((each, index) => {
        if (each.as !== undefined) Object.defineProperty(answer, each.as, { value: outcome.records[index], configurable: true })
      })
      return answer
    },
    ref: (as: unknown) => ({ ref: String(as) }),
    copy: (table: unknown, id: unknown, values: unknown = {}) =>
      run([{ ...row(table, values), copyOf: id as number }]).records[0],
    remove: (table: unknown, id: unknown) => {
      run([{ table: String(table), values: { id: id as number }, remove: true }])
    },
    get: (table: unknown, id: unknown) => {
      const shape = shapeOf(tableOf(table))
      const record = readByIds(store, shape, [id as number]).get(id as number)
      return record ? shape.plain(record) : null
    },
    rows: (table: unknown, where: unknown = {}) => {
      const known = tableOf(table)
      const shape = shapeOf(known)
      const { sql, parameters } = whereSql(known, where as Given)
      const stored = store.rows(`SELECT ${shape.columns} FROM ${quote(known.name)}${sql} ORDER BY "id"`, ...parameters)
      return stored.map((raw) => shape.plain(shape.fromRaw(raw)))
    },
    refusal: (attempt: unknown) => {
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
      const refused = result !== null && typeof result === 'object' ? (result as { refused?: unknown[] }).refused : undefined
      if (refused?.[0]) return refused[0]
      throw new HookError('test/failed', { detail: 'expected the save to be refused, but it was kept' })
    },
    as: (name: unknown, within?: () => unknown) => {
      if (typeof name !== 'string' || name === '')
        throw new HookError('test/failed', { detail: `as takes a user's name, but got ${gotOf(name)}` })
      if (users.length > 0 && !users.includes(name))
        throw new HookError('save/unknown-user', { user: name, hint: hintFor(name, users) })
      const before = user
      user = name
      if (typeof within !== 'function') return api
      try {
        return within()
      } finally {
        user = before
      }
    },
    clock: Object.assign(
      (next?: unknown) => {
        if (next !== undefined) time = timeOf(next)
        return time
      },
      { toString: () => time, toJSON: () => time },
    ),
    sent: (channel: unknown) =>
      (store.values('SELECT payload FROM ph_outbox WHERE channel = ? ORDER BY id', String(channel)) as string[]).map(
        (text) => JSON.parse(text) as unknown,
      ),
    ran: (hook: unknown) => {
      const known = program.hooks.map((each) => each.name)
      if (!known.includes(String(hook)))
        throw new HookError('test/failed', { detail: `ran: there is no hook ${String(hook)}${hintFor(String(hook), known)}` })
      return ran.get(String(hook)) ?? 0
    },
    spent: () => {
      if (!last) throw new HookError('test/failed', { detail: 'spent: nothing was saved yet' })
      return { ...last.spent }
    },
    history: (table: unknown, id: unknown) => readHistory(store, tableOf(table).name, id as number),
  }
  return sealFunctions(api)
}

/** @throws HookError save/bad-clock */
function timeOf(clock: unknown): string {
  const time = typeof clock === 'string' ? utcText(clock) : null
  if (time === null) throw new HookError('save/bad-clock', { clock: gotOf(clock) })
  return time
}

/** The kept records, with `kept` and `refused` beside them. */
function keptOf({ records, refusals }: SaveOutcome): RecordValues[] {
  const kept = records.filter((record) => record !== null)
  return Object.defineProperties([...kept], { kept: { value: kept }, refused: { value: refusals.map(toRefusal) } })
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

/** Refusals that are told of a failed save. */
const MOST_TOLD = 10

/** What is told of a failed save inside of a test: one refusal with its place, or several, each with its own. */
export function failureOf(error: ErrorReport, test: Pick<ErrorReport, 'file' | 'line'>): ErrorReport {
  const { refusals = [], code, message, todo } = error
  if (refusals.length < 2) return { ...test, ...error, message }
  const told = refusals.slice(0, MOST_TOLD).map(describe)
  if (refusals.length > MOST_TOLD) told.push(`and ${refusals.length - MOST_TOLD} more`)
  return { code, message: [`${refusals.length} refusals:`, ...told].join('\n'), todo, ...test, refusals }
}
