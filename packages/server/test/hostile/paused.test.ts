import { afterEach, beforeEach, expect, test } from 'vitest'
import type { ErrorReport, LiveHook } from '@patient-hook/contract'
import { filesOf, hook, integer, text } from '../../../core/test/world.js'
import { App } from '../app.js'

/** A released hook that hangs on every record of its table holds up nobody else, and is paused. */

const STALL = 700
const hang = `/^(a+)+$/.test('a'.repeat(40) + '!')`
const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text, qty: integer } }, other: { fields: { name: text } } },
      hooks: {
        hangs: hook(
          `{ table: 'item', moment: 'before-save', watch: ['name'], each(row) { if (row.now.name !== 'fine') ${hang} } }`,
        ),
      },
      fixtures: { base: { item: [{ id: 1, name: 'x' }] } },
    }),
  )

let app: App
beforeEach(async () => {
  app = await App.start({ files, limits: { stallMs: STALL, memoryMb: 256 } })
})
afterEach(() => app.end())

const item = (name: string) => app.save({ table: 'item', values: { name } })
const other = () => app.save({ table: 'other', values: { name: 'x' } })
const paused = async () =>
  (await app.ask<{ hooks: LiveHook[] }>('GET', '/releases')).body.hooks.find(({ hook }) => hook === 'hangs')!.paused
const errorOf = async (name: string): Promise<ErrorReport & { kept?: boolean }> => (await item(name)).body.error!

test('each answer names it and says that no changes were saved; other tables are saved at once; the fourth is refused at once', async () => {
  for (let stop = 0; stop < 3; stop++) {
    expect(await errorOf('x')).toMatchObject({
      code: 'budget/stopped',
      hook: 'hangs',
      file: 'plugins/p/hooks/hangs.ts',
      kept: false,
    })
    const { status, ms } = await other()
    expect(status).toBe(201)
    expect(ms).toBeLessThan(2500)
  }
  const { status, body, ms } = await item('x')
  expect([status, body.error!.code, body.error!.hook]).toEqual([503, 'hook/paused', 'hangs'])
  expect(ms).toBeLessThan(STALL)
  expect(await paused()).toMatchObject({ stops: 3 })
  // Records that the hook is not woken for are saved.
  expect((await app.save({ table: 'item', values: { qty: 1 } })).status).toBe(201)
})

test('anyone who switches it off does not wait behind the saves that it holds up', async () => {
  const saves = [1, 2, 3, 4].map(() => item('x'))
  const begun = performance.now()
  expect((await app.ask('PUT', '/hooks/hangs/switch', { state: 'off' })).status).toBe(200)
  expect(performance.now() - begun).toBeLessThan(2 * STALL + 2500)
  const codes = (await Promise.all(saves)).map(({ status, body }) => body.error?.code ?? status)
  // The one at work is stopped; those behind it run without the hook.
  expect(codes).toEqual(['budget/stopped', 201, 201, 201])
})

test('a switch, a new release or a step back ends the pause', async () => {
  for (let stop = 0; stop < 3; stop++) await item('x')
  expect(await paused()).not.toBeNull()
  await app.ask('PUT', '/hooks/hangs/switch', { state: 'off' })
  expect(await paused()).toBeNull()
  expect((await item('x')).status).toBe(201)
})
