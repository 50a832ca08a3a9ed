import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, hook, integer, link, text } from '../../../core/test/world.js'
import { App } from '../app.js'

/** Drafts, modules, tests and patterns that mean harm: tried in the sheet and as unit tests, while live saves go on. */

const good = `import { value } from '../lib/l'\n${hook(`{ table: 'item', moment: 'before-save', each(row) { if (row.now.qty === 13) row.refuse('qty', 'not 13'); row.now.name ??= value } }`)}`
const files = () =>
  Object.fromEntries(
    filesOf({
      tables: {
        item: { fields: { name: text, qty: integer, code: { ...text, pattern: '^(a+)+$' } } },
        part: { fields: { item: link('item'), qty: integer } },
      },
      hooks: {
        h: good,
        total: hook(
          `{ table: 'part', moment: 'after-save', load: ({ rows, store }) => store.byId('item', rows.map(row => row.now.item)),\n  each(row, items: any) { void items },\n  finish({ rows, store, update }) { void rows; void store; void update },\n}`,
        ),
      },
      lib: { l: `export const value = 'x'\nexport const table: Record<string, number> = { a: 1 }\n` },
      fixtures: { base: { item: [{ id: 1, name: 'a' }], part: [{ id: 1, item: 1 }] } },
    }),
  )

let app: App
beforeAll(async () => {
  app = await App.start({ files, limits: { stallMs: 1000, memoryMb: 256 } })
})
afterAll(() => app.end())

interface Sheet {
  error: { code: string; message: string; hook?: string; file?: string; line?: number } | null
  refusals: { code: string; message: string; hook?: string; file?: string; line?: number }[]
  rows: unknown[]
}
const sheet = async (drafts: Record<string, string>, table = 'item') => {
  const { status, body } = await app.ask<Sheet>('POST', '/sheet', { table, event: 'create', fixtures: 'base', drafts })
  return { status, error: body.error ?? body.refusals?.[0] ?? null, rows: body.rows }
}
/** Live saves work, and their refusals refuse. */
async function expectUnharmed(): Promise<void> {
  expect((await app.save({ table: 'item', values: { qty: 1 } })).status).toBe(201)
  expect((await app.save({ table: 'item', values: { qty: 13 } })).body.error).toMatchObject({ code: 'hook/refused', hook: 'h' })
  expect((await sheet({})).status).toBe(200)
}

describe('modules', () => {
  test.each([
    ['a loop while loading', `for (;;) ;\nexport const value = 1`, /^budget\/(spent|stopped)$/, undefined],
    ['a pattern while loading', `export const value = /^(a+)+$/.test('a'.repeat(40) + '!')`, /^budget\/stopped$/, 1],
    ['memory while loading', `export const value = new Array(1e9).fill(0)`, /^budget\/(memory|stopped)$/, undefined],
    ['an accessor that throws', `throw { get message(): string { throw 1 } }`, /^hook\/module-threw$/, 1],
    ['a proxy that is thrown', `throw new Proxy(new Error('x'), { get() { for (;;) ; } })`, /^hook\/module-threw$/, 1],
    [
      'arguments of the module',
      `export const value = String((arguments as any).length)\nif (value !== '0') throw new Error('it holds ' + value)`,
      null,
      undefined,
    ],
    [
      'this of the module',
      `export const value = String((function (this: unknown) { return this })())\nif (value !== 'undefined') throw new Error(value)`,
      null,
      undefined,
    ],
    [
      'another module changed',
      `import * as ph from 'patient-hook'\n;(ph as any).defineHook = () => 1\nexport const value = 1`,
      /^hook\/(readonly|module-threw)$/,
      2,
    ],
    ['async', `export const value = (async () => 1)()`, /^hook\/async$/, 1],
    ['text with an HTML comment', `export const value = '<!-- import("x") eval("y") -->'`, null, undefined],
    [
      'the same in comments',
      `// <!-- import("x") eval ( -->\nexport const value /* import /* ( */ = 1 // --> import // (`,
      null,
      undefined,
    ],
    ['operators that look like it', `let n = 3\nwhile (n-->0);\nexport const value = 2<!--n`, null, undefined],
    [
      'comments that rename it',
      `//# sourceURL=x.ts\nexport const value = 1\n/*@ sourceMappingURL=y*/ null!.x\n//@ sourceURL=z`,
      /^hook\/module-threw$/,
      3,
    ],
    ['code that names what is around it', `(require as any)('patient-hook')`, /^hook\/unavailable$/, 1],
    ['code that names its exports', `(exports as any).value = 1`, /^hook\/unavailable$/, 1],
  ])('%s', async (_, body, code, line) => {
    const { error } = await sheet({ 'plugins/p/lib/l.ts': body })
    if (code === null) expect(error).toBeNull()
    else {
      expect(error!.code).toMatch(code)
      expect(error).toMatchObject({ file: 'plugins/p/lib/l.ts', ...(line === undefined ? {} : { line }) })
    }
    await expectUnharmed()
  })
})

describe('what hooks are handed', () => {
  const each = (body: string) =>
    `import * as lib from '../lib/l'\n${hook(`{ table: 'item', moment: 'before-save',\n  each(row: any, _: unknown, context: any) { void lib; void context;\n    ${body}\n  } }`)}`
  test.each([
    ['the exports of a module', `(lib as any).value = 2`, 5],
    ['a function of a module', `(lib as any).extra = 1`, 5],
    ['the secret names of another draft', `(globalThis as any).$meter.m = 1e99`, 5],
    ['refuse of every hook', `Object.getPrototypeOf(row).refuse = () => {}`, 5],
  ])('%s', async (_, body, line) => {
    const { error } = await sheet({ 'plugins/p/hooks/h.ts': each(body) })
    expect(error).toMatchObject({ file: 'plugins/p/hooks/h.ts', line })
    await expectUnharmed()
  })

  const finish = (body: string) =>
    hook(
      `{ table: 'part', moment: 'after-save', load: ({ rows, store }) => store.byId('item', rows.map(row => row.now.item)),\n  each(row: any, items: any) { void row; void items },\n  finish({ rows, loaded, store, update }: any) { void rows; void loaded; void store; void update\n    ${body}\n  } }`,
    )
  test.each([
    ['what byId found', `loaded.set(1, {})`],
    ['what byId found, by the prototype of a map', `Map.prototype.set.call(loaded, 1, {})`],
    ['a found record', `loaded.get(1).name = 'x'`],
    ['the list of children', `store.children('part', 'item', [1]).get(1).push(1)`],
    ['a roll-up', `store.rollup('part', 'item', [1], { sum: ['qty'] }).get(1).sum.qty = 1`],
    ['what find found', `store.find('item', {}).push(1)`],
    ['the store', `store.byId = () => new Map()`],
    ['a function of the store', `store.byId.seen = 1`],
    ['the rows', `rows.push(1)`],
    ['update', `update.seen = 1`],
    [
      'values with an accessor that changes its mind',
      `let n = 0; update('item', 1, { get qty() { return n++ === 0 ? 5 : 'five' } }); if (n !== 1) throw new Error('read twice'); throw new Error('read once')`,
    ],
    ['values that are a proxy without an end', `update('item', 1, new Proxy({}, { ownKeys() { for (;;) ; } }))`],
  ])('%s', async (_, body) => {
    const { error } = await sheet({ 'plugins/p/hooks/total.ts': finish(body) }, 'part')
    expect(error).toMatchObject({ hook: 'total', file: 'plugins/p/hooks/total.ts', line: 5 })
    expect(error!.message).not.toContain('read twice')
    await expectUnharmed()
  })
})

describe('unit tests', () => {
  const run = async (body: string) => {
    const file = 'plugins/p/tests/odd.test.ts'
    const begun = await app.ask<{ id: string }>('POST', '/tests', {
      drafts: { [file]: `import { test, expect } from 'patient-hook/test'\n${body}` },
      only: [file],
    })
    const response = await fetch(`${app.base}/api/jobs/${begun.body.id}/events`, { headers: { cookie: app.cookie } })
    const reader = response.body!.getReader()
    for (let said = '', part = await reader.read(); !part.done; part = await reader.read()) {
      said += Buffer.from(part.value).toString()
      if (said.includes('"event":"end"')) break
    }
    await reader.cancel()
    const { results, job } = (
      await app.ask<{
        job: { error: unknown }
        results: { name: string; status: string; error: { code: string; message: string } | null }[]
      }>('GET', `/jobs/${begun.body.id}`)
    ).body
    expect(job.error).toBeNull()
    return results.map(({ name, status, error }) => [name, status, error?.code ?? null] as const)
  }
  const after = `\ntest('after', () => { expect(1).toBe(1) })`
  test.each([
    ['a loop', `test('odd', () => { for (;;) ; })`, /^budget\//],
    ['a loop over two lines', `test('odd', () => { for (;;) {\n Math.max(1)\n Math.min(1) } })`, /^budget\//],
    ['a swallowed budget', `test('odd', () => { for (;;) { try { for (;;) ; } catch {} } })`, /^budget\//],
    ['a pattern', `test('odd', () => { /^(a+)+$/.test('a'.repeat(40) + '!') })`, /^budget\/stopped$/],
    ['memory', `test('odd', () => { new Array(1e9).fill(0) })`, /^budget\//],
    [
      'a thrown proxy',
      `test('odd', () => { throw new Proxy({}, { get() { for (;;) ; }, getPrototypeOf() { for (;;) ; } }) })`,
      /^test\/failed$/,
    ],
    ['a promise from expect', `test('odd', () => { (expect(1) as any).resolves.toBe(1) })`, /^test\/failed$/],
    ['expect changed', `test('odd', () => { (expect as any).any = 1 })`, /^(test\/failed|hook\/readonly)$/],
    [
      'a matcher changed',
      `test('odd', () => { Object.getPrototypeOf(expect(1)).toBe = 1; (expect(1) as any).toBe = () => {} })`,
      /^(test\/failed|hook\/readonly)$/,
    ],
    ['expect extended', `test('odd', () => { (expect as any).extend({}) })`, /^test\/failed$/],
    [
      'a shape whose class is changed',
      `test('odd', () => { (Object.getPrototypeOf(expect.any(String)) as any).asymmetricMatch = () => true })`,
      /^(test\/failed|hook\/readonly)$/,
    ],
    [
      'an actual value that loops',
      `test('odd', () => { expect({ get a(): number { for (;;) ; } }).toEqual({ a: 1 }) })`,
      /^hook\/bad-argument$/,
    ],
  ])('%s', async (_, body, code) => {
    const results = await run(body + after)
    expect(results.map(([name, status]) => [name, status])).toEqual([
      ['odd', 'failed'],
      ['after', 'passed'],
    ])
    expect(results[0]![2]).toMatch(code)
    await expectUnharmed()
  })
})

describe('a pattern of a field that backtracks without end', () => {
  test('is stopped in a live save, with table, field and row; the next save works', async () => {
    const { status, body } = await app.save(
      { table: 'item', values: { code: 'aaa' } },
      { table: 'item', values: { code: `${'a'.repeat(40)}!` } },
    )
    expect(status).toBe(422)
    expect(body.error).toMatchObject({ code: 'check/pattern-stopped', table: 'item', field: 'code', row: 2 })
    await expectUnharmed()
  })
  test('and in the sheet', async () => {
    const draft = hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.code = 'a'.repeat(40) + '!' } }`)
    const { error } = await sheet({ 'plugins/p/hooks/h.ts': draft })
    expect(error).toMatchObject({ code: 'check/pattern-stopped' })
    await expectUnharmed()
  })
})

test('dates and sorting are those of one place, wherever the machine stands', async () => {
  const draft = hook(
    `{ table: 'item', moment: 'before-save', each(row) { const d = new Date('2026-07-01T12:00:00Z'); row.now.name = [d.getHours(), d.getTimezoneOffset(), ['ä', 'z', 'a', 'Z'].sort((a, b) => a.localeCompare(b)).join(''), (1234.5).toLocaleString()].join(' ') } }`,
  )
  const { rows } = await sheet({ 'plugins/p/hooks/h.ts': draft })
  expect((rows[0] as { now: { name: string } }).now.name).toBe('12 0 aäzZ 1,234.5')
})
