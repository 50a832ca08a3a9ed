import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { makeRuntime } from '../../src/engine/runtime.js'
import { readFolder } from '../../src/model/folder.js'
import { parseProject } from '../../src/model/project.js'
import { affectedTests } from '../../src/prove/affected.js'
import { testsReaching } from '../../src/prove/run-tests.js'
import { filesOf, hook, link, number, text } from '../world.js'

/** Which tests a change may concern: none that it does concern is left out. */

const body = (code: string, head = '') => `import { test, expect } from 'patient-hook/test'\n${head}${code}\n`
const saves = (table: string) => body(`test('x', { fixtures: 'base' }, ({ save }) => expect(save('${table}', {}).id).toBe(1))`)
const project = parseProject(
  filesOf({
    tables: {
      van: { fields: { name: text, grams: number } },
      parcel: { fields: { van: link('van', 'cascade'), grams: number } },
      slip: { fields: { parcel: link('parcel', 'cascade'), word: text } },
      town: { fields: { name: text } },
    },
    lib: {
      rounded: `export const rounded = (value: number) => Math.round(value)\n`,
      mass: `import { rounded } from './rounded.js'\nexport const mass = (value: number) => rounded(value)\n`,
      saving: `export const table = 'town'\n`,
    },
    hooks: {
      'parcel-mass': `import { defineHook } from 'patient-hook'\nimport { mass } from '../lib/mass.js'\nexport default defineHook({ table: 'parcel', moment: 'before-save', each(row) { row.now.grams = mass(row.now.grams ?? 0) } })\n`,
      'parcel-to-van': hook(
        `{ table: 'parcel', moment: 'after-save', watch: ['grams'], each(row, _, { update }) { update('van', row.now.van, { grams: row.now.grams }) } }`,
      ),
      'van-name': hook(`{ table: 'van', moment: 'before-save', each(row) { row.now.name ??= 'x' } }`),
      'slip-word': hook(`{ table: 'slip', moment: 'before-save', each(row) { row.now.word ??= 'x' } }`),
      'town-name': hook(`{ table: 'town', moment: 'before-save', each(row) { row.now.name ??= 'x' } }`),
    },
    tests: {
      parcels: saves('parcel'),
      vans: saves('van'),
      slips: saves('slip'),
      towns: body(
        `test('x', { fixtures: 'far' }, ({ save }) => expect(save(table, {}).id).toBe(1))`,
        `import { table } from '../lib/saving.js'\n`,
      ),
      removes: body(`test('x', ({ remove }) => { remove('van', 1); expect(1).toBe(1) })`),
    },
    fixtures: { base: { van: [] }, far: { town: [] } },
  }),
)
const affected = (...changed: string[]) =>
  affectedTests(project, changed).map((file) => file.replace(/^.*\/(\w+)\.test\.ts$/, '$1'))
const ALL = ['parcels', 'removes', 'slips', 'towns', 'vans']

describe('a change of', () => {
  test.each([
    ['a test', 'plugins/p/tests/vans.test.ts', ['vans']],
    ['a hook: tests that save its table', 'plugins/p/hooks/slip-word.ts', ['removes', 'slips']],
    ['a hook whose table is saved by effects too', 'plugins/p/hooks/van-name.ts', ['parcels', 'removes', 'vans']],
    ['a module: what imports it through another, and tests of the hook', 'plugins/p/lib/rounded.ts', ['parcels', 'removes']],
    ['a module that only a test imports', 'plugins/p/lib/saving.ts', ['towns']],
    ['a table that a test names through a module', 'plugins/p/hooks/town-name.ts', ['towns']],
    ['a fixture set', 'fixtures/far/town.json', ['towns']],
    ['live records to begin with', 'data/van.csv', []],
    ['a table', 'tables/slip.json', ALL],
    ['the project', 'project.json', ALL],
    ['a hook that is gone', 'plugins/p/hooks/no-more.ts', ALL],
  ])('%s', (_, file, tests) => {
    expect(affected(file)).toEqual(tests)
  })

  test('several files at once', () => {
    expect(affected('plugins/p/tests/vans.test.ts', 'plugins/p/hooks/slip-word.ts')).toEqual(['removes', 'slips', 'vans'])
  })

  test('a hook whose effects cannot be seen', () => {
    const files = new Map(project.files).set(
      'plugins/p/hooks/parcel-to-van.ts',
      hook(
        `{ table: 'parcel', moment: 'after-save', each(row, _, { update: set }) { for (const table of ['to' + 'wn'] as const) set(table as 'van', 1, {}) } }`,
      ),
    )
    const tests = affectedTests(parseProject(files), ['plugins/p/hooks/town-name.ts'])
    expect(tests).toContain('plugins/p/tests/parcels.test.ts')
  })
})

/** Held against what really happens: the tests that save something a hook of the demo looks at. */
test('of the demo, every test that wakes a hook is named when the hook changes', () => {
  const plan = makeRuntime(readFolder(join(import.meta.dirname, '../../../../demo')))
  const reaching = testsReaching(plan)
  expect(reaching.size).toBeGreaterThan(15)
  for (const { name, file } of plan.program.hooks) {
    const named = affectedTests(plan.project, [file])
    for (const test of reaching.get(name) ?? []) expect([name, named]).toEqual([name, expect.arrayContaining([test.file])])
  }
})
