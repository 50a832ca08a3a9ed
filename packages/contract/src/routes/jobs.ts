import { z } from 'zod'
import { route } from '../route.js'
import { job, jobEvent, jobInfo } from '../shapes/jobs.js'
import { MOST_REPLAYED } from '../shapes/replays.js'
import { files } from '../shapes/values.js'
import { projectPath } from './project.js'

/** Long work: begun, listed, watched, stopped. */

const one = z.object({ id: z.string().max(40) })

export const jobRoutes = {
  runTests: route({
    method: 'POST',
    path: '/tests',
    summary: 'Begins a run of unit tests as a job.',
    body: z.strictObject({
      drafts: files.optional(),
      /** Only these test files. */
      only: z.array(projectPath).max(5000).optional(),
      /** Only tests that a change of these files may make come out otherwise. */
      changed: z.array(projectPath).max(5000).optional(),
      /** Only tests of which file or name contain it. */
      filter: z.string().max(500).optional(),
    }),
    answer: jobInfo,
    status: 202,
  }),
  replay: route({
    method: 'POST',
    path: '/replays',
    summary: 'Replays the last saves with the working copy as a job. No changes are saved.',
    body: z.strictObject({ last: z.number().int().min(1).max(MOST_REPLAYED), drafts: files.optional() }),
    answer: jobInfo,
    status: 202,
  }),
  jobs: route({
    method: 'GET',
    path: '/jobs',
    summary: 'The jobs that run, and the last that ended, newest first.',
    answer: z.object({ jobs: z.array(jobInfo) }),
  }),
  job: route({
    method: 'GET',
    path: '/jobs/:id',
    summary: 'A job with its results so far.',
    params: one,
    answer: job,
  }),
  cancelJob: route({
    method: 'DELETE',
    path: '/jobs/:id',
    summary: 'Stops a job; what it had found stays.',
    params: one,
    answer: jobInfo,
  }),
  watchJob: route({
    method: 'GET',
    path: '/jobs/:id/events',
    summary: 'Server-sent events of a job.',
    params: one,
    answer: jobEvent,
    events: true,
  }),
}
