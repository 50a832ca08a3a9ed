import type { SaveEntry, SaveFigures, SaveStory } from '@patient-hook/contract'
import { HookError, type ErrorReport } from '../errors.js'
import { keptSave } from '../save/given.js'
import { readSave } from '../save/history.js'
import { wasRefused } from '../save/refused-log.js'
import type { InputRow } from '../save/types.js'
import type { Store } from '../store/database.js'

/** Reads of the log of saves: kept ones and those that were not, and what they add up to. */

export interface LogOptions {
  offset: number
  limit: number
  only: 'all' | 'kept' | 'not-kept'
  user?: string
  table?: string
  hook?: string
}

/** A budget that is spent by this part or more comes near its limit. */
const NEAR = 0.8
const MOST_NEAR = 20
const MOST_RECORDS = 200
const MOST_REASONS = 50
/** Saves that are looked through for figures, counted back from the newest. */
const LOOKED_AT = 500_000

const KEPT = `SELECT id, 'kept' AS state, at, user, rows, ms, spent, budget, share, versions, job, given IS NOT NULL AS given, NULL AS error
  FROM ph_save`
const NOT_KEPT = `SELECT id, 'refused' AS state, at, user, rows, ms, spent, NULL AS budget, NULL AS share, versions, NULL AS job,
  given IS NOT NULL AS given, error FROM ph_refused`

type Raw = Omit<SaveEntry, 'spent' | 'versions' | 'given' | 'error'> & {
  spent: string
  versions: string | null
  given: 0 | 1
  error: string | null
}

function read({ spent, versions, given, error, state, ...raw }: Raw): SaveEntry {
  const cause = error === null ? null : (JSON.parse(error) as ErrorReport)
  return {
    ...raw,
    state: cause !== null && !wasRefused(cause) ? 'failed' : state,
    spent: { queries: 0, rowsRead: 0, rowsWritten: 0, steps: 0, ripples: 0, ms: 0, ...(JSON.parse(spent) as object) },
    versions: versions === null ? null : (JSON.parse(versions) as Record<string, string>),
    given: given === 1,
    error: cause,
  }
}

/** Newest first. One more than asked for tells whether there are more. */
export function listSaves(store: Store, options: LogOptions): { saves: SaveEntry[]; more: boolean } {
  const { offset, limit, only, user, table, hook } = options
  const count = offset + limit + 1
  const find = (sql: string, more: [string, unknown][]): SaveEntry[] => {
    const parts = [...(user === undefined ? [] : [['user = ?', user] as [string, unknown]]), ...more]
    const where = parts.length > 0 ? ` WHERE ${parts.map(([part]) => part).join(' AND ')}` : ''
    const values = parts.map(([, value]) => value)
    return (store.objects(`${sql}${where} ORDER BY id DESC LIMIT ?`, ...values, count) as unknown as Raw[]).map(read)
  }
  const wrote = 'EXISTS (SELECT 1 FROM ph_history h WHERE h.save = ph_save.id AND h.tbl = ?)'
  const kept = only === 'not-kept' || hook !== undefined ? [] : find(KEPT, table === undefined ? [] : [[wrote, table]])
  const ofHook: [string, unknown][] = hook === undefined ? [] : [['hook = ?', hook]]
  const notKept = only === 'kept' ? [] : find(NOT_KEPT, table === undefined ? ofHook : [...ofHook, ['tbl = ?', table]])
  const all = [...kept, ...notKept].sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : b.id - a.id))
  return { saves: all.slice(offset, offset + limit), more: all.length > offset + limit }
}

/** @throws HookError rehearse/no-save */
export function saveStory(store: Store, id: number): SaveStory {
  const [raw] = store.objects(`${KEPT} WHERE id = ?`, id) as unknown as Raw[]
  if (!raw) throw new HookError('rehearse/no-save', { save: id })
  const written = store.one('SELECT count(*) FROM ph_history WHERE save = ?', id) as number
  const records = readSave(store, id, MOST_RECORDS).map(({ table, record, event, depth, changes }) => ({
    table,
    id: record,
    title: null,
    event,
    depth,
    changes,
  }))
  return { save: read(raw), written, records, rows: (keptSave(store, id)!.given?.rows ?? null) as SaveStory['rows'] }
}

/** How many records a save wrote: new ones, changed ones, and those that changed with them. */
export interface SavedCounts {
  created: number
  changed: number
  ripples: number
}

export function savedCounts(store: Store, id: number): SavedCounts {
  const sql = `SELECT count(*) FILTER (WHERE depth = 0 AND event = 'create'), count(*) FILTER (WHERE depth = 0 AND event = 'update'),
    count(*) FILTER (WHERE depth > 0) FROM ph_history WHERE save = ?`
  const [[created, changed, ripples]] = store.rows(sql, id) as [[number, number, number]]
  return { created, changed, ripples }
}

/** @throws HookError rehearse/no-save */
export function refusedStory(store: Store, id: number): SaveStory {
  const [raw] = store.objects(`${NOT_KEPT} WHERE id = ?`, id) as unknown as Raw[]
  if (!raw) throw new HookError('rehearse/no-save', { save: id })
  const given = store.one('SELECT given FROM ph_refused WHERE id = ?', id) as string | null
  return { save: read(raw), written: 0, records: [], rows: given === null ? null : (JSON.parse(given) as InputRow[] as never) }
}

const beginning = (time: number): string => `${new Date(time).toISOString().slice(0, 13)}:00:00.000Z`

/** @param hours how many, up to this one */
export function saveFigures(store: Store, hours: number): SaveFigures {
  const from = beginning(Date.now() - (hours - 1) * 3_600_000)
  const newest = (store.one('SELECT coalesce(max(id), 0) FROM ph_save') as number) - LOOKED_AT
  // The value at rank p × n, rounded up: the nearest-rank method, common practice of the trade.
  const kept = store.rows(
    `SELECT hour, n, max(CASE WHEN r = (n * 50 + 99) / 100 THEN ms END), max(CASE WHEN r = (n * 95 + 99) / 100 THEN ms END) FROM (
       SELECT substr(at, 1, 13) AS hour, ms, row_number() OVER (PARTITION BY substr(at, 1, 13) ORDER BY ms) AS r,
         count(*) OVER (PARTITION BY substr(at, 1, 13)) AS n
       FROM ph_save WHERE id > ? AND at >= ? AND job IS NULL AND ms IS NOT NULL
     ) GROUP BY hour, n`,
    newest,
    from,
  ) as [string, number, number, number][]
  const refused = store.rows('SELECT substr(at, 1, 13), count(*) FROM ph_refused WHERE at >= ? GROUP BY 1', from) as [
    string,
    number,
  ][]
  const byHour = new Map<string, SaveFigures['hours'][number]>()
  const of = (hour: string) => {
    let figures = byHour.get(hour)
    if (!figures) byHour.set(hour, (figures = { hour: `${hour}:00:00.000Z`, saves: 0, p50: 0, p95: 0, notKept: 0 }))
    return figures
  }
  for (const [hour, saves, p50, p95] of kept) Object.assign(of(hour), { saves, p50, p95 })
  for (const [hour, count] of refused) of(hour).notKept = count
  const hooks = store.objects(
    `SELECT hook, sum(ran) AS ran, sum(refused) AS refused, sum(failed) AS failed, sum(ms) AS ms FROM ph_hook_hour WHERE hour >= ?
     GROUP BY hook ORDER BY sum(ms) DESC`,
    from,
  ) as unknown as SaveFigures['hooks']
  const reasons = store.objects(
    `SELECT hook, code, json_extract(error, '$.message') AS message, count(*) AS count FROM ph_refused WHERE at >= ?
     GROUP BY hook, code, message ORDER BY count(*) DESC, max(id) DESC LIMIT ?`,
    from,
    MOST_REASONS,
  ) as unknown as SaveFigures['reasons']
  const near = store.objects(
    `${KEPT} WHERE id > ? AND at >= ? AND share >= ? ORDER BY share DESC, id DESC LIMIT ?`,
    newest,
    from,
    NEAR,
    MOST_NEAR,
  ) as unknown as Raw[]
  return { hours: [...byHour.values()].sort((a, b) => (a.hour < b.hour ? -1 : 1)), hooks, reasons, near: near.map(read) }
}
