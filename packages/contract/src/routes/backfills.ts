import { z } from 'zod'
import { route } from '../route.js'
import { backfillInfo, backfillLeft, backfillWish } from '../shapes/backfills.js'
import { jobInfo } from '../shapes/jobs.js'
import { user } from '../shapes/values.js'

/** Backfills: planned, begun, watched, held and undone. */

const one = z.object({ id: z.coerce.number().int().positive() })
/** With the job that reports its progress, while it runs. */
const going = z.object({ backfill: backfillInfo, job: z.string().nullable() })

export const backfillRoutes = {
  planBackfill: route({
    method: 'POST',
    path: '/backfills/plan',
    summary: 'Rehearses a backfill as a job on a copy of the records. No changes are saved.',
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
    summary: 'One backfill, and the first records with a problem.',
    params: one,
    answer: going.extend({ left: z.array(backfillLeft) }),
  }),
  holdBackfill: route({
    method: 'POST',
    path: '/backfills/:id/state',
    summary: 'Pauses, resumes or stops a backfill. Batches that are done stay saved.',
    params: one,
    body: z.strictObject({ state: z.enum(['running', 'paused', 'cancelled']) }),
    answer: going,
  }),
  undoBackfill: route({
    method: 'POST',
    path: '/backfills/:id/undo',
    summary: 'Starts the undo of a backfill, except fields that changed since.',
    params: one,
    body: z.strictObject({ user: user.optional() }),
    answer: going,
    status: 202,
  }),
}
