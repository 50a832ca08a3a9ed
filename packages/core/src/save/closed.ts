import type { Hook } from './hook.js'
import type { Session } from './session.js'

/** Why the hook runs for no row of this save, or null where it may. */
export function isClosed(session: Session, hook: Hook): string | null {
  if (session.live) return session.live.has(hook.name) ? null : 'not among the hooks of this run'
  const switched = session.options.switches?.get(hook.name)?.state
  if (switched === 'off' || (switched !== 'on' && hook.state.state === 'off')) return 'switched off'
  if (hook.state.state === 'pilot' && !hook.state.users.includes(session.user))
    return `pilot for ${hook.state.users.join(', ')}; the user is ${session.user}`
  return null
}
