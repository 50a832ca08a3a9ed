import type { Files, GateResult, ReleaseCoverage, ReleaseEntry, ReleaseInfo } from '@patient-hook/contract'
import { hookOfPath } from '@patient-hook/contract/paths'
import { HookError } from '../errors.js'
import type { Store } from '../store/database.js'

/** Releases as they are kept: their text never changes, their audience does, and every action is logged. */

/** A release with its text. */
export interface Release extends ReleaseInfo {
  files: Files
  coverage: ReleaseCoverage
  /** The release whose text this is, of a step back. */
  textFrom: number | null
}

export interface NewRelease {
  plugin: string
  version: string
  note: string
  user: string
  files: Files
  gate: readonly GateResult[]
  reason: string | null
  coverage: ReleaseCoverage
  /** Null: everyone. */
  audience: readonly string[] | null
  textFrom?: number | null
}

export const hooksIn = (files: Files): string[] =>
  Object.keys(files)
    .flatMap((path) => hookOfPath(path)?.hook ?? [])
    .sort()

const SELECT = `SELECT r.*, t.version AS text_version FROM ph_release r LEFT JOIN ph_release t ON t.id = r.text_of`

function toRelease(row: Record<string, unknown>): Release {
  const files = JSON.parse(row['files'] as string) as Files
  return {
    id: row['id'] as number,
    plugin: row['plugin'] as string,
    version: row['version'] as string,
    note: row['note'] as string,
    at: row['at'] as string,
    user: row['user'] as string,
    gate: JSON.parse(row['gate'] as string) as GateResult[],
    reason: row['reason'] as string | null,
    audience: row['audience'] === null ? null : (JSON.parse(row['audience'] as string) as string[]),
    everyoneAt: row['everyone_at'] as string | null,
    textOf: row['text_version'] as string | null,
    textFrom: row['text_of'] as number | null,
    coverage: JSON.parse(row['coverage'] as string) as ReleaseCoverage,
    hooks: hooksIn(files),
    files,
  }
}

/** Without what only the core needs. */
export function infoOf({ files: _files, coverage: _coverage, textFrom: _from, ...info }: Release): ReleaseInfo {
  return info
}

/** Oldest first. @param plugin default: all */
export function releasesIn(store: Store, plugin?: string): Release[] {
  const rows = plugin
    ? store.objects(`${SELECT} WHERE r.plugin = ? ORDER BY r.id`, plugin)
    : store.objects(`${SELECT} ORDER BY r.id`)
  return rows.map(toRelease)
}

/** Those that somebody gets: of each plugin the newest for everyone, and pilots. Oldest first. */
export const releasesInUse = (store: Store): Release[] =>
  store
    .objects(
      `${SELECT} WHERE r.audience <> '[]' OR r.id IN (SELECT max(id) FROM ph_release WHERE audience IS NULL GROUP BY plugin)
       ORDER BY r.id`,
    )
    .map(toRelease)

/** @throws HookError release/unknown */
export function releaseOf(store: Store, id: number): Release {
  const [row] = store.objects(`${SELECT} WHERE r.id = ?`, id)
  if (!row) throw new HookError('release/unknown', { release: id })
  return toRelease(row)
}

/** Within a transaction. @throws HookError release/taken where the plugin has the version already */
export function addRelease(store: Store, release: NewRelease): Release {
  const { plugin, version, note, user, files, gate, reason, coverage, audience, textFrom = null } = release
  if (store.one('SELECT 1 FROM ph_release WHERE plugin = ? AND version = ?', plugin, version) !== undefined)
    throw new HookError('release/taken', { plugin, version })
  const at = new Date().toISOString()
  const { lastInsertRowid } = store.run(
    `INSERT INTO ph_release (plugin, version, note, at, user, files, gate, reason, coverage, audience, everyone_at, text_of)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    plugin,
    version,
    note,
    at,
    user,
    JSON.stringify(files),
    JSON.stringify(gate),
    reason,
    JSON.stringify(coverage),
    audience === null ? null : JSON.stringify(audience),
    audience === null ? at : null,
    textFrom,
  )
  return releaseOf(store, lastInsertRowid as number)
}

/** Within a transaction. @param audience null: everyone */
export function setAudience(store: Store, id: number, audience: readonly string[] | null): void {
  if (audience === null)
    store.run(
      'UPDATE ph_release SET audience = NULL, everyone_at = coalesce(everyone_at, ?) WHERE id = ?',
      new Date().toISOString(),
      id,
    )
  else store.run('UPDATE ph_release SET audience = ? WHERE id = ?', JSON.stringify(audience), id)
}

/** Within a transaction. */
export function note(store: Store, entry: Omit<ReleaseEntry, 'at'>): void {
  store.run(
    'INSERT INTO ph_release_log (at, user, plugin, version, hook, what, detail) VALUES (?, ?, ?, ?, ?, ?, ?)',
    new Date().toISOString(),
    entry.user,
    entry.plugin,
    entry.version,
    entry.hook,
    entry.what,
    entry.detail,
  )
}

/** Newest first. */
export const logOf = (store: Store, limit: number): ReleaseEntry[] =>
  store.objects(
    'SELECT at, user, plugin, version, hook, what, detail FROM ph_release_log ORDER BY id DESC LIMIT ?',
    limit,
  ) as unknown as ReleaseEntry[]
