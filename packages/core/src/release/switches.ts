import type { Files } from '@patient-hook/contract'
import type { Store } from '../store/database.js'
import type { Release } from './release-store.js'
import { renamedHooks } from './renamed-hooks.js'

/** Hooks that were switched beside their release: off at once, or on although their plugin.json says off. */

export interface Switch {
  state: 'on' | 'off'
  user: string
  at: string
}
export type Switches = ReadonlyMap<string, Switch>

export const switchesIn = (store: Store): Switches =>
  new Map(
    (store.rows('SELECT hook, state, user, at FROM ph_hook_switch') as [string, 'on' | 'off', string, string][]).map(
      ([hook, state, user, at]) => [hook, { state, user, at }],
    ),
  )

/**
 * What a hook was switched to goes along when it gets another name: the switch is for the hook, not for its name. The old name keeps it
 * as long as somebody gets a release that has it. Within a transaction.
 * @param before the releases that somebody got @param after those that somebody gets now @returns which were taken along
 */
export function followRenames(
  store: Store,
  before: readonly Release[],
  after: readonly Release[],
): { from: string; to: string }[] {
  const switches = switchesIn(store)
  if (switches.size === 0) return []
  const has = (releases: readonly Release[]) => new Set(releases.flatMap(({ hooks }) => hooks))
  const known = new Map(before.map(({ id, audience }) => [id, JSON.stringify(audience)]))
  const given = after.filter(({ id, audience }) => known.get(id) !== JSON.stringify(audience))
  const plugins = new Set(given.map(({ plugin }) => plugin))
  const live = before.filter(({ plugin, audience }) => audience === null && plugins.has(plugin))
  const filesOf = (releases: readonly Release[]): Files => Object.assign({}, ...releases.map(({ files }) => files)) as Files
  const moved = [...renamedHooks(filesOf(live), filesOf(given))].filter(([from]) => switches.has(from))
  const still = has(after)
  for (const [from, to] of moved) {
    const { state, user } = switches.get(from)!
    if (!switches.has(to)) setSwitch(store, to, state, user)
    if (!still.has(from)) setSwitch(store, from, null, user)
  }
  return moved.map(([from, to]) => ({ from, to }))
}

/** Within a transaction. @param state null: as its release says */
export function setSwitch(store: Store, hook: string, state: 'on' | 'off' | null, user: string): void {
  if (state === null) store.run('DELETE FROM ph_hook_switch WHERE hook = ?', hook)
  else
    store.run(
      `INSERT INTO ph_hook_switch (hook, state, at, user) VALUES (?, ?, ?, ?)
       ON CONFLICT (hook) DO UPDATE SET state = excluded.state, at = excluded.at, user = excluded.user`,
      hook,
      state,
      new Date().toISOString(),
      user,
    )
}
