import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, hook, integer, text } from '../../../core/test/world.js'
import { App } from '../app.js'
import { ALL, CHANGING, ENDLESS, NAMING, NATIVE, REACHING, THROWN, VALUES, type Hostile } from './cases.js'

/**
 * Hostile hooks that are live, in the real server: each save is answered with an error that names hook and line, nothing of it is
 * kept, and the next save goes through.
 */

const STALL = 1000
const hooks = Object.fromEntries(
  ALL.map(({ name, each }) => [
    name,
    hook(
      `{ table: 'item', moment: 'before-save', only: row => row.now.name === '${name}',\n  each(row: any, _: unknown, context: any) {\n    ${each}\n  },\n}`,
    ),
  ]),
)
const files = () => Object.fromEntries(filesOf({ tables: { item: { fields: { name: text, qty: integer } } }, hooks }))

let app: App
beforeAll(async () => {
  app = await App.start({ files, limits: { stallMs: STALL, memoryMb: 256 } })
})
afterAll(() => app.end())

async function expectHeld({ name, code, message, line = 4, gives }: Hostile): Promise<void> {
  const before = (await app.ask<{ total: number }>('GET', '/tables/item/records')).body.total
  const { status, body } = await app.save({ table: 'item', values: { name } })
  if (code === null) {
    expect({ status, name: (body.records[0] as unknown as { name: string }).name }).toEqual({ status: 201, name: gives })
  } else {
    const { error } = body
    expect(error?.code).toMatch(code instanceof RegExp ? code : new RegExp(`^${code}$`))
    expect(error).toMatchObject({ hook: name, file: `plugins/p/hooks/${name}.ts` })
    if (message) expect(error!.message).toMatch(message)
    if (line !== null) expect(error!.line).toBe(line)
    expect(JSON.stringify(error)).not.toMatch(/node_modules|\/work\/|\.js:\d/)
    expect([400, 422]).toContain(status)
    const { total } = (await app.ask<{ total: number }>('GET', '/tables/item/records')).body
    expect(total).toBe(before)
  }
  // The next save goes through.
  expect((await app.save({ table: 'item', values: { name: 'fine' } })).status).toBe(201)
}

describe.each([
  ['loops without end', ENDLESS],
  ['native calls that do not look up', NATIVE],
  ['reaching out', REACHING],
  ['naming what the engine needs', NAMING],
  ['changing what is handed out', CHANGING],
  ['thrown things', THROWN],
  ['values and texts', VALUES],
])('%s', (_, cases) => {
  test.each(cases.map((each) => [each.name, each] as const))('%s', async (_name, hostile) => expectHeld(hostile))
})

test('there are a hundred of them, each with its own name', () => {
  expect(new Set(ALL.map((each) => each.name)).size).toBe(ALL.length)
  expect(ALL.length).toBeGreaterThanOrEqual(100)
})
