import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { OutboxMessage } from '@patient-hook/contract'
import { startServer } from '@patient-hook/server'
import { expect, test } from 'vitest'
import { filesOf, hook, text } from '../../core/test/world.js'

const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text } } },
      hooks: {
        tell: hook(`{ table: 'item', moment: 'after-save', each(row, _, { send }) { send('mail', { name: row.now.name }) } }`),
        no: hook(`{ table: 'item', moment: 'before-commit', each(row) { if (row.now.name === 'no') row.refuse('name', 'no') } }`),
      },
    }),
  )

test('messages go out after the commit, in order, again when the service failed; never for what was refused', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'outbox-'))
  const got: OutboxMessage[] = []
  let fail = 2
  let arrived: () => void = () => {}
  const service = {
    async deliver(message: OutboxMessage) {
      if (fail-- > 0) throw new Error('the service is away')
      got.push(message)
      arrived()
    },
  }
  const options = { files, dataFolder: folder, port: 0, fresh: false, service }
  const server = await startServer(options)
  const save = (name: string) => server.application.live.save([{ table: 'item', values: { name } }])
  const three = new Promise<void>((done) => (arrived = () => got.length === 3 && done()))
  await save('a')
  await save('no')
  await save('b')
  await save('c')
  // Somebody else's save wakes the delivery too: here the server is asked through its own address.
  const enter = await fetch(server.url, { redirect: 'manual' })
  const cookie = enter.headers.get('set-cookie')!.split(';')[0]!
  const response = await fetch(`http://127.0.0.1:${server.port}/api/saves`, {
    method: 'POST',
    headers: { cookie, 'content-type': 'application/json' },
    body: JSON.stringify({ rows: [{ table: 'item', values: { name: 'd' } }] }),
  })
  expect(response.status).toBe(201)
  await three
  const last = new Promise<void>((done) => (arrived = () => got.length === 4 && done()))
  if (got.length < 4) await last
  expect(got.map((each) => (each.payload as { name: string }).name)).toEqual(['a', 'b', 'c', 'd'])
  expect(new Set(got.map((each) => each.save)).size).toBe(4)
  await server.close()
  // Nothing is left for the next start.
  const next = await startServer(options)
  const { messages } = await next.application.reader.read('outbox', 0, 10)
  expect(messages.map((each) => each.delivered !== null)).toEqual([true, true, true, true])
  expect(messages.at(-1)!.tries).toBe(3)
  await next.close()
  rmSync(folder, { recursive: true, force: true })
})
