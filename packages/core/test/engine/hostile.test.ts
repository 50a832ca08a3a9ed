import { EngineHost, HookError, type ErrorReport } from '@patient-hook/core'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, hook, integer, text } from '../world.js'

/** Hook code that loops, eats memory, reaches out or writes nonsense, in the real worker: each gives its own clear error. */

const bodies: Record<string, string> = {
  endless: `while (true) {}`,
  swallowed: `for (;;) { try { while (true) {} } catch {} }`,
  regex: `/^(a+)+$/.test('a'.repeat(40) + '!')`,
  memory: `new Array(1e9).fill(0)`,
  process: `process.exit()`,
  network: `fetch('http://127.0.0.1/')`,
  field: `row.now.nmae = 'x'`,
  read: `row.now.qty = row.now.quantity`,
  text: `row.now.qty = 'five'`,
  undefined: `row.now.qty = undefined`,
  throws: `if (row.id === 7) throw new Error('seven is too many')`,
  clock: `row.now.name = String(Date.now())`,
  random: `row.now.qty = Math.random()`,
  buffers: `new Uint8Array(1e9)`,
  encoder: `new TextEncoder()`,
  constructor: `(() => {}).constructor('return process')()`,
  prototype: `Object.prototype.polluted = true`,
  async: `return Promise.resolve()`,
  was: `row.was!.name = 'x'`,
  id: `row.now.id = 5`,
}
const hooks = Object.fromEntries(
  Object.entries(bodies).map(([name, body]) => [
    name,
    hook(
      `{ table: 'item', moment: 'before-save', only: row => row.now.name === '${name}',\n  each(row: any) {\n    ${body}\n  },\n}`,
    ),
  ]),
)
const files = Object.fromEntries(filesOf({ tables: { item: { fields: { name: text, qty: integer } } }, hooks }))

describe('in the worker', () => {
  const host = new EngineHost({ stallMs: 1500, memoryMb: 256 })
  beforeAll(async () => {
    await host.open(files, ':memory:')
  })
  afterAll(() => host.close())

  async function errorOf(name: string, event: 'create' | 'update' = 'create'): Promise<ErrorReport> {
    const rows = Array.from({ length: 10 }, () => ({ table: 'item', values: { name } }))
    if (event === 'update') {
      const { records } = await host.call('save', [{ table: 'item', values: { name: 'ok' } }], {})
      return (await host.call('save', [{ table: 'item', values: { id: records[0]!.id, name } }], {})).error!
    }
    try {
      return (await host.call('save', rows, {})).error!
    } catch (error) {
      if (error instanceof HookError) return error.report
      throw error
    }
  }

  test.each([
    ['endless', 'budget/spent', /budget of 20000000 steps/],
    ['swallowed', 'budget/spent', /steps/],
    ['regex', 'budget/stopped', /longer than 1500 ms/],
    // Which of the two limits is met first depends on the machine.
    ['memory', expect.stringMatching(/^budget\/(memory|stopped)$/), /more than 256 MB|longer than 1500 ms/],
    ['process', 'hook/unavailable', /process is not available inside a hook/],
    ['network', 'hook/unavailable', /fetch is not available/],
    ['field', 'hook/unknown-field', /no field nmae; did you mean name/],
    ['read', 'hook/unknown-field', /no field quantity/],
    ['text', 'hook/wrong-type', /item.qty takes an integer, but got text "five"/],
    ['undefined', 'hook/wrong-type', /got undefined/],
    ['clock', 'hook/unavailable', /clock/],
    ['random', 'hook/unavailable', /Math.random/],
    ['buffers', 'hook/unavailable', /Uint8Array is not available/],
    ['encoder', 'hook/unavailable', /TextEncoder is not available/],
    ['constructor', 'hook/threw', /not a valid constructor/],
    ['prototype', 'hook/readonly', /polluted/],
    ['async', 'hook/async', /each returned a promise/],
    ['id', 'hook/readonly', /id of a record cannot be written/],
  ])('%s', async (name, code, message) => {
    const error = await errorOf(name)
    expect(error).toMatchObject({ code, hook: name, file: `plugins/p/hooks/${name}.ts` })
    expect(error.message).toMatch(message)
    // The line of the statement; a promise and a swallowed budget are found after it.
    if (name !== 'async') expect(error.line).toBe(4)
    expect(error.row).toBe(1)
    // Nothing was kept, and the next save works.
    expect((await host.call('list', 'item', {})).total).toBe(0)
    const { records } = await host.call('save', [{ table: 'item', values: { name: 'fine' } }], {})
    await host.call('save', [{ table: 'item', values: { id: records[0]!.id }, remove: true }], {})
  })

  test('an exception counts against its row and names it', async () => {
    const rows = Array.from({ length: 10 }, (_, i) => ({ table: 'item', values: { name: 'throws', qty: i } }))
    const fresh = new EngineHost()
    await fresh.open(files, ':memory:')
    const { error } = await fresh.call('save', rows, {})
    expect(error).toMatchObject({ code: 'hook/threw', hook: 'throws', line: 4, row: 7, message: 'seven is too many' })
    const partial = await fresh.call('save', rows, { partial: true })
    expect(partial.records.filter((each) => each !== null)).toHaveLength(9)
    await fresh.close()
  })

  test('old values are read only', async () => {
    expect(await errorOf('was', 'update')).toMatchObject({ code: 'hook/readonly', hook: 'was', line: 4 })
  })
})

describe('what cannot even be loaded', () => {
  const open = async (body: string, more: Record<string, string> = {}) => {
    const host = new EngineHost()
    try {
      await host.open({
        ...Object.fromEntries(filesOf({ tables: { item: { fields: { name: text } } }, hooks: { h: body } })),
        ...more,
      })
      return null
    } catch (error) {
      return (error as HookError).report
    } finally {
      await host.close()
    }
  }
  const head = `import { defineHook } from 'patient-hook'\n`
  test.each([
    ['import()', hook(`{ table: 'item', moment: 'before-save',\n each() { import('fs') } }`), 'compile/dynamic-import', 3],
    ['eval', hook(`{ table: 'item', moment: 'before-save',\n each() { eval('1') } }`), 'hook/unavailable', 3],
    [
      'import of fs',
      `import fs from 'fs'\n` +
        head +
        `export default defineHook({ table: 'item', moment: 'before-save', each() { fs.readFileSync('x') } })`,
      'compile/import',
      1,
    ],
    [
      'a missing module',
      head +
        `import { x } from '../lib/gone'\nexport default defineHook({ table: 'item', moment: 'before-save', each() { x() } })`,
      'compile/import',
      2,
    ],
    ['a module outside of the plugin', head + `import x from '../../../project'\nexport default x`, 'compile/import', 2],
    ['broken syntax', head + `\nexport default defineHook({ table: }`, 'compile/syntax', 3],
    ['a loop while loading', head + `while (true) {}`, 'budget/spent', undefined],
    ['a runaway pattern while loading', head + `/^(a+)+$/.test('a'.repeat(40) + '!')`, 'budget/stopped', 2],
    ['no definition', `export const x = 1`, 'hook/no-definition', 1],
    ['a wrong table', hook(`{\n table: 'itm', moment: 'before-save', each() {} }`), 'hook/bad-definition', 3],
    ['a wrong moment', hook(`{ table: 'item',\n moment: 'before', each() {} }`), 'hook/bad-definition', 3],
    [
      'a label in watch',
      hook(`{ table: 'item', moment: 'before-save',\n watch: ['Name '], each() {} }`),
      'hook/bad-definition',
      3,
    ],
    ['an unknown part', hook(`{ table: 'item', moment: 'before-save',\n when: 1, each() {} }`), 'hook/bad-definition', 3],
    ['nothing to do', hook(`{ table: 'item', moment: 'before-save' }`), 'hook/bad-definition', 2],
    ['an async each', hook(`{ table: 'item', moment: 'before-save',\n async each() {} }`), 'hook/async', 3],
    [
      'finish in before-save',
      hook(`{ table: 'item', moment: 'before-save', each() {},\n finish() {} }`),
      'hook/bad-definition',
      3,
    ],
    [
      'after a hook that is not there',
      hook(`{ table: 'item', moment: 'before-save', each() {},\n after: ['x'] }`),
      'hook/bad-definition',
      3,
    ],
    ['after itself', hook(`{ table: 'item', moment: 'before-save', each() {},\n after: ['h'] }`), 'hook/bad-definition', 3],
  ])('%s', async (_, body, code, line) => {
    const error = await open(body)
    expect(error).toMatchObject({ code, file: 'plugins/p/hooks/h.ts', ...(line === undefined ? {} : { line }) })
    expect(error!.todo.length).toBeGreaterThan(10)
  })
})
