import type { Store } from './database.js'

/**
 * What a backup must not bring back when it replaces newer records: keys that were revoked since, numbers that were given since, and versions
 * that were released since. It is taken over from the file that is replaced.
 */

/** How many of each were taken over. */
export interface CarriedOver {
  /** Keys that stay revoked, and keys that were made since. */
  keys: number
  /** Series that go on after the last number that was given. */
  sequences: number
  /** Messages and saves that keep their numbers. */
  numbers: number
  /** Versions that nobody gets, and whose numbers are not used again. */
  releases: number
}

/** @param before path of the file that is replaced, whose own tables are up to date */
export function carryOver(store: Store, before: string): CarriedOver {
  store.run('ATTACH DATABASE ? AS before', before)
  try {
    return store.transaction(() => ({ value: takeOver(store), keep: true }))
  } finally {
    store.run('DETACH DATABASE before')
  }
}

function takeOver(store: Store): CarriedOver {
  const at = new Date().toISOString()
  const run = (sql: string, ...parameters: unknown[]) => store.run(sql, ...parameters).changes
  const revoked = run(
    `UPDATE main.ph_key SET revoked_at = b.revoked_at FROM before.ph_key b
     WHERE b.hash = main.ph_key.hash AND b.revoked_at IS NOT NULL AND main.ph_key.revoked_at IS NULL`,
  )
  const made = run(
    `INSERT INTO main.ph_key (name, hash, user, scope, made_at, made_by, used_at, revoked_at)
     SELECT name, hash, user, scope, made_at, made_by, used_at, revoked_at FROM before.ph_key
     WHERE hash NOT IN (SELECT hash FROM main.ph_key) ORDER BY id`,
  )
  const sequences = run(
    `INSERT INTO main.ph_sequence (name, next) SELECT name, next FROM before.ph_sequence WHERE true
     ON CONFLICT (name) DO UPDATE SET next = excluded.next WHERE excluded.next > main.ph_sequence.next`,
  )
  const releases = run(
    `INSERT INTO main.ph_release (plugin, version, note, at, user, files, gate, reason, coverage, audience)
     SELECT plugin, version, note, at, user, files, gate, reason, coverage, '[]' FROM before.ph_release
     WHERE (plugin, version) NOT IN (SELECT plugin, version FROM main.ph_release) ORDER BY id`,
  )
  run(
    `INSERT INTO main.ph_release_log (at, user, plugin, version, hook, what, detail)
     SELECT ?, user, plugin, version, NULL, 'taken back', 'a backup from before this release was restored' FROM before.ph_release
     WHERE id NOT IN (SELECT id FROM main.ph_release WHERE audience <> '[]' OR audience IS NULL)
       AND (plugin, version) IN (SELECT plugin, version FROM main.ph_release WHERE audience = '[]')`,
    at,
  )
  return { keys: revoked + made, sequences, numbers: keepNumbers(store, at), releases }
}

/** SQLite gives the number after the highest that is there: one line represents all that were given since the backup. */
function keepNumbers(store: Store, at: string): number {
  const highest = (schema: string, table: string) => store.one(`SELECT coalesce(max(id), 0) FROM ${schema}.${table}`) as number
  const [messages, saves] = ['ph_outbox', 'ph_save'].map((table) => ({
    was: highest('main', table),
    is: highest('before', table),
  }))
  if (messages!.is > messages!.was)
    store.run(
      `INSERT INTO main.ph_outbox (id, save, channel, payload, at, hook, delivered) VALUES (?, ?, 'restored backup', ?, ?, '', ?)`,
      messages!.is,
      saves!.is,
      JSON.stringify(`Messages ${messages!.was + 1} to ${messages!.is} were sent after the backup that was restored.`),
      at,
      at,
    )
  if (saves!.is > saves!.was)
    store.run(
      `INSERT INTO main.ph_save (id, at, user, rows, spent, ms) VALUES (?, ?, 'restored backup', 0, '{}', 0)`,
      saves!.is,
      at,
    )
  return Math.max(0, messages!.is - messages!.was) + Math.max(0, saves!.is - saves!.was)
}
