import { HookError } from '../errors.js'
import type { Field, RecordValues, Value } from '../model/types.js'
import { fitsType } from '../model/values.js'
import type { Diff } from '../store/shape.js'
import { wrongType, wrongValue } from './wrong-value.js'
import { isClosed } from './closed.js'
import type { EffectSink } from './effect-sink.js'
import { makeContext, makeEffects, type Effects } from './effects.js'
import type { Hook } from './hook.js'
import { FIRST_HOOK, TYPED } from './program.js'
import { RowView, type SaveRow } from './row.js'
import type { Session } from './session.js'
import type { Verdict } from './types.js'

/** Runs one hook over the rows of a batch: who is woken and why not, then load, each, finish. The same for every moment. */

/** Why the hook does not run for the row, or null when it does. */
function sleeps(session: Session, hook: Hook, row: SaveRow, byChild: boolean): string | null {
  if (session.wakes(hook)) return cannotHaveCome(hook, row)
  if (!hook.on.has(row.event))
    return `runs on ${[...hook.on].join(' and ')}; this is ${row.event === 'update' ? 'an' : 'a'} ${row.event}`
  if (hook.ripples !== 'all' && row.row === 0) {
    if (hook.ripples === 'none') return "ripples: 'none', and this record was changed by a ripple"
    if (row.origin.hooks.has(hook)) return "ripples: 'others', and the hook caused this ripple itself"
  }
  if (hook.watch && row.event !== 'delete' && !byChild) {
    const { shape, was, now } = row
    if (was === null ? hook.watch.some((name) => now![name] !== null) : shape.differIn(hook.watch)(was, now!)) return null
    return row.event === 'create' ? hook.noValue : hook.noChange
  }
  return null
}

/** A backfill wakes a hook for each row in which there is a value to watch. */
function cannotHaveCome({ watch, noValue }: Hook, { now }: SaveRow): string | null {
  if (watch === null || watch.some((name) => now![name] !== null)) return null
  return noValue
}

/** A row as its hook sees it: where a backfill wakes the hook, as if each watched field had just changed, or the record were new. */
function viewFor(session: Session, hook: Hook, row: SaveRow, now = row.now): RowView {
  if (!session.wakes(hook)) return now === row.now ? session.viewOf(row) : new RowView(row, now, session)
  const { was, shape } = row
  if (!hook.on.has('update')) return new RowView(row, now, session, { event: 'create', was: null })
  const before = shape.copy(was!)
  for (const name of hook.watch ?? []) before[name] = null
  return new RowView(row, now, session, { event: 'update', was: Object.freeze(before) })
}

/** How the reason of a row begins that the guard of a hook left out. */
const GUARD_FALSE = 'the guard returned false'

/** Is every row of the right event woken? */
const wakesAlways = (hook: Hook): boolean => hook.watch === null && hook.ripples === 'all'

export interface HookRun {
  /** Rows that were woken by a child's save only. */
  byChild?: ReadonlySet<SaveRow>
  effects?: EffectSink
}

export function runHook(session: Session, hook: Hook, rows: readonly SaveRow[], run: HookRun = {}): void {
  const began = performance.now()
  const closed = isClosed(session, hook)
  const always = closed === null && wakesAlways(hook)
  const saidNo = `${GUARD_FALSE}: ${hook.guard}`
  const woken: SaveRow[] = []
  /** Why the hook slept, by the row's place in the list; only where verdicts are noted. */
  const asleep: (string | null)[] | null = session.options.record ? [] : null
  session.spending.time()
  if (closed === null && session.options.paused) checkPaused(session, hook, rows, run)
  if (hook.only) session.stage.enter(hook, 'only')
  for (const row of rows) {
    let reason = row.failed ? 'an error applies to the row already' : closed
    if (reason === null && !(always && hook.on.has(row.event)))
      reason = sleeps(session, hook, row, run.byChild?.has(row) ?? false)
    if (reason === null && hook.only && !askOnly(session, hook, row)) reason = row.failed ? 'only failed' : saidNo
    if (reason === null) woken.push(row)
    asleep?.push(reason)
  }
  if (hook.only) session.leave()
  try {
    if (woken.length > 0) runWoken(session, hook, woken, rows, run)
  } finally {
    if (asleep) noteVerdicts(session, hook, rows, asleep)
    session.notes.countTime(hook.name, performance.now() - began)
  }
}

/** @throws HookError hook/paused where the hook would be called */
function checkPaused(session: Session, hook: Hook, rows: readonly SaveRow[], { byChild }: HookRun): void {
  const paused = session.options.paused!.find((each) => each.hook === hook.name)
  if (!paused || rows.every((row) => row.failed || sleeps(session, hook, row, byChild?.has(row) ?? false) !== null)) return
  const { stops, nextTry } = paused
  throw new HookError('hook/paused', { hook: hook.name, file: hook.file, table: hook.table, stops, nextTry })
}

function runWoken(session: Session, hook: Hook, woken: readonly SaveRow[], rows: readonly SaveRow[], run: HookRun): void {
  session.notes.countRuns(hook.name, woken.length)
  session.stage.rows = rows
  session.stage.deleting = woken.some((row) => row.event === 'delete')
  const loaded = hook.load ? runLoad(session, hook, woken) : undefined
  const effects = run.effects ? makeEffects(session, hook, woken, run.effects) : null
  const { context, close } = makeContext(session, hook, effects?.calls ?? null)
  try {
    callWoken(session, hook, woken, rows, loaded, context)
    if (effects) endEffects(session, hook, effects)
  } finally {
    close()
    effects?.close()
  }
  session.leave()
}

function callWoken(
  session: Session,
  hook: Hook,
  woken: readonly SaveRow[],
  rows: readonly SaveRow[],
  loaded: unknown,
  context: object,
): void {
  if (hook.each) {
    session.stage.enter(hook, 'each')
    const diff = differOf(hook, woken[0]!)
    for (const row of woken) runEach(session, hook, row, loaded, context, diff)
    if (hook.moment === 'before-save' && hook.writes === null) noteLateWrites(session, hook, rows)
  }
  if (hook.finish) runFinish(session, hook, woken, loaded, context)
}

/** What the hook asked for by conditions is looked up, as its finish would. */
function endEffects(session: Session, hook: Hook, effects: Effects): void {
  if (effects.isOpen()) {
    if (session.stage.phase !== 'finish') session.stage.enter(hook, 'finish')
    try {
      effects.end((row, error) => {
        session.stage.at(row)
        fail(session, row, error)
      })
    } catch (error) {
      throw session.stage.hookError(error)
    }
  }
}

/**
 * In the order of the rows, so that the list reads as the save went.
 * @param asleep for each row why the hook slept, null where it ran; shorter where the hook did not come to the last rows
 */
function noteVerdicts(session: Session, hook: Hook, rows: readonly SaveRow[], asleep: readonly (string | null)[]): void {
  const { name, table } = hook
  const { depth } = session.stage
  const { verdicts } = session.notes
  const briefly = session.options.record === 'briefly'
  const refusals = session.refusals.list.filter((each) => each.hook === name && each.table === table)
  rows.forEach((row, index) => {
    const slept = asleep[index] ?? null
    if (slept !== null) {
      const told: Verdict = { hook: name, table, id: row.id, depth, verdict: 'skipped', reason: slept }
      verdicts.push(briefly ? told : Object.assign(told, whatItSaw(hook, row, slept)))
      return
    }
    const refusal =
      refusals.length === 0
        ? undefined
        : refusals.find((each) => (row.row > 0 && each.row === row.row) || (each.row === undefined && each.id === row.id))
    const reason = refusal ? `${refusal.code === 'hook/refused' ? 'refused' : 'failed'}: ${refusal.message}` : ''
    verdicts.push({ hook: name, table, id: row.id, depth, verdict: 'ran', reason })
  })
}

/** The values by which a row was distinguished from those that the hook runs for. */
function whatItSaw(hook: Hook, row: SaveRow, reason: string): Pick<Verdict, 'read' | 'changed'> {
  const { shape, was, now } = row
  if (reason.startsWith('no change of') && was && now)
    return { changed: shape.differing(was, now).map((index) => shape.fields[index]!.name) }
  if (!reason.startsWith(GUARD_FALSE)) return {}
  const read: Record<string, Value> = {}
  for (const [, side, name] of hook.guard.matchAll(/\b(now|was)\b\??\.(\w+)/g)) {
    const record = side === 'now' ? now : was
    if (record && shape.index.has(name!)) read[side === 'now' ? name! : `was.${name}`] = record[name!]!
  }
  return { read: read as Verdict['read'] }
}

function askOnly(session: Session, hook: Hook, row: SaveRow): boolean {
  const { only } = hook
  session.stage.at(row)
  try {
    const answer = only!(viewFor(session, hook, row))
    if (
      row.now !== null &&
      hook.moment === 'before-save' &&
      hook.writes === null &&
      row.shape.diff(row.now, row.snapshot, row.by, TYPED) !== 0
    ) {
      throw new HookError('hook/readonly', { detail: 'only wrote to the row; it may look, and each may write' })
    }
    return Boolean(answer)
  } catch (error) {
    fail(session, row, error)
    return false
  }
}

function runLoad(session: Session, hook: Hook, rows: readonly SaveRow[]): unknown {
  const { load } = hook
  session.stage.enter(hook, 'load')
  try {
    // In before-save the rows are still to be written: load is shown copies that cannot be, unless it only reads.
    const copies = hook.moment === 'before-save' && !hook.loadReads
    const views = rows.map((row) =>
      viewFor(session, hook, row, copies && row.now !== null ? Object.freeze(row.shape.copy(row.now)) : row.now),
    )
    const { user, clock } = session
    return load!(Object.freeze({ rows: Object.freeze(views), store: session.reads.store, user, clock }))
  } catch (error) {
    throw session.stage.hookError(error)
  } finally {
    session.leave()
  }
}

/** How the record is compared after the hook ran; null where it cannot have written to it. */
function differOf(hook: Hook, { shape }: SaveRow): Diff | null {
  if (hook.moment !== 'before-save' || hook.writes?.length === 0) return null
  return hook.writes ? shape.diffOf(hook.writes) : shape.diff
}

function runEach(session: Session, hook: Hook, row: SaveRow, loaded: unknown, context: object, diff: Diff | null): void {
  const { each } = hook
  session.spending.time()
  session.stage.at(row)
  try {
    each!(viewFor(session, hook, row), loaded, context)
    if (diff !== null && row.now !== null) {
      const changed = diff(row.now, row.snapshot, row.by, hook.index + FIRST_HOOK)
      if (changed < 0) throw traced(session, hook, row, changed, loaded, context)
      if (hook.writes === null && Object.isFrozen(row.now))
        throw new HookError('hook/readonly', { detail: 'the hook froze its record, so no later hook could write to it' })
    }
  } catch (error) {
    fail(session, row, error)
  }
  session.checkWhole()
}

/** What the hook wrote to a row while it was called for another one. */
function noteLateWrites(session: Session, hook: Hook, rows: readonly SaveRow[]): void {
  for (const row of rows) {
    if (row.now === null || row.failed) continue
    const changed = row.shape.diff(row.now, row.snapshot, row.by, hook.index + FIRST_HOOK)
    if (changed >= 0) continue
    session.stage.at(row)
    fail(session, row, wrongValue(row, changed))
  }
}

function runFinish(session: Session, hook: Hook, rows: readonly SaveRow[], loaded: unknown, context: object): void {
  const { finish } = hook
  session.stage.enter(hook, 'finish')
  try {
    const given = {
      ...context,
      rows: Object.freeze(rows.map((row) => viewFor(session, hook, row))),
      loaded,
      store: session.reads.store,
    }
    finish!(Object.freeze(given))
  } catch (error) {
    throw session.stage.hookError(error)
  }
}

/** Budgets and other errors of the whole save go on; anything else counts against the row. */
function fail(session: Session, row: SaveRow, error: unknown): void {
  const failure = session.stage.hookError(error)
  if (/^(budget|store|request)\//.test(failure.code)) throw failure
  row.failed = true
  session.refusals.against(row, failure.report)
  // The wrong values are undone, so that the checks after the hooks speak of the hooks' error only.
  if (row.now && !Object.isFrozen(row.now)) restore(row)
}

function restore(row: SaveRow): void {
  for (const name in row.snapshot) row.now![name] = row.snapshot[name]!
  row.now!.id = row.id
}

/**
 * A wrong value was found after `each`: runs it once more on the values it was given, with a record that checks each
 * write, so that the error names the line. Gives the error without a line if the hook does not do it again.
 */
function traced(session: Session, hook: Hook, row: SaveRow, found: number, loaded: unknown, context: object): HookError {
  const { shape } = row
  const error = (field: Field | null, got: unknown) => wrongType(shape.table, field, got)
  const wrong = wrongValue(row, found)
  restore(row)
  const checked = new Proxy(shape.copy(row.now!), {
    set(target, key, given) {
      const field = typeof key === 'string' ? shape.fields[shape.index.get(key) ?? -1] : undefined
      if (key === 'id') throw error(null, given)
      if (field && !fitsType(field, given)) throw error(field, given)
      return Reflect.set(target, key, given as Value)
    },
    deleteProperty(_, key) {
      throw error(shape.fields[shape.index.get(String(key)) ?? -1] ?? null, undefined)
    },
  }) as RecordValues
  const { each } = hook
  try {
    each!(new RowView(row, checked, { refuse: () => {} }), loaded, context)
  } catch (thrown) {
    if (HookError.is(thrown)) return thrown
  }
  return wrong
}
