import { once } from 'node:events'
import { MessageChannel } from 'node:worker_threads'
import { openWorkbench } from '@patient-hook/core'
import { afterAll, describe, expect, test } from 'vitest'
import { compileFor, compilerBeyond } from '../../src/engine/compiler-calls.js'
import type { FromThread } from '../../src/engine/protocol.js'
import { checkTypes } from '../../src/language/check.js'
import { parseProject } from '../../src/model/project.js'
import { filesOf, hook, integer, text } from '../world.js'

/** The compiler beside an engine: its answer crosses the threads, and what an engine says of types is what the service says. */

test('the answer is there when it is asked for', async () => {
  const { port1, port2 } = new MessageChannel()
  const files = new Map([
    ['plugins/p/a.ts', 'export const n: number = 1'],
    ['plugins/p/b.ts', 'export const n: number = "1"'],
  ])
  const answer = compilerBeyond(port1)({ files, declarations: '' })
  const [message] = (await once(port2, 'message')) as [Extract<FromThread, { compile: unknown }>]
  await compileFor(message.compile)
  expect(answer()).toEqual(new Set(['plugins/p/b.ts']))
  port1.close()
})

describe('an engine', () => {
  const hooks = {
    well: hook(`{ table: 'lot', moment: 'before-save', each(row) { row.now.size = 1 } }`),
    wrong: hook(`{ table: 'lot', moment: 'before-save', each(row) { row.now.size = 'x' } }`),
    'as-well': hook(`{ table: 'lot', moment: 'before-save', each(row) { row.now.name = 'y' } }`),
    waits: hook(`{ table: 'lot', moment: 'before-save', each: async (row) => { row.now.name = 'y' } }`),
    global: `declare global { interface Shared { n: number } }\n${hook(`{ table: 'lot', moment: 'before-save', each(row) { row.now.size = ({} as Shared).n } }`)}`,
    half: 'export default defineHook({ table: ',
  }
  const lib = { one: `export const one: string = 1\n`, two: `import { one } from './one'\nexport const two: number = one\n` }
  const sourceOf = (names: readonly (keyof typeof hooks)[]) =>
    filesOf({
      tables: { lot: { fields: { size: integer, name: text } } },
      hooks: Object.fromEntries(names.map((name) => [name, hooks[name]])),
      lib,
    })
  const engines = openWorkbench({}, { size: 1 })
  afterAll(() => engines.close())

  test.each([
    [['well', 'as-well']],
    [['well', 'wrong', 'as-well']],
    [['well', 'wrong', 'waits']],
    [['well', 'wrong', 'half']],
    [['well', 'wrong', 'global']],
  ] as const)('says of %j what the service says, at first and again', async (names) => {
    const files = sourceOf(names)
    const service = checkTypes(parseProject(files))
    expect(service.length).toBeGreaterThan(1)
    for (let time = 0; time < 2; time++) {
      const { diagnostics } = await engines.call('check', [Object.fromEntries(files)], { bare: true })
      expect(diagnostics).toEqual(service)
    }
  })
})
