import { HookError } from '../../errors.js'
import { hintFor } from '../../model/names.js'
import { addKey, noteUse, revokeKey as revoke, type NewKey } from '../../store/keys.js'
import type { OpenProject } from '../open-project.js'

/** API keys: made, revoked, used. */

/** @returns its id @throws HookError save/unknown-user */
export function makeKey(open: OpenProject, key: NewKey): number {
  const names = open.runtimes.saved.project.users.map(({ name }) => name)
  if (names.length > 0 && !names.includes(key.user))
    throw new HookError('save/unknown-user', { user: key.user, hint: hintFor(key.user, names) })
  return within(open, () => addKey(open.live, key))
}

/** @throws HookError access/no-key */
export const revokeKey = (open: OpenProject, id: number): void => within(open, () => revoke(open.live, id))

export const keyUsed = (open: OpenProject, id: number): void => within(open, () => noteUse(open.live, id))

const within = <T>(open: OpenProject, work: () => T): T => open.live.transaction(() => ({ value: work(), keep: true }))
