import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { CoveredFile, Job, JobInfo, KnownProofs, ProofPart } from '@patient-hook/contract'
import { readFolder } from '@patient-hook/core'
import { App } from './app.js'

/** What was measured of the code is known for as long as the code is the same: after a reload, and after a new start. */

const folder = mkdtempSync(join(tmpdir(), 'patient-hook-proofs-'))
const demo = Object.fromEntries(readFolder(join(import.meta.dirname, '../../../demo')))
let app: App
beforeAll(async () => {
  app = await App.start({ files: () => demo, dataFolder: folder })
})
afterAll(async () => {
  await app.end()
  rmSync(folder, { recursive: true, force: true })
})

const known = async (drafts: Record<string, string> = {}) =>
  (await app.ask<KnownProofs>('POST', '/proofs/known', { drafts })).body

/** Measures a part to its end. */
async function measure(part: ProofPart, body: object = {}): Promise<Job> {
  const { body: begun } = await app.ask<JobInfo>('POST', `/proofs/${part}`, body)
  const events = await fetch(`${app.base}/api/jobs/${begun.id}/events`, { headers: { cookie: app.cookie } })
  // The stream ends with the job.
  await events.text()
  return (await app.ask<Job>('GET', `/jobs/${begun.id}`)).body
}

const MASS = 'plugins/vault/hooks/lot-mass.ts'
const other = { [MASS]: `${demo[MASS]}// another word\n` }

test('nothing is known of code that nothing was measured on', async () => {
  expect(await known()).toMatchObject({ findings: null, coverage: null, mutation: null, bulk: null, stale: [] })
})

test('coverage is known of the code that it was measured on, and of no other', async () => {
  const { job, results } = await measure('coverage')
  expect(job).toMatchObject({ state: 'done', code: (await known()).code })
  const covered = results.flatMap((result) => ('covered' in result ? [result.covered as CoveredFile] : []))
  expect(covered.find(({ hook }) => hook === 'lot-mass')!.statements).toEqual({ covered: 10, total: 10 })
  expect((await known()).coverage).toEqual(results)
  const drafted = await known(other)
  expect(drafted).toMatchObject({ coverage: null, stale: ['coverage'] })
  expect(drafted.code).not.toBe((await known()).code)
})

test('a hook that is proved alone leaves what is known of the others', async () => {
  await measure('bulk', { hooks: ['lot-mass'] })
  await measure('bulk', { hooks: ['lot-copied'] })
  const hooks = new Set((await known()).bulk!.map(({ hook }) => hook))
  expect(hooks).toEqual(new Set(['lot-mass', 'lot-copied']))
})

test('findings of the code, and of drafts', async () => {
  await measure('findings')
  expect((await known()).findings).toEqual([])
  const wrong = { [MASS]: demo[MASS]!.replace("watch: ['", "watch: ['no_such_field', '") }
  await measure('findings', { drafts: wrong })
  expect((await known(wrong)).findings).toContainEqual(
    expect.objectContaining({ hook: 'lot-mass', file: MASS, severity: 'error' }),
  )
  expect((await known()).findings).toBeNull()
})

test('work that was stopped half way is not kept', async () => {
  const { body: begun } = await app.ask<JobInfo>('POST', '/proofs/mutation', { hooks: ['lot-from-collection'] })
  await app.ask('DELETE', `/jobs/${begun.id}`)
  const events = await fetch(`${app.base}/api/jobs/${begun.id}/events`, { headers: { cookie: app.cookie } })
  await events.text()
  expect((await app.ask<Job>('GET', `/jobs/${begun.id}`)).body.job.state).toBe('cancelled')
  expect((await known()).mutation).toBeNull()
})

test('a new start knows it; a damaged file is as one that is not there, and is written again', async () => {
  const before = await known()
  await app.end(true)
  writeFileSync(join(folder, 'proofs', 'bulk.json'), readFileSync(join(folder, 'proofs', 'bulk.json')).subarray(0, 100))
  app = await App.start({ files: () => demo, dataFolder: folder })
  const after = await known()
  expect(after.coverage).toEqual(before.coverage)
  expect(after.bulk).toBeNull()
  await measure('bulk', { hooks: ['lot-copied'] })
  expect((await known()).bulk).not.toBeNull()
})
