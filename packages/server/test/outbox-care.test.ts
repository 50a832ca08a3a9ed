import type { OutboxMessage, OutboxPage } from '@patient-hook/contract'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { filesOf, hook, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Messages that cannot be delivered: told with why and when they are tried again; tried at once, or given up. */

const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text } } },
      hooks: {
        tell: hook(`{ table: 'item', moment: 'after-save', each(row, _, { send }) { send('mail', { name: row.now.name }) } }`),
      },
    }),
  )

let app: App
let bad: Set<string>
const got: string[] = []
beforeEach(async () => {
  bad = new Set(['b'])
  got.length = 0
  const service = {
    async deliver({ payload }: OutboxMessage) {
      const { name } = payload as { name: string }
      if (bad.has(name)) throw new Error(`nobody is called ${name}`)
      got.push(name)
    },
  }
  app = await App.start({ files, service })
  for (const name of ['a', 'b', 'c']) await app.save({ table: 'item', values: { name } })
})
afterEach(() => app.end())

const outbox = async (query = '') => (await app.ask<OutboxPage>('GET', `/outbox${query}`)).body
async function until(holds: (page: OutboxPage) => boolean): Promise<OutboxPage> {
  for (;;) {
    const page = await outbox()
    if (holds(page)) return page
  }
}

test('one that fails is reported, and stands before those behind it until it is given up', async () => {
  const { messages, counts } = await until(({ counts }) => counts.failed === 1)
  expect(counts).toEqual({ waiting: 2, failed: 1, delivered: 1, 'given-up': 0 })
  const failed = messages.find(({ failure }) => failure !== null)!
  expect(failed).toMatchObject({ failure: 'nobody is called b', delivered: null, given_up: null })
  expect(Date.parse(failed.next_try!)).toBeGreaterThan(Date.parse(failed.at))
  const { body } = await app.ask<OutboxMessage>('POST', `/outbox/${failed.id}/give-up`)
  expect(body).toMatchObject({ next_try: null, failure: 'nobody is called b' })
  expect(Date.parse(body.given_up!)).not.toBeNaN()
  const after = await until(({ counts }) => counts.waiting === 0)
  expect(after.counts).toEqual({ waiting: 0, failed: 0, delivered: 2, 'given-up': 1 })
  expect(got).toEqual(['a', 'c'])
  expect((await outbox('?only=given-up')).messages.map(({ id }) => id)).toEqual([failed.id])
  // It may be tried all the same, once there is somebody of that name.
  bad.clear()
  expect((await app.ask('POST', `/outbox/${failed.id}/retry`)).status).toBe(200)
  await until(({ counts }) => counts.delivered === 3)
  expect(got).toEqual(['a', 'c', 'b'])
})

test('a try that is asked for does not wait', async () => {
  const { messages } = await until(({ messages }) => messages.some(({ tries }) => tries >= 2))
  bad.clear()
  const failed = messages.find(({ failure }) => failure !== null)!
  await app.ask('POST', `/outbox/${failed.id}/retry`)
  await until(({ counts }) => counts.delivered === 3)
  expect(got).toEqual(['a', 'b', 'c'])
})

test('one that was delivered, or is not there, is left as it is', async () => {
  await until(({ counts }) => counts.delivered === 1)
  for (const way of ['retry', 'give-up']) {
    expect((await app.ask('POST', `/outbox/1/${way}`)).body.error).toMatchObject({ code: 'outbox/bad' })
    expect((await app.ask('POST', `/outbox/77/${way}`)).body.error!.message).toMatch(/no such message/)
  }
})
