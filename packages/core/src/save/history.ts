import type { HistoryEntry } from '@patient-hook/contract'
import { own } from '../own.js'
import type { RecordValues, Value } from '../model/types.js'
import type { Store } from '../store/database.js'
import type { Setters, Shape } from '../store/shape.js'
import { FIRST_HOOK } from './program.js'
import type { SaveRow } from './row.js'
import type { Session } from './session.js'

/**
 * The history of a record: for each save of it an RFC 6902 JSON Patch from `was` to `now`, with who set each field.
 * A `test` before each `replace` holds the old value, so that a patch says from and to and refuses to be put on another
 * state. A create replaces the whole document (path ""), a delete replaces it by null.
 */

export const writeHistory = (session: Session, shape: Shape, rows: readonly SaveRow[]): void =>
  session.store.work(() => writeEntries(session, shape, rows))

function writeEntries(session: Session, shape: Shape, rows: readonly SaveRow[]): void {
  const statement = session.store.writer(
    'INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch) VALUES (?, ?, ?, ?, ?, ?, ?)',
  )
  const causes = new Map<string, string>()
  let last: Setters | undefined
  let cause: string | undefined
  for (const row of rows) {
    // Most rows of a batch had their fields set by the same as the row before.
    if (cause === undefined || !last || !shape.setAlike(last, row.by)) {
      const key = shape.fields.map(({ name }) => row.by[name]).join()
      cause = causes.get(key)
      if (cause === undefined) causes.set(key, (cause = causeOf(session, shape, row)))
      last = row.by
    }
    statement.run(session.saveId, shape.table.name, row.id, row.event, session.stage.depth, cause, patchOf(shape, row))
  }
}

/** JSON: by field, `typed`, `link`, `default`, or `plugin/hook@version`. */
function causeOf(session: Session, shape: Shape, row: SaveRow): string {
  const by: Record<string, string> = {}
  for (const { name } of shape.fields) {
    const who = row.by[name]!
    if (who === 0) continue
    const hook = session.program.hooks[who - FIRST_HOOK]
    by[name] = hook ? hook.cause : session.program.hookName(who)
  }
  return JSON.stringify(by)
}

export function patchOf(shape: Shape, row: { was: RecordValues | null; now: RecordValues | null }): string {
  const { was, now } = row
  if (was === null) return `[{"op":"replace","path":"","value":${shape.json(now!)}}]`
  if (now === null) return `[{"op":"test","path":"","value":${shape.json(was)}},{"op":"replace","path":"","value":null}]`
  let text = ''
  for (const index of shape.differing(was, now)) {
    const { name } = shape.fields[index]!
    text += `${text === '' ? '[' : ','}{"op":"test","path":"/${name}","value":${jsonOf(was[name]!)}},{"op":"replace","path":"/${name}","value":${jsonOf(now[name]!)}}`
  }
  return text === '' ? '[]' : text + ']'
}

/** As JSON.stringify writes it, which takes longer for a number. */
const jsonOf = (value: Value): string => (typeof value === 'string' ? JSON.stringify(value) : String(value))

export type { HistoryEntry } from '@patient-hook/contract'

/** A row of the history as it is stored, as far as it says what changed. */
export interface RawEntry {
  event: string
  /** JSON: who set each field. */
  cause: string
  /** JSON: RFC 6902. */
  patch: string
}

type Stored = RawEntry & Pick<HistoryEntry, 'save' | 'at' | 'user' | 'depth'>

/** One stored row of the history as people and tests read it. */
function readEntry(raw: Stored): HistoryEntry {
  const { save, at, user, event, depth } = raw
  return { save, at, user, event, depth, patch: JSON.parse(raw.patch) as HistoryEntry['patch'], changes: changesOf(raw) }
}

/** Which fields changed, from what to what, and who did it. */
export function changesOf(raw: RawEntry): HistoryEntry['changes'] {
  const patch = JSON.parse(raw.patch) as HistoryEntry['patch']
  const by = JSON.parse(raw.cause) as Record<string, string>
  const changes: HistoryEntry['changes'] = []
  const note = (field: string, from: unknown, to: unknown) => {
    if (field !== 'id' && from !== to) changes.push({ field, from, to, by: own(by, field) ?? 'typed' })
  }
  const whole = (value: unknown, each: (field: string, value: unknown) => void) =>
    Object.entries((value ?? {}) as Record<string, unknown>).forEach(([field, one]) => each(field, one))
  let from: unknown = null
  for (const step of patch) {
    if (step.op === 'test') from = step.value
    else if (step.op === 'move') continue
    else if (step.op === 'remove') note(step.path.slice(1), from, null)
    else if (step.op === 'add') note(step.path.slice(1), null, step.value)
    else if (step.path !== '') note(step.path.slice(1), from, step.value)
    else if (step.value === null) whole(from, (field, value) => note(field, value, null))
    else whole(step.value, (field, value) => note(field, null, value))
  }
  return changes
}

/** The history of one record, oldest first. */
export function readHistory(store: Store, table: string, id: number): HistoryEntry[] {
  return (store.objects(HISTORY_SQL, table, id) as unknown as Stored[]).map(readEntry)
}

/** What one save wrote into the history of all records, in that order. @param most entries at most; below 0: all */
export function readSave(store: Store, save: number, most = -1): (HistoryEntry & { table: string; record: number })[] {
  const raw = store.objects(SAVE_SQL, save, most) as unknown as (Stored & { tbl: string; record: number })[]
  return raw.map((each) => ({ ...readEntry(each), table: each.tbl, record: each.record }))
}

const SAVE_SQL = `SELECT h.tbl, h.record, h.save, s.at, s.user, h.event, h.depth, h.cause, h.patch
  FROM ph_history h JOIN ph_save s ON s.id = h.save WHERE h.save = ? ORDER BY h.id LIMIT ?`
const HISTORY_SQL = `SELECT h.save, s.at, s.user, h.event, h.depth, h.cause, h.patch FROM ph_history h JOIN ph_save s ON s.id = h.save
  WHERE h.tbl = ? AND h.record = ? ORDER BY h.id`
