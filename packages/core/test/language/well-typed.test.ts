import { describe, expect, test } from 'vitest'
import { keepOnDisk } from '../../src/disk/kept-on-disk.js'
import { checkTypes } from '../../src/language/check.js'
import { WellTyped } from '../../src/language/well-typed.js'
import { parseProject } from '../../src/model/project.js'
import { filesOf, hook, integer, text } from '../world.js'

/** That a file is well is taken from before only where nothing that its types depend on has changed. */

keepOnDisk()
const name = `w${process.pid}`
const at = (file: string) => `plugins/${name}/${file}`
const good = {
  [at('hooks/a.ts')]: `import { twice } from '../lib/twice'\nexport const b = twice(1)\n`,
  [at('lib/twice.ts')]: `import { one } from './one.js'\nexport const twice = (value: number) => value * 2 * one\n`,
  [at('lib/one.ts')]: `export const one = 1\n`,
  [at('hooks/alone.ts')]: `import { defineHook } from 'patient-hook'\nexport default defineHook\n`,
}
const known = (files: Record<string, string>, declared = 'd') => {
  const well = new WellTyped(new Map(Object.entries(files)), declared)
  return Object.keys(good).filter((path) => well.isKnown(path))
}
const noteAll = (files: Record<string, string> = good) => {
  const well = new WellTyped(new Map(Object.entries(files)), 'd')
  Object.keys(files).forEach((path) => well.note(path))
}
const paths = (...names: string[]) => names.map(at)

describe('a file that was well', () => {
  test('is known to be so', () => {
    expect(known(good)).toEqual([])
    noteAll()
    expect(known(good)).toEqual(Object.keys(good))
  })

  test.each([
    ['its own text', { [at('hooks/a.ts')]: `${good[at('hooks/a.ts')]}\n` }, ['lib/twice.ts', 'lib/one.ts', 'hooks/alone.ts']],
    ['a module that it imports', { [at('lib/twice.ts')]: 'export const twice = 1' }, ['lib/one.ts', 'hooks/alone.ts']],
    ['one that this imports', { [at('lib/one.ts')]: `export const one = '1'` }, ['hooks/alone.ts']],
    [
      'a module that comes in between',
      { [at('lib/twice/index.ts')]: 'export {}' },
      ['lib/twice.ts', 'lib/one.ts', 'hooks/alone.ts'],
    ],
    ['code that declares something for all', { [at('lib/all.ts')]: 'export {}\ndeclare global { var x: number }' }, []],
    ['a file that is not a module', { [at('lib/all.ts')]: 'var x = 1' }, []],
    [
      'an import out of the plugin',
      { [at('hooks/a.ts')]: `import '../../other/lib/x'` },
      ['lib/twice.ts', 'lib/one.ts', 'hooks/alone.ts'],
    ],
  ])('is asked for again after a change of %s', (_, change, left) => {
    noteAll()
    expect(known({ ...good, ...(change as Record<string, string>) })).toEqual(paths(...left))
  })

  test('is asked for again when a table has changed', () => {
    noteAll()
    expect(known(good, 'other')).toEqual([])
  })
})

test('errors of types are reported however often they are asked for, and once they come', () => {
  const project = (value: string, fields: Record<string, Record<string, unknown>> = { size: integer, name: text }) =>
    parseProject(
      filesOf({
        tables: { lot: { fields } },
        hooks: {
          [`a${process.pid}`]: hook(`{ table: 'lot', moment: 'before-save', each(row) { row.now.size = ${value} } }`),
          [`b${process.pid}`]: hook(`{ table: 'lot', moment: 'before-save', each(row) { row.now.name = 'x' } }`),
        },
      }),
    )
  const codes = (...given: Parameters<typeof project>) => checkTypes(project(...given)).map(({ code }) => code)
  expect(codes('1')).toEqual([])
  expect(codes('1')).toEqual([])
  expect(codes(`'1'`)).toEqual([2322])
  expect(codes(`'1'`)).toEqual([2322])
  // The table changed, the hook did not.
  expect(codes('1', { size: text, name: text })).toEqual([2322])
  expect(codes('1')).toEqual([])
})
