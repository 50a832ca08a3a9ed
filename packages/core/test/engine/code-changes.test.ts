import { describe, expect, test } from 'vitest'
import type { CodeChange } from '@patient-hook/contract'
import { planCodeChange } from '../../src/engine/code-changes/index.js'
import { HookError } from '../../src/errors.js'
import { parseProject } from '../../src/model/project.js'
import { makeRuntime } from '../../src/engine/runtime.js'
import { filesOf, hook, text } from '../world.js'

/** Hooks and plugins get other names and places, or go: with everything that names them. */

const literal = (more: string) => hook(`{\n  table: 'item',\n  moment: 'before-save',\n${more}  each() {},\n}`)
const files = filesOf({
  tables: { item: { fields: { name: text } } },
  hooks: { first: literal(''), second: literal(`  after: ['first'],\n`), third: literal(`  after: ['first', 'second'],\n`) },
  states: { first: { pilot: ['ada'], misses: { x: 'y' } } },
  tests: {
    all: `import { expect, test } from 'patient-hook/test'\n// first things first\ntest('first', { hooks: ['first'] }, ({ ran }) => { expect(ran('first')).toBe(0) })\n`,
  },
  project: { users: ['ada'] },
})
files.set('plugins/q/plugin.json', '{ "name": "q", "version": "2.0.0" }')

const applied = (change: CodeChange) => {
  const plan = planCodeChange(parseProject(files), change)
  const after = new Map(files)
  for (const [path, text] of Object.entries(plan.files)) {
    if (text === null) after.delete(path)
    else after.set(path, text)
  }
  return { ...plan, after, order: () => makeRuntime(after).program.hooks.map(({ plugin, name }) => `${plugin}/${name}`) }
}
const codeOf = (change: CodeChange): string => {
  try {
    applied(change)
  } catch (error) {
    return (error as HookError).code
  }
  return 'done'
}

describe('a hook', () => {
  test('gets another name wherever it is named', () => {
    const { after, order, notices, files: changed } = applied({ kind: 'rename-hook', hook: 'first', name: 'begin' })
    expect(order()).toEqual(['p/begin', 'p/second', 'p/third'])
    expect(after.get('plugins/p/hooks/third.ts')).toContain(`after: ['begin', 'second']`)
    expect(after.get('plugins/p/tests/all.test.ts')).toContain(`{ hooks: ['begin'] }, ({ ran }) => { expect(ran('begin'))`)
    expect(JSON.parse(after.get('plugins/p/plugin.json')!)).toMatchObject({
      hooks: { begin: { pilot: ['ada'], misses: { x: 'y' } } },
    })
    expect(changed['plugins/p/hooks/first.ts']).toBeNull()
    // A comment and the name of a test are for people to look at.
    expect(notices).toEqual([
      'plugins/p/tests/all.test.ts mentions first in a way that is not changed: look whether it should be.',
    ])
  })

  test.each([
    [`expect(refused).toMatchObject({ field: 'name', hook: 'first' })`, true],
    [`expect(refused.hook).toBe('first')`, true],
    [`expect(refused.hook).not.toBe('first')`, true],
    [`expect(verdicts.find(({ hook }) => hook === 'first')).toBeDefined()`, true],
    [`expect(logs.filter((line) => 'first' === line.hook)).toEqual([])`, true],
    [`expect(refused).toMatchObject({ field: 'first' })`, false],
    [`expect(save('item', { name: 'first' }).name).toBe('first')`, false],
  ])('what a unit test expects of it: %s', (line, isNamed) => {
    const path = 'plugins/p/tests/more.test.ts'
    const project = parseProject(new Map([...files, [path, `${line}\n`]]))
    const plan = planCodeChange(project, { kind: 'rename-hook', hook: 'first', name: 'begin' })
    expect(plan.files[path]).toBe(isNamed ? `${line.replaceAll(`'first'`, `'begin'`)}\n` : undefined)
  })

  test('goes, and others do not run after it any more', () => {
    const { after, order, notices } = applied({ kind: 'remove-hook', hook: 'first' })
    expect(order()).toEqual(['p/second', 'p/third'])
    expect(after.get('plugins/p/hooks/second.ts')).toBe(literal(''))
    expect(after.get('plugins/p/hooks/third.ts')).toContain(`after: ['second']`)
    expect(JSON.parse(after.get('plugins/p/plugin.json')!)).toEqual({ version: '1.2.3' })
    expect(notices).toHaveLength(1)
  })

  test('the last of a list goes with its comma', () => {
    expect(applied({ kind: 'remove-hook', hook: 'second' }).after.get('plugins/p/hooks/third.ts')).toContain(`after: ['first'],`)
  })

  test('goes to another plugin with what is shown of it', () => {
    const { after, notices } = applied({ kind: 'move-hook', hook: 'first', plugin: 'q' })
    expect(after.get('plugins/q/hooks/first.ts')).toBe(files.get('plugins/p/hooks/first.ts'))
    expect(JSON.parse(after.get('plugins/q/plugin.json')!)).toMatchObject({
      version: '2.0.0',
      hooks: { first: { pilot: ['ada'] } },
    })
    expect(JSON.parse(after.get('plugins/p/plugin.json')!)).not.toHaveProperty('hooks')
    expect(notices[0]).toMatch(/^Release p and q together/)
  })

  test('that imports modules of its plugin stays', () => {
    const more = new Map(files)
    more.set('plugins/p/lib/x.ts', 'export const x = 1')
    more.set('plugins/p/hooks/first.ts', `import { x } from '../lib/x'\n${literal('')}void x\n`)
    expect(() => planCodeChange(parseProject(more), { kind: 'move-hook', hook: 'first', plugin: 'q' })).toThrow(
      /imports \.\.\/lib\/x of plugin p/,
    )
  })

  test('names that there are not, or that are taken', () => {
    expect(codeOf({ kind: 'rename-hook', hook: 'frist', name: 'x' })).toBe('code/unknown')
    expect(codeOf({ kind: 'rename-hook', hook: 'first', name: 'second' })).toBe('code/taken')
    expect(codeOf({ kind: 'move-hook', hook: 'first', plugin: 'r' })).toBe('code/unknown')
    expect(codeOf({ kind: 'move-hook', hook: 'first', plugin: 'p' })).toBe('code/bad')
  })
})

describe('files', () => {
  const withLib = new Map(files)
    .set('plugins/p/lib/twice.ts', 'export const twice = (n: number) => 2 * n\n')
    .set('plugins/p/hooks/fourth.ts', `import { twice } from '../lib/twice'\n${literal('')}void twice\n`)
    .set('fixtures/base/item.json', '[]')
    .set('plugins/p/tests/more.test.ts', `import { test } from 'patient-hook/test'\ntest('x', { fixtures: 'base' }, () => {})\n`)
  const plan = (change: CodeChange) => planCodeChange(parseProject(withLib), change)

  test('a module and a test are made, and can be used as they are', () => {
    const module = plan({ kind: 'make-file', plugin: 'p', folder: 'lib', name: 'seed-counts' })
    expect(Object.entries(module.files)).toEqual([
      ['plugins/p/lib/seed-counts.ts', expect.stringContaining('export function seedCounts(')],
    ])
    const made = plan({ kind: 'make-file', plugin: 'p', folder: 'tests', name: 'seeds' })
    expect(Object.keys(made.files)).toEqual(['plugins/p/tests/seeds.test.ts'])
    makeRuntime(new Map([...withLib, ...(Object.entries({ ...module.files, ...made.files }) as [string, string][])]), {
      changed: { ...module.files, ...made.files },
    })
    expect(() => plan({ kind: 'make-file', plugin: 'p', folder: 'lib', name: 'twice' })).toThrow(/twice\.ts already/)
  })
  test('a module that is imported stays, a test goes', () => {
    expect(() => plan({ kind: 'remove-file', file: 'plugins/p/lib/twice.ts' })).toThrow(
      /is imported by plugins\/p\/hooks\/fourth\.ts/,
    )
    expect(plan({ kind: 'remove-file', file: 'plugins/p/tests/all.test.ts' }).files).toEqual({
      'plugins/p/tests/all.test.ts': null,
    })
    expect(() => plan({ kind: 'remove-file', file: 'plugins/p/hooks/first.ts' })).toThrow(/there is no module or test/)
  })
  test('a fixture set goes, and tests that start from it are reported', () => {
    const { files: gone, notices } = plan({ kind: 'remove-fixtures', set: 'base' })
    expect(gone).toEqual({ 'fixtures/base/item.json': null })
    expect(notices).toEqual(['plugins/p/tests/more.test.ts starts from it: its tests fail without it.'])
    expect(() => plan({ kind: 'remove-fixtures', set: 'bse' })).toThrow(/no fixture set bse/)
  })
})

describe('a plugin', () => {
  test('is made', () => {
    const { after } = applied({ kind: 'make-plugin', plugin: 'labels', description: 'Labels of lots.' })
    expect(parseProject(after).plugins.get('labels')).toMatchObject({
      version: '0.1.0',
      description: 'Labels of lots.',
      hooks: [],
    })
    expect(codeOf({ kind: 'make-plugin', plugin: 'p', description: '' })).toBe('code/taken')
  })
  test('gets another name with all its files', () => {
    const { order, after } = applied({ kind: 'rename-plugin', plugin: 'p', name: 'items' })
    expect(order()).toEqual(['items/first', 'items/second', 'items/third'])
    expect([...after.keys()].filter((path) => path.startsWith('plugins/p/'))).toEqual([])
  })
  test('goes, unless another runs after its hooks', () => {
    expect(applied({ kind: 'remove-plugin', plugin: 'p' }).order()).toEqual([])
    const more = new Map(files).set('plugins/q/hooks/last.ts', literal(`  after: ['third'],\n`))
    expect(() => planCodeChange(parseProject(more), { kind: 'remove-plugin', plugin: 'p' })).toThrow(
      /hook last runs after third of plugin p/,
    )
  })
})
