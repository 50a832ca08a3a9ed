import type { BackfillInfo, BackfillLeft, CsvResult, Job, JobInfo } from '@patient-hook/contract'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { filesOf, hook, integer, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Large CSV files: saved batch by batch, with other saves in between; stopped, resumed after an end of the server, undone. */

const ROWS = 12_000
const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text, qty: { ...integer, minimum: 0 }, note: text } } },
      project: { users: ['ada'] },
      hooks: {
        note: hook(
          `{ table: 'item', moment: 'before-save', each(row) { let sum = 0; for (let i = 0; i < 200; i++) sum += i; row.now.note ??= 'by hook' } }`,
        ),
        tell: hook(
          `{ table: 'item', moment: 'after-save', on: ['create'], only: row => row.now.qty === 7, each(row, _, { send }) { send('desk', { item: row.id }) } }`,
        ),
      },
    }),
  )
const csv = (qty: (at: number) => number, rows = ROWS) =>
  `name,qty\n${Array.from({ length: rows }, (_, at) => `n${at + 1},${qty(at + 1)}`).join('\n')}\n`

let app: App
let folder: string
const start = async () => void (app = await App.start({ files, dataFolder: folder }))
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'csv-large-'))
  await start()
})
afterEach(async () => {
  await app.end(true)
  rmSync(folder, { recursive: true, force: true })
})

const begin = async (rows: string, more: object = {}) =>
  (await app.ask<JobInfo>('POST', '/tables/item/csv', { file: 'stock.csv', text: rows, user: 'ada', ...more })).body
async function ended(id: string): Promise<{ job: JobInfo; result: CsvResult }> {
  await (await fetch(`${app.base}/api/jobs/${id}/events`, { headers: { cookie: app.cookie } })).text()
  const { job, results } = (await app.ask<Job>('GET', `/jobs/${id}`)).body
  return { job, result: results[0] as CsvResult }
}
const backfill = async (id: number) =>
  (await app.ask<{ backfill: BackfillInfo; left: BackfillLeft[]; job: string | null }>('GET', `/backfills/${id}`)).body
const count = async () => (await app.ask<{ total: number }>('GET', '/tables/item/records')).body.total
/** Waits for the job to have saved some rows, and no more than that. */
const some = (id: string) =>
  expect
    .poll(async () => (await app.ask<Job>('GET', `/jobs/${id}`)).body.job.progress.done, { timeout: 60_000, interval: 20 })
    .toBeGreaterThan(0)

test('all rows are saved as if they were typed, and other saves come through', async () => {
  const { id } = await begin(csv((at) => (at === 500 ? 7 : 1)))
  await some(id)
  const saved = await app.save({ table: 'item', values: { name: 'between', qty: 1 } })
  expect(saved.body.kept).toBe(true)
  const during = (await app.ask<Job>('GET', `/jobs/${id}`)).body.job
  const { job, result } = await ended(id)
  expect(during.state).toBe('running')
  expect(job).toMatchObject({ state: 'done', progress: { done: ROWS, total: ROWS } })
  expect(result).toMatchObject({
    rows: ROWS,
    created: ROWS,
    changed: 0,
    same: 0,
    refused: 0,
    error: null,
    messages: 1,
    save: null,
  })
  expect(await count()).toBe(ROWS + 1)
  const { body } = await app.ask<{ records: { note: string }[] }>('GET', '/tables/item/records?where={"name":"n12000"}')
  expect(body.records[0]!.note).toBe('by hook')
})

test('stopped, it says how far it came; it is resumed, and undone whole', async () => {
  const { id } = await begin(csv(() => 1))
  await some(id)
  await app.ask('DELETE', `/jobs/${id}`)
  const { job, result } = await ended(id)
  expect(job.state).toBe('cancelled')
  const far = await count()
  expect(result).toMatchObject({ rows: ROWS, created: far, error: null })
  expect(far).toBeLessThan(ROWS)
  expect((await backfill(result.backfill!)).backfill).toMatchObject({
    state: 'paused',
    done: far,
    wish: { rows: { file: 'stock.csv' } },
  })
  const on = await app.ask<{ job: string }>('POST', `/backfills/${result.backfill}/state`, { state: 'running' })
  await ended(on.body.job)
  expect(await count()).toBe(ROWS)
  const undo = await app.ask<{ job: string; backfill: BackfillInfo }>('POST', `/backfills/${result.backfill}/undo`, {})
  await ended(undo.body.job)
  expect(await count()).toBe(0)
})

test('after an end of the server it goes on where it was', async () => {
  const { id } = await begin(csv(() => 1))
  await some(id)
  await app.end(true)
  await start()
  await expect.poll(count, { timeout: 60_000 }).toBe(ROWS)
  await expect
    .poll(async () => (await app.ask<{ backfills: BackfillInfo[] }>('GET', '/backfills')).body.backfills, { timeout: 60_000 })
    .toMatchObject([{ state: 'done', total: ROWS, figures: { created: ROWS } }])
})

test('rows that are refused, or cannot be read, are left out and named by their number in the file', async () => {
  const rows = csv((at) => (at === 6000 ? -1 : 1)).replace('n11000,1', 'n11000,many')
  const { result } = await ended((await begin(rows, { partial: true })).id)
  expect(result).toMatchObject({ rows: ROWS, created: ROWS - 2, refused: 2, error: null })
  expect(result.refusals.map(({ row }) => row).sort()).toEqual([11000, 6000])
  expect(await count()).toBe(ROWS - 2)
})

test('where all or none is wanted, one refused row keeps all out', async () => {
  const { result } = await ended((await begin(csv((at) => (at === 11_990 ? -1 : 1)))).id)
  expect(result.error).toMatchObject({ row: 11_990, field: 'qty' })
  expect(await count()).toBe(0)
})
