import { z } from 'zod'
import { route } from '../route.js'
import { jobInfo } from '../shapes/jobs.js'
import { knownProofs } from '../shapes/proofs.js'
import { anyName, files } from '../shapes/values.js'

/** What is proved of the code: each part is measured as a job, and kept until the code or a test changes. */

/** Only these hooks; default: all. */
const hooks = z.array(anyName).max(1000).optional()

export const proofRoutes = {
  knownProofs: route({
    method: 'POST',
    path: '/proofs/known',
    summary: 'What was measured of the code as it stands, with drafts; nothing that was measured on other code.',
    body: z.strictObject({ drafts: files.optional() }),
    answer: knownProofs,
  }),
  proveFindings: route({
    method: 'POST',
    path: '/proofs/findings',
    summary: 'Begins to look through the code for errors of types and known traps, as a job.',
    body: z.strictObject({ drafts: files.optional() }),
    answer: jobInfo,
    status: 202,
  }),
  proveCoverage: route({
    method: 'POST',
    path: '/proofs/coverage',
    summary: 'Runs all unit tests as a job and reports statement and branch coverage.',
    body: z.strictObject({ drafts: files.optional() }),
    answer: jobInfo,
    status: 202,
  }),
  proveMutants: route({
    method: 'POST',
    path: '/proofs/mutation',
    summary: 'Runs mutations of hooks against the unit tests as a job.',
    body: z.strictObject({ drafts: files.optional(), hooks }),
    answer: jobInfo,
    status: 202,
  }),
  proveBulk: route({
    method: 'POST',
    path: '/proofs/bulk',
    summary: 'Begins the bulk proof of hooks, and of the whole save path of tables, as a job.',
    body: z.strictObject({ drafts: files.optional(), hooks, seed: z.number().int().nonnegative().max(0x7fffffff).optional() }),
    answer: jobInfo,
    status: 202,
  }),
}
