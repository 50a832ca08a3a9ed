import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { applyMend, findIn, hookCode, lookAt, RULES } from '../../src/findings/index.js'
import { readFolder } from '../../src/model/folder.js'
import { parseProject } from '../../src/model/project.js'
import { CORPUS } from './corpus/index.js'

/** Each rule's examples, on the demo's tables: what must be found, what must not, and that a fix fixes. */

const demo = readFolder(join(import.meta.dirname, '../../../../demo'))
const tablesOnly = [...demo].filter(([path]) => path === 'project.json' || path.startsWith('tables/'))

/** Hooks hook-1, hook-2 …, from literals joined by a line of three dashes. */
function projectOf(example: string) {
  const files = new Map(tablesOnly)
  files.set('plugins/p/plugin.json', '{}')
  example
    .split('\n---\n')
    .forEach((literal, i) =>
      files.set(
        `plugins/p/hooks/hook-${i + 1}.ts`,
        literal.startsWith('import')
          ? literal
          : `import { defineHook } from 'patient-hook'\nexport default defineHook(${literal})\n`,
      ),
    )
  return parseProject(files)
}

describe.each(RULES.map((rule) => [rule.meta.name, rule] as const))('%s', (name, rule) => {
  test.each(rule.examples.fail)('is found in %s', (example) => {
    const project = projectOf(example)
    const findings = findIn(project, [rule])
    expect(findings.map((each) => each.rule)).toContain(name)
    for (const { fix, file, start } of findings) {
      expect(project.files.get(file)!.slice(start).trim()).not.toBe('')
      if (!fix) continue
      const fixed = new Map([...project.files, [file, applyMend(project.files.get(file)!, fix.edits)]])
      const left = findIn({ ...project, files: fixed }, [rule])
      expect(left.length, `${fix.title}: ${fixed.get(file)}`).toBeLessThan(findings.length)
    }
  })
  test.each(rule.examples.pass)('is not found in %s', (example) => {
    expect(findIn(projectOf(example), [rule])).toEqual([])
  })
  test('has a title and says why', () => {
    expect(rule.meta.title.length).toBeGreaterThan(15)
    expect(rule.meta.why.length).toBeGreaterThan(40)
  })
})

describe('of all rules together, these and no others are found', () => {
  test.each(CORPUS.map((entry) => [entry.what, entry] as const))('%s', (_, { hooks, finds }) => {
    const found = findIn(projectOf(hooks))
      .filter(({ severity }) => severity !== 'hint')
      .map((each) => each.rule)
    expect(found.sort(), hooks).toEqual([...finds].sort())
  })
  test('in both directions, and in at least 60 hooks', () => {
    expect(CORPUS.length).toBeGreaterThanOrEqual(60)
    expect(CORPUS.filter((entry) => entry.finds.length === 0).length).toBeGreaterThanOrEqual(20)
    expect(new Set(CORPUS.flatMap((entry) => entry.finds))).toEqual(
      new Set(RULES.filter(({ meta }) => meta.severity !== 'hint').map(({ meta }) => meta.name)),
    )
  })
})

test('no rule cries wolf on the demo', () => {
  expect(findIn(parseProject(demo)).map((each) => `${each.rule} ${each.file}:${each.line} ${each.message}`)).toEqual([])
})

test('what a module keeps is found through what the hook imports', () => {
  const project = projectOf(
    `import { defineHook } from 'patient-hook'\nimport { next, half } from '../lib/count'\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { row.now.bay ??= 'B' + next() + half(2) } })`,
  )
  const lib = 'let n = 0\nexport const next = () => ++n\nexport const half = (m: number) => m / 2'
  const files = new Map([...project.files, ['plugins/p/lib/count.ts', lib]])
  expect(findIn({ ...project, files }).map(({ rule, message, line }) => [rule, message, line])).toEqual([
    ['kept-in-module', 'plugins/p/lib/count.ts keeps n outside of its functions: what is kept in it goes from row to row', 2],
  ])
})

describe('the clock in a module of the plugin', () => {
  const found = (lib: string, hook: string) => {
    const project = projectOf(
      `import { defineHook } from 'patient-hook'\n${hook}\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { row.now.next_test_due ??= due(row.now.bay) } })`,
    )
    const files = new Map([...project.files, ['plugins/p/lib/due.ts', lib]])
    return findIn({ ...project, files }).map(({ rule, message }) => `${rule}: ${message}`)
  }
  test('is found through what the hook imports, with its file and line', () => {
    expect(
      found(
        `const today = () => new Date().toISOString()\n\nexport function due(bay: string | null) {\n  return bay + today()\n}`,
        `import { due } from '../lib/due.js'`,
      ),
    ).toEqual([
      'clock-or-chance: plugins/p/lib/due.ts, line 1: new Date() is the machine’s clock: take clock from the third argument',
    ])
  })
  test('is no concern of a hook that imports something else of it', () => {
    expect(
      found(
        `export const today = () => Date.now()\nexport const due = (bay: string | null) => '2026-01-0' + bay`,
        `import { due } from '../lib/due'`,
      ),
    ).toEqual([])
  })
  test.each([`import * as dates from '../lib/due'\nconst { due } = dates`, `import due from '../lib/due'`])(
    'also by %s',
    (imported) => {
      expect(found(`export default (bay: string) => bay + Math.random()`, imported)).toEqual([
        'clock-or-chance: plugins/p/lib/due.ts, line 1: Math.random() is chance: a hook gives the same values at every run',
      ])
    },
  )
})

test('half-typed code is looked at without harm, and each finding stands within it', () => {
  const project = parseProject(demo)
  const hooks = [...project.plugins.values()]
    .flatMap((plugin) => plugin.hooks)
    .map(({ name, file }) => ({ name, file, text: project.files.get(file)! }))
  const all = hooks.map(({ name, file, text }) => hookCode(name, file, text, project)!)
  const literals = [...CORPUS.map((entry) => entry.hooks), ...RULES.flatMap((rule) => rule.examples.fail)]
  const texts = [
    ...hooks.map((each) => each.text),
    ...literals.flatMap((each) => each.split('\n---\n')).map((each) => `export default defineHook(${each})`),
  ]
  const cut = fc.record({
    from: fc.nat(2000),
    length: fc.nat(40),
    put: fc.constantFrom('', 'row.now.', '(', ' => ', "'", '{ ', '?? '),
  })
  let looked = 0
  fc.assert(
    fc.property(fc.constantFrom(...texts), fc.array(cut, { minLength: 1, maxLength: 3 }), (text, cuts) => {
      const typed = cuts.reduce(
        (made, { from, length, put }) => made.slice(0, from % made.length) + put + made.slice((from % made.length) + length),
        text,
      )
      const hook = hookCode('lot-mass', 'plugins/vault/hooks/lot-mass.ts', typed, project)
      if (!hook) return
      looked++
      for (const { start, end, fix } of lookAt(hook, all, project)) {
        expect(start).toBeGreaterThanOrEqual(0)
        expect(end).toBeLessThanOrEqual(typed.length)
        if (fix) expect(typeof applyMend(typed, fix.edits)).toBe('string')
      }
    }),
    // HALF_TYPED=50000 looks longer, each time from another beginning.
    process.env['HALF_TYPED'] ? { numRuns: Number(process.env['HALF_TYPED']) } : { numRuns: 1500, seed: 17 },
  )
  expect(looked).toBeGreaterThan(300)
})
