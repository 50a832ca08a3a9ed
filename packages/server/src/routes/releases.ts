import { Router } from 'express'
import { ROUTES, type ReleaseOverview } from '@patient-hook/contract'
import { HookError, type Application, type Candidate, type GateRun } from '@patient-hook/core'
import { serve, type ServeOptions } from '../serve.js'
import { Gates } from '../services/gates.js'
import type { Jobs } from '../services/jobs.js'

const namesOf = ({ plugins }: Candidate) => plugins.map(({ plugin, version }) => `${plugin} ${version}`).join(' and ')

/** Releases: looked at and made as jobs, undone at once. */
export function releaseRoutes({ live }: Application, jobs: Jobs, options: ServeOptions): Router {
  const router = Router()
  const gates = new Gates()
  const who = (user: string | undefined) => user ?? live.info.users[0]?.name ?? 'owner'

  const overview = async (): Promise<ReleaseOverview> => {
    const { hooks, ...others } = await live.call('releaseOverview')
    const paused = new Map(live.fuses.list().map((each) => [each.hook, each]))
    return { ...others, hooks: hooks.map((each) => ({ ...each, paused: paused.get(each.hook) ?? null })) }
  }
  serve(router, ROUTES.releases, options, overview)
  serve(router, ROUTES.releaseFiles, options, async ({ params: { id } }) => ({ files: await live.call('releaseFiles', id) }))
  serve(router, ROUTES.lookAtGate, options, async ({ body: { plugin, part, with: others } }) => {
    const candidate = await live.call('releaseCandidate', [plugin, ...others], part)
    return jobs.begin(
      'release',
      `The gate of ${namesOf(candidate)}`,
      async (job) => {
        await gates.lookAt(candidate, {
          signal: job.signal,
          onResult: (gate) => job.result({ gate }),
          onProgress: (done, total) => job.progress(done, total),
        })
      },
      candidate.stamp,
    )
  })
  serve(router, ROUTES.release, options, async ({ body }) => {
    const { plugin, with: others, part, note, pilots, reason, withoutGate } = body
    if (withoutGate && reason === null)
      throw new HookError('request/bad', { detail: 'withoutGate: give a reason why the gate is not looked at' })
    const plugins = [plugin, ...others]
    const candidate = await live.call('releaseCandidate', plugins, part)
    if (body.stamp !== undefined && body.stamp !== candidate.stamp)
      throw new HookError('release/changed', { plugin: plugins.join(' and ') })
    return jobs.begin(
      'release',
      `Release of ${namesOf(candidate)}`,
      async (job) => {
        const run: GateRun = withoutGate
          ? { gate: [], coverage: {} }
          : await gates.lookAt(candidate, {
              signal: job.signal,
              onResult: (gate) => job.result({ gate }),
              onProgress: (done, total) => job.progress(done, total),
            })
        const { stamp } = candidate
        const releases = await live.release({
          ...run,
          plugins,
          part,
          note,
          reason,
          stamp,
          user: who(body.user),
          audience: pilots,
        })
        for (const released of releases) job.result({ released })
      },
      candidate.stamp,
    )
  })
  serve(router, ROUTES.setAudience, options, async ({ params: { id }, body: { users, user } }) =>
    live.setAudience(id, users, who(user)),
  )
  serve(router, ROUTES.stepBack, options, async ({ body: { plugin, to, user } }) => live.stepBack(plugin, to ?? null, who(user)))
  serve(router, ROUTES.switchHook, options, async ({ params: { hook }, body: { state, user } }) => {
    await live.switchHook(hook, state, who(user))
    return overview()
  })
  serve(router, ROUTES.hookHours, options, async ({ params: { hook }, query: { hours } }) => ({
    hours: await live.call('hookHours', hook, hours),
  }))
  return router
}
