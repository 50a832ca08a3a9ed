import { Router } from 'express'
import { ROUTES } from '@patient-hook/contract'
import { hintFor, HookError, isCode, type Application } from '@patient-hook/core'
import { serve, serveEvents, type ServeOptions } from '../serve.js'
import type { Announcements } from '../services/announcements.js'
import type { Link } from '../services/link.js'
import { Revisions } from '../services/revisions.js'

/** The project and its files: tables, hooks, tests. */
export function projectRoutes(
  { live }: Application,
  announcements: Announcements,
  link: Link | null,
  options: ServeOptions,
): Router {
  const router = Router()
  const revisions = new Revisions(live)
  serve(router, ROUTES.project, options, async () => live.info)
  serve(router, ROUTES.declarations, options, async () => ({ text: await live.call('declarations') }))
  serve(router, ROUTES.code, options, async ({ query: { since } }) => {
    const { revision } = live.info
    const changed = since === undefined ? null : revisions.filesSince(since)
    const paths = [...(changed ?? live.files.keys())].filter(isCode)
    return {
      revision,
      partial: changed !== null,
      files: Object.fromEntries(paths.map((path) => [path, live.files.get(path) ?? null])),
    }
  })
  serve(router, ROUTES.file, options, async ({ query: { path } }) => {
    const text = live.files.get(path)
    if (text === undefined) throw new HookError('project/missing-file', { file: path })
    return { path, text }
  })
  serve(router, ROUTES.pluginFiles, options, async ({ params: { plugin } }) => {
    const files = Object.fromEntries([...live.files].filter(([path]) => path.startsWith(`plugins/${plugin}/`)))
    if (Object.keys(files).length === 0)
      throw new HookError('release/no-plugin', {
        plugin,
        hint: hintFor(
          plugin,
          live.info.plugins.map(({ name }) => name),
        ),
      })
    return { files }
  })
  serveEvents(router, ROUTES.projectEvents, (_, send) => announcements.watch(send))
  serve(router, ROUTES.resolveConflict, options, async ({ body: { file, take } }) => {
    if (!link) throw new HookError('request/bad', { detail: 'no folder is linked: start with serve DIR --link' })
    await link.resolve(file, take)
    return link.state
  })
  serve(router, ROUTES.putFiles, options, async ({ body: { files, from } }) => {
    if (Object.keys(files).some((file) => file.startsWith('tables/')))
      throw new HookError('request/bad', { detail: 'tables are changed in the Model view' })
    return live.putFiles(files, from)
  })
  return router
}
