import { afterEach, beforeEach, expect, test } from 'vitest'
import { errorOf } from '../error-of.js'
import { TestEngine } from '../test-engine.js'
import { filesOf, hook, text } from '../world.js'

/** What is kept can be compiled, also where no hook imports it; what was there before is no reason to keep nothing. */

const BROKEN = 'export const one = 1\nexport const = 2\n'
const TEST = 'plugins/p/tests/old.test.ts'
let engine: TestEngine
beforeEach(() => {
  engine = new TestEngine()
  const files = filesOf({
    tables: { item: { fields: { name: text } } },
    hooks: { h: hook(`{ table: 'item', moment: 'before-save', each(row) { row.now.name = 'a' } }`) },
    lib: { unused: 'export const two = 2\n' },
    tests: { old: BROKEN },
  })
  engine.open(Object.fromEntries(files))
})
afterEach(() => engine.close())

test.each([
  ['a test', 'plugins/p/tests/new.test.ts'],
  ['a module that nothing imports', 'plugins/p/lib/unused.ts'],
  ['the test that was wrong before', TEST],
])('%s with an error is not kept, nor what comes with it', (_, path) => {
  const before = engine.files()
  const beside = { 'plugins/p/lib/beside.ts': 'export const three = 3\n' }
  const error = errorOf(() => engine.putFiles({ ...beside, [path]: `${BROKEN}// again\n` }))
  expect(error).toMatchObject({ code: 'compile/syntax', file: path, line: 2 })
  expect(engine.files()).toEqual(before)
})

test('a file is kept although another one was wrong before, and that can be fixed', () => {
  engine.putFiles({ 'plugins/p/lib/unused.ts': 'export const two = 22\n' })
  expect(engine.file('plugins/p/lib/unused.ts')).toContain('22')
  engine.putFiles({ [TEST]: 'export {}\n' })
  expect(engine.file(TEST)).toBe('export {}\n')
})

test('a module that another one imports cannot go alone, whatever is wrong elsewhere', () => {
  const more = 'plugins/p/lib/more.ts'
  const unused = 'plugins/p/lib/unused.ts'
  engine.putFiles({ [more]: `import { two } from './unused'\nexport const four = 2 * two\n` })
  expect(errorOf(() => engine.putFiles({ [unused]: null }))).toMatchObject({ code: 'compile/import', file: more, line: 1 })
  expect(engine.file(unused)).toContain('two')
  engine.putFiles({ [unused]: null, [more]: null })
  expect(Object.keys(engine.files())).not.toContain(unused)
})
