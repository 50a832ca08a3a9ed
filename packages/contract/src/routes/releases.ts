import { z } from 'zod'
import { route } from '../route.js'
import { jobInfo } from '../shapes/jobs.js'
import { hookHour, releaseInfo, releaseOverview, versionPart } from '../shapes/releases.js'
import { anyName, files } from '../shapes/values.js'

/** Releases: from the working copy to live, to some users first, and back in one step. */

const plugin = anyName
/** Released together with it: what moves from one plugin to another is never in both, nor in none. */
const others = z.array(anyName).max(100).default([])
/** Which part of the version goes up. */
const part = versionPart.default('patch')
/** Who does it; default: the project's first user. */
const user = anyName.optional()
const text = z.string().max(2000)
const users = z.array(anyName).max(1000)
const id = z.coerce.number().int().positive()

export const releaseRoutes = {
  releases: route({
    method: 'GET',
    path: '/releases',
    summary: 'Releases of every plugin, what the working copy has beside them, and how their hooks are doing.',
    answer: releaseOverview,
  }),
  releaseFiles: route({
    method: 'GET',
    path: '/releases/:id/files',
    summary: 'The text of a release.',
    params: z.object({ id }),
    answer: z.object({ files }),
  }),
  lookAtGate: route({
    method: 'POST',
    path: '/releases/gate',
    summary: 'Begins to look at what stands between the working copy of a plugin and its release, as a job. Nothing is released.',
    body: z.strictObject({ plugin, with: others, part }),
    answer: jobInfo,
    status: 202,
  }),
  release: route({
    method: 'POST',
    path: '/releases',
    summary:
      'Begins to release the working copy of a plugin, as a job: the gate, unless it was looked at for this text already, and the release when it holds or a reason is given.',
    body: z.strictObject({
      plugin,
      with: others,
      part,
      note: text.default(''),
      user,
      /** Null: everyone. */
      pilots: users.min(1).nullable().default(null),
      /** Why it is released although the gate does not hold. */
      reason: text.min(1).nullable().default(null),
      /** Names the text that somebody has looked at: another one is not released. */
      stamp: z.string().max(100).optional(),
      /** The gate is not looked at; a reason is needed. */
      withoutGate: z.boolean().default(false),
    }),
    answer: jobInfo,
    status: 202,
  }),
  setAudience: route({
    method: 'PUT',
    path: '/releases/:id/audience',
    summary: 'Releases a pilot to everyone (null), changes its users, or ends it (none); from the next save on.',
    params: z.object({ id }),
    body: z.strictObject({ users: users.nullable(), user }),
    answer: releaseInfo,
  }),
  stepBack: route({
    method: 'POST',
    path: '/releases/back',
    summary: 'Releases the text of an earlier version again, to everyone, from the next save on; default: the one before.',
    body: z.strictObject({ plugin, to: id.optional(), user }),
    answer: releaseInfo,
  }),
  switchHook: route({
    method: 'PUT',
    path: '/hooks/:hook/switch',
    summary: 'Switches a hook off or on, from the next save on; null: as its release says.',
    params: z.object({ hook: anyName }),
    body: z.strictObject({ state: z.enum(['on', 'off']).nullable(), user }),
    answer: releaseOverview,
  }),
  hookHours: route({
    method: 'GET',
    path: '/hooks/:hook/hours',
    summary: 'What a hook did on saves, hour by hour and version by version.',
    params: z.object({ hook: anyName }),
    query: z.object({ hours: z.coerce.number().int().min(1).max(2160).default(24) }),
    answer: z.object({ hours: z.array(hookHour) }),
  }),
}
