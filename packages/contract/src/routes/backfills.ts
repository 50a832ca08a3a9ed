import { z } from 'zod'
import { route } from '../route.js'
import { backfillInfo, backfillLeft, backfillWish } from '../shapes/backfills.js'
import { jobInfo } from '../shapes/jobs.js'
import { user } from '../shapes/values.js'

/** Backfills: planned, begun, watched, held and taken back. */

const one = z.object({ id: z.coerce.number().int().positive() })
/** With the job that tells its progress, while it runs. */
const going = z.object({ backfill: backfillInfo, job: z.string().nullable() })

export const backfillRoutes = {
  planBackfill: route({
    method: 'POST',
    path: '/backfills/plan',
    summary: 'Begins to rehearse a backfill as a job, on a copy of the records; nothing of it is kept.',
    body: backfillWish.extend({
      user: user.optional(),
      /** Only the first so many records; default: all. */
      sample: z.number().int().min(1).max(Number.MAX_SAFE_INTEGER).optional(),
    }),
    answer: jobInfo,
    status: 202,
  }),
  beginBackfill: route({
    method: 'POST',
    path: '/backfills',
    summary: 'Begins a backfill.',
    body: backfillWish.extend({ user: user.optional() }),
    answer: going,
    status: 202,
  }),
  backfills: route({
    method: 'GET',
    path: '/backfills',
    summary: 'Backfills, newest first.',
    answer: z.object({ backfills: z.array(backfillInfo) }),
  }),
  backfill: route({
    method: 'GET',
    path: '/backfills/:id',
    summary: 'One backfill, and the first records against which something stood.',
    params: one,
    answer: going.extend({ left: z.array(backfillLeft) }),
  }),
  holdBackfill: route({
    method: 'POST',
    path: '/backfills/:id/state',
    summary: 'Pauses a backfill, goes on with it, or ends it; what it has done stays.',
    params: one,
    body: z.strictObject({ state: z.enum(['running', 'paused', 'cancelled']) }),
    answer: going,
  }),
  undoBackfill: route({
    method: 'POST',
    path: '/backfills/:id/undo',
    summary: 'Begins to take back what a backfill changed, but for what was changed since.',
    params: one,
    body: z.strictObject({ user: user.optional() }),
    answer: going,
    status: 202,
  }),
}
