import { join } from 'node:path'
import fc from 'fast-check'
import { beforeAll, describe, expect, test } from 'vitest'
import { keepOnDisk } from '../../src/disk/kept-on-disk.js'
import { makeRuntime, type Runtime } from '../../src/engine/runtime.js'
import type { HookError } from '../../src/errors.js'
import { readFolder } from '../../src/model/folder.js'
import { fixtureStore } from '../../src/prove/fixtures/fixture-store.js'
import { makeSheet } from '../../src/rehearse/sheet.js'
import { save } from '../../src/save/save.js'
import { Store } from '../../src/store/database.js'
import { filesOf, hook, integer, link, text, World, type Source } from '../world.js'
import { programs, sourceOf } from './oracle/programs.js'

/** A module whose definition is known runs when a save first needs it: nothing of that is seen in what the save does. */

beforeAll(keepOnDisk)

/** All modules run as they are loaded, and nothing is kept of it. */
const AT_ONCE = { isSaved: () => false }

let tries = 0
/** Files that no test before this one has kept anything of. */
function fresh(source: Source): Map<string, string> {
  return new Map([...filesOf(source)].map(([path, code]) => [path, path.endsWith('.ts') ? `${code}// ${++tries}\n` : code]))
}
const hasRun = ({ sandbox }: Runtime, name: string): boolean => sandbox.prepare(`plugins/p/hooks/${name}.ts`).hasRun
const plain = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value, (key, part: unknown) => (key === 'ms' || key === 'took' ? undefined : part)))

const SETS = (table: string, field = 'n') =>
  hook(`{ table: '${table}', moment: 'before-save', watch: ['name'], each(row) { row.now.${field} = 1 } }`)
const TWO_TABLES: Source = {
  tables: { a: { fields: { name: text, n: integer } }, b: { fields: { name: text, n: integer, a: link('a') } } },
  hooks: { of_a: SETS('a'), of_b: SETS('b') },
}

function storeOf(runtime: Runtime): Store {
  const store = new Store(':memory:')
  store.createTables(runtime.project)
  return store
}
const create = (runtime: Runtime, table: string, values: Record<string, string>) =>
  save({ ...runtime, store: storeOf(runtime) }, [{ table, values }], { returnRecords: true })

test('modules of tables that no save touches do not run', () => {
  const files = fresh(TWO_TABLES)
  const first = makeRuntime(files)
  expect([hasRun(first, 'of_a'), hasRun(first, 'of_b')]).toEqual([true, true])
  const again = makeRuntime(files)
  expect([hasRun(again, 'of_a'), hasRun(again, 'of_b')]).toEqual([false, false])
  expect(create(again, 'a', { name: 'x' }).records[0]).toMatchObject({ n: 1 })
  expect([hasRun(again, 'of_a'), hasRun(again, 'of_b')]).toEqual([true, false])
  // What was run stays so in a runtime that takes it over, and what was not can still be.
  const next = makeRuntime(new Map([...files, ['plugins/p/hooks/c.ts', SETS('a')]]), { like: again })
  expect(create(next, 'b', { name: 'x' }).records[0]).toMatchObject({ n: 1 })
  expect(create(next, 'a', { name: 'x' }).records[0]).toMatchObject({ n: 1 })
})

describe('a module runs again as it is loaded', () => {
  const ran = (source: Source, change: (files: Map<string, string>) => Map<string, string> = (files) => files): boolean => {
    const files = fresh(source)
    makeRuntime(files)
    return hasRun(makeRuntime(change(files)), 'of_b')
  }
  const importing = (code: string): Source => ({
    ...TWO_TABLES,
    hooks: { of_b: `import { one } from '../lib/l'\n${SETS('b').replace('= 1', '= one')}` },
    lib: { l: code },
  })
  const withText = (path: string, edit: (code: string) => string) => (files: Map<string, string>) =>
    new Map([...files, [path, edit(files.get(path)!)]])
  test.each<[string, boolean, Source, ((files: Map<string, string>) => Map<string, string>)?]>([
    ['nothing changed', false, TWO_TABLES],
    ['another hook changed', false, TWO_TABLES, withText('plugins/p/hooks/of_a.ts', (code) => `${code}\n`)],
    ['its text changed', true, TWO_TABLES, withText('plugins/p/hooks/of_b.ts', (code) => `${code}\n`)],
    [
      'its table has another field',
      true,
      TWO_TABLES,
      withText('tables/b.json', (code) => code.replace('{"name"', '{"more":{"type":"string"},"name"')),
    ],
    ['another table has another field', false, TWO_TABLES, withText('tables/a.json', (code) => code.replace('"n"', '"other"'))],
    ['the budgets changed', true, TWO_TABLES, withText('project.json', () => '{"name":"test","budgets":{"steps":77}}')],
    ['with what it imports', false, importing('export const one = 1')],
    [
      'what it imports changed',
      true,
      importing('export const one = 1'),
      withText('plugins/p/lib/l.ts', () => 'export const one = 2'),
    ],
    ['what it imports keeps something', true, importing('let n = 0\nexport const one = 1\nexport const more = () => ++n')],
    ['it keeps something', true, { ...TWO_TABLES, hooks: { of_b: `let n = 0\n${SETS('b').replace('= 1', '= ++n')}` } }],
    ['it has tests', true, importing(`import { test } from 'patient-hook/test'\ntest('t', () => {})\nexport const one = 1`)],
  ])('%s: %s', (_, expected, source, change) => {
    expect(ran(source, change)).toBe(expected)
  })

  test('nothing is kept of a text that is not saved', () => {
    const files = fresh(TWO_TABLES)
    makeRuntime(files, { isSaved: (file) => !file.endsWith('of_b.ts') })
    const again = makeRuntime(files)
    expect([hasRun(again, 'of_a'), hasRun(again, 'of_b')]).toEqual([false, true])
  })

  test('statements that are counted', () => {
    const files = fresh(TWO_TABLES)
    makeRuntime(files)
    expect(hasRun(makeRuntime(files, { equipment: 'counted' }), 'of_b')).toBe(true)
  })
})

test('what is wrong is reported each time, also by the model or by a module that it imports', () => {
  const wrong = (files: Map<string, string>, edit: (files: Map<string, string>) => void = () => {}) => {
    const changed = new Map(files)
    edit(changed)
    const reports = [{}, AT_ONCE, {}].map((options) => {
      try {
        makeRuntime(changed, options)
        return null
      } catch (error) {
        return (error as HookError).report
      }
    })
    expect(reports[0]).not.toBeNull()
    for (const report of reports) expect(report).toEqual(reports[0])
    return reports[0]!
  }
  const good = fresh({ ...TWO_TABLES, lib: { l: 'export const one = 1' } })
  makeRuntime(good)
  expect(
    wrong(good, (files) => files.set('tables/b.json', files.get('tables/b.json')!.replace('"name"', '"title"'))),
  ).toMatchObject({
    code: 'hook/bad-definition',
    hook: 'of_b',
  })
  expect(wrong(good, (files) => files.delete('tables/b.json'))).toMatchObject({ code: 'hook/bad-definition', hook: 'of_b' })
  expect(wrong(fresh({ ...TWO_TABLES, hooks: { of_b: `throw new Error('odd')` } }))).toMatchObject({ code: 'hook/module-threw' })
  expect(
    wrong(
      fresh({
        ...TWO_TABLES,
        hooks: { of_b: `import { x } from '../lib/l'\n${SETS('b')}void x\n` },
        lib: { l: 'export const x = ;' },
      }),
    ),
  ).toMatchObject({ code: 'compile/syntax', file: 'plugins/p/lib/l.ts' })
})

test('a module that runs within a save adds no steps and no lines to it', () => {
  const source: Source = {
    ...TWO_TABLES,
    hooks: {
      of_a: hook(
        `{ table: 'a', moment: 'after-save', on: ['update'], each(row, _, { update }) { update('b', { a: row.id }, { name: 'y' }) } }`,
      ),
      of_b: `import { length } from '../lib/l'\n${SETS('b').replace('= 1', '= length')}`,
    },
    lib: { l: `const FACTOR = 50\nexport const length = FACTOR * 100` },
    fixtures: { base: { a: [{ id: 1, name: 'x', n: null }], b: [{ id: 1, name: 'x', n: null, a: 1 }] } },
  }
  const files = fresh(source)
  const sheetOf = (runtime: Runtime) =>
    makeSheet(
      { ...runtime, store: fixtureStore(runtime.project, 'base') },
      { table: 'a', event: 'update', values: { n: 2 }, clock: '2026-01-01T00:00:00Z' },
    )
  const atOnce = makeRuntime(files, { ...AT_ONCE, equipment: 'probed' })
  const expected = sheetOf(atOnce)
  makeRuntime(files, { equipment: 'probed' })
  const resting = makeRuntime(files, { equipment: 'probed' })
  expect(hasRun(resting, 'of_b')).toBe(false)
  const got = sheetOf(resting)
  expect(plain(got)).toEqual(plain(expected))
  expect(got.spent.steps).toBeLessThan(100)
  expect(plain(sheetOf(resting))).toEqual(plain(expected))
})

test('the sheets of the demo are the same', () => {
  const demo = readFolder(join(import.meta.dirname, '../../../../demo'))
  const atOnce = makeRuntime(demo, { ...AT_ONCE, equipment: 'probed' })
  makeRuntime(demo, { equipment: 'probed' })
  let rested = 0
  for (const { table, on, file } of atOnce.program.hooks)
    for (const event of on) {
      const resting = makeRuntime(demo, { equipment: 'probed' })
      if (!resting.sandbox.prepare(file).hasRun) rested++
      const [expected, got] = [atOnce, resting].map((runtime) =>
        plain(
          makeSheet(
            { ...runtime, store: fixtureStore(runtime.project, 'base') },
            { table, event, clock: '2026-01-01T00:00:00Z', limit: 20 },
          ),
        ),
      )
      expect(got).toEqual(expected)
    }
  expect(rested).toBeGreaterThan(10)
})

test('random programs: whatever is saved, in whatever order, with modules that run when they are needed', () => {
  let rested = 0
  fc.assert(
    fc.property(programs, (program) => {
      const source = sourceOf(program)
      makeRuntime(filesOf(source))
      const worlds = [new World(source, ':memory:', true, AT_ONCE), new World(source)] as const
      rested += worlds[1].environment.program.hooks.filter(({ each, finish }) => !each && !finish).length
      for (const { kind, table, rows } of program.batches) {
        const there = new Set(worlds[0].all(table).map(({ id }) => id))
        const inputs = rows
          .filter(({ id }) => kind === 'create' || there.has(id!))
          .map((values) => ({ table, values, ...(kind === 'delete' ? { remove: true } : {}) }))
        const [expected, got] = worlds.map((world) => plain(world.try(inputs)))
        expect(got).toEqual(expected)
        const [before, now] = worlds.map((world) =>
          ['parent', 'child', 'ph_history'].map((name) => world.all(name).map((row) => ({ ...row, at: undefined }))),
        )
        expect(now).toEqual(before)
      }
      for (const { store } of worlds) store.close()
    }),
    { numRuns: 60, seed: 20261128 },
  )
  expect(rested).toBeGreaterThan(60)
})
