import type { ApiKey, ApiScope } from '@patient-hook/contract'
import { HookError } from '../errors.js'
import type { Store } from './database.js'

/** API keys: only the hash of a key is kept. */

export interface NewKey {
  name: string
  /** SHA-256 of the key, in hexadecimal digits. */
  hash: string
  /** Who saves with it. */
  user: string
  scope: ApiScope
  madeBy: string
}

const COLUMNS = `id, name, user, scope, made_at AS madeAt, made_by AS madeBy, used_at AS usedAt, revoked_at AS revokedAt`

/** Newest first; revoked ones too. */
export const listKeys = (store: Store): ApiKey[] =>
  store.objects(`SELECT ${COLUMNS} FROM ph_key ORDER BY id DESC`) as unknown as ApiKey[]

/** Those that were not revoked, each with the hash by which it is known. */
export const keysInUse = (store: Store): (ApiKey & { hash: string })[] =>
  store.objects(`SELECT ${COLUMNS}, hash FROM ph_key WHERE revoked_at IS NULL`) as unknown as (ApiKey & { hash: string })[]

/** Within a transaction. @returns its id */
export const addKey = (store: Store, { name, hash, user, scope, madeBy }: NewKey): number =>
  store.run(
    'INSERT INTO ph_key (name, hash, user, scope, made_at, made_by) VALUES (?, ?, ?, ?, ?, ?)',
    name,
    hash,
    user,
    scope,
    new Date().toISOString(),
    madeBy,
  ).lastInsertRowid as number

/** Within a transaction. @throws HookError access/no-key */
export function revokeKey(store: Store, id: number): void {
  const { changes } = store.run(
    'UPDATE ph_key SET revoked_at = coalesce(revoked_at, ?) WHERE id = ?',
    new Date().toISOString(),
    id,
  )
  if (changes === 0) throw new HookError('access/no-key', { key: id })
}

/** Within a transaction. */
export const noteUse = (store: Store, id: number): void =>
  void store.run('UPDATE ph_key SET used_at = ? WHERE id = ?', new Date().toISOString(), id)
