import type { Store } from '../store/database.js'

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
