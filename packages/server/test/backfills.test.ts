import type { BackfillInfo, BackfillLeft, Job, JobInfo } from '@patient-hook/contract'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { filesOf, hook, integer, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Backfills of a running application: planned, watched, held, resumed, ended, failed, undone. */

const ROWS = 3000
const slow = `let sum = 0; for (let i = 0; i < 4000; i++) sum += i; row.now.sum = sum`
const files = () =>
  Object.fromEntries([
    ...filesOf({
      tables: { item: { fields: { name: text, sum: integer, note: text } } },
      project: { users: ['ada', 'bram'] },
      hooks: {
        sum: hook(`{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { ${slow} } }`),
        hang: hook(`{ table: 'item', moment: 'before-save', watch: ['note'],
          each(row) { if (row.now.note === 'hang') while (true) /^(a+)+$/.test('aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaab') } }`),
      },
    }),
    ['data/item.csv', `id,name\n${Array.from({ length: ROWS }, (_, index) => `${index + 1},n${index + 1}`).join('\n')}\n`],
  ])

let app: App
beforeEach(async () => {
  app = await App.start({ files, limits: { stallMs: 1000, memoryMb: 384 } })
})
afterEach(() => app.end())

interface Going {
  backfill: BackfillInfo
  job: string | null
  left: BackfillLeft[]
}
const begin = async (wish: object) => (await app.ask<Going>('POST', '/backfills', { table: 'item', ...wish })).body
const state = async (id: number, state: string) => app.ask<Going>('POST', `/backfills/${id}/state`, { state })
const get = async (id: number) => (await app.ask<Going>('GET', `/backfills/${id}`)).body
async function ended(id: string): Promise<Job> {
  const answer = await fetch(`${app.base}/api/jobs/${id}/events`, { headers: { cookie: app.cookie } })
  await answer.text()
  return (await app.ask<Job>('GET', `/jobs/${id}`)).body
}

test('a plan is its own job; a wrong wish is reported before', async () => {
  const { body } = await app.ask<JobInfo>('POST', '/backfills/plan', { table: 'item', hooks: ['sum'], sample: 100 })
  const { results, job } = await ended(body.id)
  expect(job.state).toBe('done')
  expect(results).toMatchObject([{ plan: { total: ROWS, tried: 100, figures: { changed: 100, fields: { sum: 100 } } } }])
  const { status, body: wrong } = await app.ask('POST', '/backfills', { table: 'item', hooks: ['som'] })
  expect([status, wrong.error!.code]).toEqual([400, 'backfill/bad'])
  expect((await app.ask<{ backfills: unknown[] }>('GET', '/backfills')).body.backfills).toEqual([])
})

test('it is paused, others save meanwhile, it goes on, and is taken back', async () => {
  const { backfill, job } = await begin({ hooks: ['sum'], user: 'bram' })
  const { body: paused } = await state(backfill.id, 'paused')
  await ended(job!)
  const held = await get(backfill.id)
  expect(paused.backfill.state).toBe('paused')
  expect(held).toMatchObject({ job: null, backfill: { state: 'paused', user: 'bram' } })
  expect(held.backfill.done).toBeLessThan(ROWS)
  expect((await app.save({ table: 'item', id: ROWS, values: { name: 'mine' } })).body).toMatchObject({ kept: true })
  const { body: on } = await state(backfill.id, 'running')
  const end = await ended(on.job!)
  expect(end.results).toMatchObject([{ state: 'done', total: ROWS, done: ROWS, figures: { changed: ROWS - 1 } }])
  const undo = (await app.ask<Going>('POST', `/backfills/${backfill.id}/undo`, {})).body
  await ended(undo.job!)
  expect((await get(undo.backfill.id)).backfill).toMatchObject({ state: 'done', undoes: backfill.id, figures: { left: 0 } })
  const { body } = await app.ask<{ total: number }>('GET', `/tables/item/records?where={"sum":{"empty":false}}`)
  // Somebody's own save set one.
  expect(body.total).toBe(1)
  expect((await app.ask('POST', `/backfills/${backfill.id}/undo`, {})).body.error).toMatchObject({ code: 'backfill/state' })
})

test('ended half way it stays so, and what it did is taken back', async () => {
  const { backfill, job } = await begin({ set: { note: 'x' } })
  await state(backfill.id, 'cancelled')
  await ended(job!)
  const { backfill: cut } = await get(backfill.id)
  expect(cut).toMatchObject({ state: 'cancelled', figures: { changed: cut.done } })
  expect((await state(backfill.id, 'running')).body.error).toMatchObject({ code: 'backfill/state' })
  const undo = (await app.ask<Going>('POST', `/backfills/${backfill.id}/undo`, {})).body
  if (undo.job) await ended(undo.job)
  const { body } = await app.ask<{ total: number }>('GET', `/tables/item/records?where={"note":{"empty":false}}`)
  expect(body.total).toBe(0)
})

test('a hook that hangs fails it with the hook’s name, where it was; what came before stands', async () => {
  await app.server.application.live.call('load', { item: [{ id: ROWS + 1, name: 'last', sum: null, note: 'hang' }] as never })
  const { backfill, job } = await begin({ hooks: ['sum', 'hang'], order: ['id'] })
  const { job: info } = await ended(job!)
  expect(info.state).toBe('failed')
  const { backfill: failed } = await get(backfill.id)
  expect(failed).toMatchObject({ state: 'failed', failure: { hook: 'hang', file: 'plugins/p/hooks/hang.ts' } })
  expect(failed.figures.changed).toBe(failed.done)
  expect(failed.done).toBeGreaterThan(ROWS / 2)
}, 60_000)

test('stopping its job pauses it', async () => {
  const { backfill, job } = await begin({ hooks: ['sum'] })
  await app.ask('DELETE', `/jobs/${job}`)
  await ended(job!)
  expect((await get(backfill.id)).backfill.state).toBe('paused')
})
