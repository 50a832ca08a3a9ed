import type { SheetRequest } from '@patient-hook/contract'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, hook, integer, text } from '../../core/test/world.js'
import { App, type Answer } from './app.js'

/** What is tried never touches what is live: drafts that hang or eat memory, beside saves that go on. */

const file = 'plugins/p/hooks/h.ts'
const good = hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.name = (row.now.name ?? '').trim() } }`)
const draft = (body: string) => hook(`{ table: 'item', moment: 'before-save',\n  each(row) {\n    ${body}\n  } }`)
const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text, qty: integer } } },
      hooks: { h: good },
      fixtures: {
        base: {
          item: [
            { id: 1, name: 'a' },
            { id: 2, name: 'b' },
          ],
        },
      },
      tests: {
        slow: `import { test, expect } from 'patient-hook/test'\ntest('loops', () => { for (;;) ; })\ntest('passes', () => { expect(1).toBe(1) })`,
        good: `import { test, expect } from 'patient-hook/test'\ntest('saves', { fixtures: 'base' }, ({ save }) => { expect(save('item', { name: ' x ' }).name).toBe('x') })`,
      },
    }),
  )

let app: App
beforeAll(async () => {
  app = await App.start({ files, limits: { stallMs: 1000, memoryMb: 256 } })
  await app.save({ table: 'item', values: { name: 'one' } })
})
afterAll(() => app.end())

const sheet = (
  body: string | null,
  ground: 'fixtures' | 'records',
  signal?: AbortSignal,
): Promise<Answer<{ rows: unknown[]; error: unknown }>> =>
  app.ask(
    'POST',
    '/sheet',
    {
      table: 'item',
      event: 'create',
      ...(ground === 'fixtures' ? { fixtures: 'base' } : {}),
      ...(body === null ? {} : { drafts: { [file]: draft(body) } }),
    } satisfies SheetRequest & { fixtures?: string; drafts?: object },
    { signal },
  )

const DRAFTS = {
  loops: { body: `for (;;) ;`, code: 'budget/spent' },
  backtracks: { body: `/^(a+)+$/.test('a'.repeat(40) + '!')`, code: 'budget/stopped' },
  'fills the memory': {
    body: `const all: unknown[] = []; for (;;) all.push(new Array(1e5).fill(all.length))`,
    code: /^budget\/(memory|stopped|spent)$/,
  },
  'ends the process': { body: `new Array(1e9).fill(0)`, code: /^budget\/(memory|stopped)$/ },
}

describe.each(['fixtures', 'records'] as const)('on %s', (ground) => {
  test.each(Object.entries(DRAFTS))(
    'a draft that %s: 200 saves beside it all succeed, and the sheet names hook, file and line',
    async (_, { body, code }) => {
      await sheet(null, ground)
      const tried = sheet(body, ground)
      const saves: Answer[] = []
      for (let i = 0; i < 50; i++)
        saves.push(...(await Promise.all([0, 1, 2, 3].map((n) => app.save({ table: 'item', values: { name: ` ${i}.${n} ` } })))))
      const answer = await tried
      expect(saves.map((each) => each.status)).toEqual(Array(200).fill(201))
      const error = (answer.body.error ?? {}) as { code: string }
      expect(error.code).toMatch(code)
      expect(error).toMatchObject({ hook: 'h', file, line: 4 })
      const next = await sheet(null, ground)
      expect(next.status).toBe(200)
      expect(next.body.rows.length).toBeGreaterThan(0)
    },
  )
})

test('closing the page or typing on ends what was computing: more abandoned sheets than engines, and the next is answered', async () => {
  const gone = Array.from({ length: 6 }, async () => {
    const controller = new AbortController()
    const asked = sheet(DRAFTS.backtracks.body, 'fixtures', controller.signal)
    setImmediate(() => controller.abort())
    await expect(asked).rejects.toThrow()
  })
  await Promise.all(gone)
  const { status, body } = await sheet(null, 'fixtures')
  expect(status).toBe(200)
  expect(body.rows).toHaveLength(2)
})

test('nothing that is tried is kept', async () => {
  const before = await app.ask<{ total: number }>('GET', '/tables/item/records')
  await sheet(null, 'records')
  await app.ask('POST', '/rehearsals', { rows: [{ table: 'item', values: { name: 'tried' } }] })
  const after = await app.ask<{ total: number }>('GET', '/tables/item/records')
  expect(after.body.total).toBe(before.body.total)
})

test('what is tried on the records sees what was saved now', async () => {
  const { body } = await app.save({ table: 'item', values: { name: 'fresh' } })
  const id = body.records[0]!.id
  const tried = await app.ask<{ rows: { was: { name: string } }[] }>('POST', '/rehearsals', {
    rows: [{ table: 'item', values: { id, name: 'other' } }],
  })
  expect(tried.body.rows[0]!.was.name).toBe('fresh')
})

interface Run {
  job: { id: string; state: string; progress: { done: number; total: number } }
  results: { name: string; status: string }[]
}

/** Reads the events of a job to the end. */
async function watched(id: string): Promise<{ event: string }[]> {
  const response = await fetch(`${app.base}/api/jobs/${id}/events`, { headers: { cookie: app.cookie } })
  const reader = response.body!.getReader()
  let text = ''
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    text += Buffer.from(part.value).toString()
    if (text.includes('"event":"end"')) break
  }
  await reader.cancel()
  return text
    .split('\n\n')
    .filter(Boolean)
    .map((each) => JSON.parse(each.replace(/^data: /, '')) as { event: string })
}

describe('unit tests as jobs', () => {
  test('two runs at once each give all their results, one that hangs among them; progress is reported on the way', async () => {
    const begun = await Promise.all([0, 1].map(() => app.ask<Run['job']>('POST', '/tests', {})))
    expect(begun.map((each) => each.status)).toEqual([202, 202])
    const events = await Promise.all(begun.map((each) => watched(each.body.id)))
    for (const [index, told] of events.entries()) {
      expect(told[0]!.event).toBe('state')
      expect(told.at(-1)).toMatchObject({ event: 'end', job: { state: 'done', progress: { done: 2, total: 2 } } })
      const { results } = (await app.ask<Run>('GET', `/jobs/${begun[index]!.body.id}`)).body
      expect(results.map(({ name, status }) => [name, status]).sort()).toEqual([
        ['loops', 'failed'],
        ['passes', 'passed'],
        ['saves', 'passed'],
      ])
    }
    const { jobs } = (await app.ask<{ jobs: { id: string }[] }>('GET', '/jobs')).body
    for (const each of begun) expect(jobs.map((job) => job.id)).toContain(each.body.id)
  })

  test('a run can be stopped, and what it had found stays', async () => {
    const { body } = await app.ask<Run['job']>('POST', '/tests', {})
    expect((await app.ask('DELETE', `/jobs/${body.id}`)).status).toBe(200)
    const told = await watched(body.id)
    expect(told.at(-1)).toMatchObject({ event: 'end', job: { state: 'cancelled' } })
    expect((await app.ask('GET', '/jobs/none')).body.error).toMatchObject({ code: 'job/unknown' })
    // Live work never waited for it.
    expect((await app.save({ table: 'item', values: { name: 'x' } })).status).toBe(201)
  })
})
