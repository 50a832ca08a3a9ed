import { afterAll, beforeAll, expect, test } from 'vitest'
import { filesOf, hook, integer, link, text } from '../../../core/test/world.js'
import { App } from '../app.js'

/** What hooks hand over never becomes SQL, a key of a cache, or code of ours that they run; in the real server, sealed as it is live. */

const cases: Record<string, { load?: string; each?: string; after?: string; code: string | null }> = {
  'a kind of a roll-up that is another text the second time': {
    load: `const inject = { n: 0, toString() { return this.n++ ? '(SELECT group_concat(hash) FROM ph_key) --' : 'sum' } }
      const sum: any = Object.defineProperty(['qty'], 'map', { value: (f: any) => [f.call(null, 'qty')] }); Object.defineProperty(sum, 'flatMap', { value: () => [{ kind: inject, field: 'qty' }] })
      store.rollup('item', 'parent', [1], { sum, [inject as any]: ['qty'] })`,
    code: null,
  },
  'a roll-up with its own map': {
    load: `const what: any = Object.defineProperty([], 'map', { value: () => [{ kind: 'max', field: 'qty"), (SELECT hash FROM ph_key' }] }); store.rollup('item', 'parent', [1], { max: what })`,
    code: null,
  },
  'a field with a quote': {
    load: `store.rollup('item', 'parent', [1], { max: ['qty") FROM ph_key --'] } as any)`,
    code: 'hook/unknown-field',
  },
  'a list of fields that joins to another': {
    load: `const fields: any = Object.defineProperty(['qty'], 'join', { value: () => '*' }); store.find('item', {}, { fields })`,
    code: null,
  },
  'an effect with values that change': {
    after: `let n = 0; update('item', { get parent() { return n++ ? 'x' : 1 } } as any, { qty: 1 })`,
    code: 'hook/bad-query',
  },
  'a message that runs': { after: `send('mail', { toJSON() { for (;;) ; } })`, code: 'hook/bad-argument' },
  'a text that is none': { each: `row.refuse(null, { toString: () => 'x' } as any)`, code: 'hook/bad-argument' },
}
const names = Object.keys(cases)
const hooks = Object.fromEntries(
  Object.values(cases).map(({ load = '', each = '', after }, at) => [
    `h${at}`,
    hook(
      after === undefined
        ? `{ table: 'item', moment: 'before-save', only: (row: any) => row.now.name === 'h${at}', load({ store }: any) { ${load} }, each(row: any) { ${each} } }`
        : `{ table: 'item', moment: 'after-save', only: (row: any) => row.now.name === 'h${at}', each(row: any, _: unknown, { update, send }: any) { ${after} } }`,
    ),
  ]),
)
hooks['stack'] = hook(
  `{ table: 'item', moment: 'before-save', only: (row: any) => row.now.name === 'stack', each(row: any) { row.refuse(null, String(new Error('here').stack)) } }`,
)
hooks['overflow'] = hook(
  `{ table: 'item', moment: 'before-save', only: (row: any) => row.now.name === 'overflow', load({ store }: any) {
    let tries = 0
    const deep = (): void => { try { deep() } catch { if (tries++ < 30) store.byId('item', [1]) } }
    deep()
    return store.byId('item', [1]).size
  }, each(row: any, size: any) { row.now.qty = size } }`,
)
hooks['canary'] = hook(
  `{ table: 'item', moment: 'before-save', only: (row: any) => row.now.name === 'canary', load: ({ store }) => store.find('item', { id: 1 }), each(row: any, [first]: any) { row.now.qty = first.qty } }`,
)
let app: App
beforeAll(async () => {
  app = await App.start({
    files: () =>
      Object.fromEntries(
        filesOf({
          tables: { item: { fields: { name: text, qty: integer, parent: link('item') } } },
          hooks,
          project: { sequences: { numbers: {} } },
        }),
      ),
    limits: { stallMs: 1000, memoryMb: 256 },
  })
  await app.ask('POST', '/keys', { name: 'secret', user: 'owner', scope: 'read' })
  await app.save({ table: 'item', values: { name: 'first', qty: 7 } })
})
afterAll(() => app.end())

test.each(names.map((name, at) => [name, at] as const))('%s', async (name, at) => {
  const { status, body } = await app.save({ table: 'item', values: { name: `h${at}` } })
  const { code } = cases[name]!
  if (code === null) expect(status).toBe(201)
  else expect(body.error).toMatchObject({ code, hook: `h${at}` })
  const { body: records } = await app.ask<unknown>('GET', '/tables/item/records')
  expect(JSON.stringify([body, records])).not.toMatch(/[0-9a-f]{64}/)
  // The next save of another hook reads what there is.
  const { body: next } = await app.save({ table: 'item', values: { name: 'canary' } })
  expect(next.records[0]).toMatchObject({ qty: 7 })
})

test('a stack that hook code reads names no file of this machine', async () => {
  const { body } = await app.save({ table: 'item', values: { name: 'stack' } })
  expect(body.error!.code).toBe('hook/refused')
  expect(body.error!.message).toContain('plugins/p/hooks/stack.ts')
  expect(body.error!.message).not.toMatch(/\/work|node_modules|dist|\.cjs|\.js:/)
})

test('a look-up that the end of the stack cut off is not taken for an answer', async () => {
  const { body } = await app.save({ table: 'item', values: { name: 'overflow' } })
  expect(body.error, JSON.stringify(body.error)).toMatchObject({ code: 'hook/threw', hook: 'overflow' })
  const { body: next } = await app.save({ table: 'item', values: { name: 'canary' } })
  expect(next.records[0]).toMatchObject({ qty: 7 })
})
