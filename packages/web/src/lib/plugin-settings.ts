import type { HookState } from '@patient-hook/contract'

/** What plugin.json says of a hook: who it is live for, and the exceptions that were accepted with a reason. */

interface HookSettings {
  pilot?: string[]
  off?: boolean
  accepts?: Record<string, string>
  misses?: Record<string, string>
}
export type Exceptions = 'accepts' | 'misses'

/** @param text of plugin.json @returns its text with the settings of the hook changed; keywords that are not named here stay */
function withSettings(text: string, hook: string, change: (settings: HookSettings) => HookSettings): string {
  const file = JSON.parse(text) as { hooks?: Record<string, HookSettings> }
  const settings = change(file.hooks?.[hook] ?? {})
  const { [hook]: _, ...others } = file.hooks ?? {}
  const hooks = Object.keys(settings).length > 0 ? { ...file.hooks, [hook]: settings } : others
  const { hooks: _hooks, ...rest } = file
  return `${JSON.stringify(Object.keys(hooks).length > 0 ? { ...rest, hooks } : rest, null, 2)}\n`
}

export const withState = (text: string, hook: string, state: HookState): string =>
  withSettings(text, hook, ({ pilot: _, off: _off, ...others }) => ({
    ...others,
    ...(state.state === 'pilot' ? { pilot: [...state.users] } : state.state === 'off' ? { off: true } : {}),
  }))

/** @param reason null removes the exception */
export const withException = (text: string, hook: string, kind: Exceptions, name: string, reason: string | null): string =>
  withSettings(text, hook, (settings) => {
    const { [name]: _, ...others } = settings[kind] ?? {}
    const all = reason === null ? others : { ...settings[kind], [name]: reason }
    const { [kind]: _kind, ...rest } = settings
    return Object.keys(all).length > 0 ? { ...rest, [kind]: all } : rest
  })
