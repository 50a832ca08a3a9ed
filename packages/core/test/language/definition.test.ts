import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { makeRuntime } from '../../src/engine/runtime.js'
import { applyMend } from '../../src/findings/index.js'
import { changeDefinition, newHookCode, readDefinition, type DefinitionPart } from '../../src/language/definition.js'
import { readFolder } from '../../src/model/folder.js'

/** The form beside the code: what it reads is what runs, and what it writes changes nothing else. */

const demo = readFolder(join(import.meta.dirname, '../../../../demo'))
const { program } = makeRuntime(demo)
const FILE = 'plugins/p/hooks/h.ts'

test.each(program.hooks.map((hook) => [hook.name, hook] as const))('reads what runs: %s', (_, hook) => {
  expect(readDefinition(hook.file, demo.get(hook.file)!)).toMatchObject({
    table: hook.table,
    moment: hook.moment,
    on: [...hook.on],
    watch: hook.watch ?? [],
    after: hook.after,
    computed: [],
  })
})

const change = (text: string, part: DefinitionPart, value: string | string[]) =>
  applyMend(text, changeDefinition(FILE, text, part, value))

describe('a change of one part', () => {
  const names = fc.uniqueArray(fc.constantFrom('qty', 'rate', 'note', "it's"), { maxLength: 3 })
  const steps = fc.array(
    fc.oneof(
      fc.record({ part: fc.constantFrom('watch', 'after') as fc.Arbitrary<DefinitionPart>, value: names }),
      fc.record({
        part: fc.constant('on' as const),
        value: fc.uniqueArray(fc.constantFrom('create', 'update', 'delete'), { minLength: 1 }),
      }),
      fc.record({ part: fc.constant('table' as const), value: fc.constantFrom('lot', 'site') }),
      fc.record({ part: fc.constant('moment' as const), value: fc.constantFrom('before-save', 'after-save') }),
    ),
    { maxLength: 8 },
  )
  const starts = [
    newHookCode({ table: 'lot', moment: 'before-save', on: ['create', 'update'], watch: [] }),
    `import { defineHook } from 'patient-hook'\nexport default defineHook({ table: 'lot', moment: 'before-save', each(row) { void row } })\n`,
    `import { defineHook } from 'patient-hook'\nexport default defineHook({\n  // why\n  table: 'lot', // the lot\n  moment: 'before-save',\n  watch: ['qty'], // only then\n  each(row) {\n    void row\n  }\n})\n`,
  ]

  test.each(starts)('is what is read afterwards, and the rest stays: %s', (start) => {
    fc.assert(
      fc.property(steps, (list) => {
        let text = start
        for (const { part, value } of list) {
          const before = readDefinition(FILE, text)!
          text = change(text, part, value)
          const after = readDefinition(FILE, text)!
          if (typeof value === 'string') expect(after[part]).toBe(value)
          else expect([...after[part]].sort()).toEqual([...value].sort())
          for (const other of ['table', 'moment', 'on', 'watch', 'after'] as const)
            if (other !== part) expect(after[other]).toEqual(before[other])
          expect(after.parts).toContain('each')
          // What the code does stays; only a sketch that nobody has touched gives way to the sketch of another moment.
          expect(text).toContain(start === starts[0] ? 'each(row' : 'void row')
        }
      }),
      { numRuns: 150, seed: 8 },
    )
  })

  test('and back again leaves the text as it was', () => {
    for (const start of starts)
      for (const [part, value] of [
        ['after', ['x']],
        ['on', ['delete']],
      ] as const) {
        const there = change(start, part, [...value])
        expect(there).not.toBe(start)
        expect(change(there, part, part === 'on' ? ['create', 'update'] : [])).toBe(start)
      }
  })

  test('a computed part is left to the code', () => {
    const text = `const list = ['qty']\nexport default defineHook({ table: 'lot', moment: 'before-save', watch: list, each() {} })`
    expect(readDefinition(FILE, text)!.computed).toEqual(['watch'])
    expect(changeDefinition(FILE, text, 'watch', ['rate'])).toEqual([])
    expect(readDefinition(FILE, 'export const x = 1')).toBeNull()
  })
})

test.each(['before-save', 'after-save', 'before-commit'])('a new hook at %s runs as it is', (moment) => {
  const text = newHookCode({ table: 'lot', moment, on: ['update'], watch: ['bay'] })
  const files = new Map([...demo, ['plugins/vault/hooks/fresh.ts', text]])
  const fresh = makeRuntime(files).program.hooks.find((hook) => hook.name === 'fresh')!
  expect(fresh).toMatchObject({ table: 'lot', moment, watch: ['bay'] })
})
