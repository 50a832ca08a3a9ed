import type { HookState } from '@patient-hook/contract'
import { textRevision } from '@patient-hook/contract/text-revision'
import { defineStore } from 'pinia'
import { api } from '../lib/api'
import { useAttempt } from '../lib/use-attempt'
import { withException, withState, type Exceptions } from '../lib/plugin-settings'
import { useHooks } from './hooks'
import { useNotices } from './notices'
import { useProject } from './project'

/** Changes of plugin.json that are saved at once: who a hook is live for, and accepted exceptions. Each can be undone. */
export const usePluginSettings = defineStore('plugin-settings', () => {
  const project = useProject()
  const hooks = useHooks()
  const notices = useNotices()
  const { error, busy, attempt } = useAttempt()

  async function put(path: string, before: string, text: string): Promise<void> {
    await project.take(await api.putFiles({ [path]: text }, { [path]: textRevision(before) }))
  }
  const change = (hook: string, edit: (text: string) => string, said: string): Promise<unknown> =>
    attempt(async () => {
      const path = `plugins/${hooks.hook(hook)!.plugin}/plugin.json`
      const before = (await api.file(path)).text
      const text = edit(before)
      await put(path, before, text)
      notices.say(said, () => void attempt(() => put(path, text, before)))
    })
  const setState = (hook: string, state: HookState) =>
    change(hook, (text) => withState(text, hook, state), `Changed who ${hook} is live for from the next release`)
  const except = (hook: string, kind: Exceptions, name: string, reason: string | null) =>
    change(
      hook,
      (text) => withException(text, hook, kind, name, reason),
      reason === null ? `Removed the exception for ${name}` : `Accepted ${name} of ${hook}`,
    )
  return { error, busy, setState, except }
})
