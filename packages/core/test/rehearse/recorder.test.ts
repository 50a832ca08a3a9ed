import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { makeRuntime } from '../../src/engine/runtime.js'
import { readFolder } from '../../src/model/folder.js'
import { fixtureStore } from '../../src/prove/fixtures/fixture-store.js'
import { runTests } from '../../src/prove/run-tests.js'
import { preview } from '../../src/rehearse/preview.js'
import type { LineTrace } from '@patient-hook/contract'
import { makeSheet, type Sheet, type SheetRequest } from '../../src/rehearse/sheet.js'
import { filesOf, hook, integer, link, text, type Source } from '../world.js'

/** What a rehearsal tells of each line, and that being recorded changes nothing. */

const demo = readFolder(join(import.meta.dirname, '../../../../demo'))

const demos = new Map(
  [true, false].map((recorded) => [recorded, makeRuntime(demo, { equipment: recorded ? 'probed' : 'plain' })]),
)

function sheetOf(files: ReadonlyMap<string, string>, request: SheetRequest, recorded = true): Sheet {
  const { project, program, probe } =
    files === demo ? demos.get(recorded)! : makeRuntime(files, { equipment: recorded ? 'probed' : 'plain' })
  return makeSheet(
    { project, program, probe, store: fixtureStore(project, 'base') },
    { clock: '2026-01-01T00:00:00Z', ...request },
  )
}

const body = (code: string) => `{\n  table: 'child',\n  moment: 'before-save',\n  each(row, loaded: any) {\n${code}\n  },\n}`
const source = (code: string, more: Partial<Source> = {}): Source => ({
  tables: {
    parent: { fields: { name: text, rate: integer } },
    child: { fields: { parent: link('parent'), a: integer, b: integer, c: text } },
  },
  hooks: { h: hook(body(code)) },
  fixtures: {
    base: {
      parent: [{ id: 1, name: 'p', rate: 3 }],
      child: [
        { id: 1, parent: 1, a: 2, b: 10, c: 'x' },
        { id: 2, parent: null, a: 5, b: 20, c: null },
      ],
    },
  },
  ...more,
})
const lines = (code: string, request: Partial<SheetRequest> = {}, more: Partial<Source> = {}) =>
  sheetOf(filesOf(source(code, more)), { table: 'child', event: 'update', ...request })
/** `each` of the hook begins at line 5 of its file: its first line of code is line 6. */
const at = (sheet: Sheet, line: number): LineTrace | undefined => sheet.lines.find((each) => each.line === line)
const values = (sheet: Sheet, line: number) =>
  Object.fromEntries((at(sheet, line)?.values ?? []).map((each) => [each.name, [each.count, each.first, each.last]]))

test('the sheet of every demo hook opens without an error, at each of its events', () => {
  const { project, program } = demos.get(true)!
  for (const each of program.hooks)
    for (const event of each.on)
      for (const set of project.fixtures.keys()) {
        const { probe } = demos.get(true)!
        const touch = event === 'update' ? [each.watch?.[0] ?? project.tables.get(each.table)!.fields[0]!.name] : undefined
        const store = fixtureStore(project, set)
        const sheet = makeSheet(
          { project, program, probe, store },
          { table: each.table, event, touch, clock: '2026-01-01T00:00:00Z' },
        )
        expect([each.name, event, set, sheet.error]).toEqual([each.name, event, set, null])
        store.close()
      }
})

describe('values by line', () => {
  test('declarations, assignments, tests and branches, for the chosen row', () => {
    const code = `const a = row.now.a ?? 0\nconst { b, c } = row.now\nif (a > 3) row.now.b = a * 2\nelse row.now.c = 'low'`
    const first = lines(code)
    expect(values(first, 6)).toEqual({ a: [1, '2', '2'] })
    expect(values(first, 7)).toEqual({ b: [1, '10', '10'], c: [1, '"x"', '"x"'] })
    expect(values(first, 8)).toEqual({ if: [1, 'false', 'false'] })
    expect(values(first, 9)).toEqual({ 'row.now.c': [1, '"low"', '"low"'] })
    const second = lines(code, { focus: 2 })
    expect(second.focus).toBe(2)
    expect(values(second, 8)).toEqual({ if: [1, 'true', 'true'], 'row.now.b': [1, '10', '10'] })
    expect(at(second, 9)).toBeUndefined()
  })

  test('loops with their turns, first and last values', () => {
    const sheet = lines(`let sum = 0\nfor (const n of [3, 4, 5]) {\nsum += n\n}\nwhile (sum > 10) sum--\nrow.now.a = sum`)
    expect(at(sheet, 7)).toMatchObject({ turns: 3 })
    expect(values(sheet, 7)).toEqual({ n: [3, '3', '5'] })
    expect(values(sheet, 8)).toEqual({ sum: [3, '3', '12'] })
    expect(at(sheet, 10)).toMatchObject({ turns: 2 })
    expect(values(sheet, 11)).toEqual({ 'row.now.a': [1, '10', '10'] })
  })

  test('what a call gives, told from what a name holds', () => {
    const sheet = lines(`const put = (n: number) => { row.now.a = n; return n * 2 }\nput(4)`)
    expect(values(sheet, 7)).toEqual({ 'put()': [1, '8', '8'] })
  })

  test('guards, look-ups with the number found, and modules of lib', () => {
    const sheet = sheetOf(
      filesOf({
        ...source(''),
        hooks: {
          h: `import { defineHook } from 'patient-hook'\nimport { twice } from '../lib/twice'\nexport default defineHook({ table: 'child', moment: 'before-save',\nonly: row => row.now.parent !== null,\nload: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent), ['rate']),\neach(row, parents) {\nrow.now.a = twice(parents.get(row.now.parent)?.rate ?? 0)\n} })`,
        },
        lib: { twice: `export function twice(n: number) {\n  return n * 2\n}` },
      }),
      { table: 'child', event: 'update' },
    )
    const of = (file: string, line: number) => sheet.lines.find((each) => each.file.endsWith(file) && each.line === line)
    expect(of('h.ts', 4)).toMatchObject({ of: 'row', values: [{ name: 'only', last: 'true' }] })
    expect(of('h.ts', 5)).toMatchObject({ of: 'batch', values: [{ name: 'load', last: '1 found: 1: { id: 1, rate: 3 }' }] })
    expect(of('h.ts', 7)).toMatchObject({ of: 'row', values: [{ name: 'row.now.a', last: '6' }] })
    expect(of('twice.ts', 2)).toMatchObject({ values: [{ name: 'return', last: '6' }] })
  })
})

describe('who wrote a cell', () => {
  const changeOf = (sheet: Sheet, id: number, field: string) =>
    sheet.rows.find((row) => row.id === id)!.changes.find((each) => each.field === field)

  test('the line, also by Object.assign and from lib, for every row', () => {
    const sheet = lines(`const made = { a: 9 }\nObject.assign(row.now, made)\nif (row.id === 2) {\n  row.now.b = 1\n}`)
    expect(changeOf(sheet, 1, 'a')).toMatchObject({ to: 9, by: 'h', at: { file: 'plugins/p/hooks/h.ts', line: 7 } })
    expect(changeOf(sheet, 2, 'a')).toMatchObject({ at: { line: 7 } })
    expect(changeOf(sheet, 2, 'b')).toMatchObject({ at: { line: 9 } })
  })

  test('the line that assigns, not a line of the function that worked the value out; or the line within, where that one writes', () => {
    const files = filesOf({
      ...source(''),
      hooks: {
        h: `import { defineHook } from 'patient-hook'\nimport { twice, put } from '../lib/help'\nexport default defineHook({ table: 'child', moment: 'before-save',\neach(row) {\nrow.now.a = twice(4)\nput(row.now)\n} })`,
      },
      lib: {
        help: `export function twice(n: number) {\n  const m = n * 2\n  return m\n}\nexport function put(now: any) {\n  now.b = twice(1)\n}`,
      },
    })
    const sheet = sheetOf(files, { table: 'child', event: 'update' })
    expect(changeOf(sheet, 1, 'a')).toMatchObject({ at: { file: 'plugins/p/hooks/h.ts', line: 5 } })
    expect(changeOf(sheet, 1, 'b')).toMatchObject({ at: { file: 'plugins/p/lib/help.ts', line: 6 } })
  })

  test('a typed value has no line, an effect has the line that asked for it', () => {
    const push = hook(
      `{ table: 'parent', moment: 'after-save', load: ({ rows, store }) => store.children('child', 'parent', rows.map(r => r.id), []),\neach(row, children, { update }) {\nfor (const child of children.get(row.id) ?? [])\nupdate('child', child.id, { b: row.now.rate })\n} }`,
    )
    const files = filesOf({ ...source(''), hooks: { push } })
    const sheet = sheetOf(files, { table: 'parent', event: 'update', touch: ['rate'] })
    expect(sheet.rows[0]!.changes[0]).toMatchObject({ field: 'rate', kind: 'typed' })
    expect(sheet.rows[0]!.changes[0]!.at).toBeUndefined()
    expect(sheet.ripples[0]!.changes[0]).toMatchObject({ field: 'b', kind: 'ripple', at: { line: 5 } })
  })

  test('a refused row keeps what was recorded of it, though the save goes on without it', () => {
    const sheet = lines(`const a = row.now.a\nif (row.id === 1) row.refuse('a', 'no')\nrow.now.b = 0`)
    expect(sheet.refusals).toHaveLength(1)
    expect(values(sheet, 6)).toEqual({ a: [1, '2', '2'] })
    expect(changeOf(sheet, 1, 'b')).toMatchObject({ at: { line: 8 } })
  })
})

describe('being recorded changes nothing', () => {
  const { tables } = demos.get(false)!.project
  const plain = (sheet: Sheet) => ({
    ...sheet,
    lines: [],
    spent: { ...sheet.spent, ms: 0, steps: 0 },
    rows: sheet.rows.map((row) => ({ ...row, changes: row.changes.map(({ at: _, ...change }) => change) })),
    ripples: sheet.ripples.map((row) => ({ ...row, changes: row.changes.map(({ at: _, ...change }) => change) })),
  })

  test.each(
    [...tables.keys()].flatMap((table) => (['create', 'update', 'delete'] as const).map((event) => [table, event] as const)),
  )('in the sheet of %s, %s', (table, event) => {
    const touch = tables
      .get(table)!
      .fields.slice(0, 3)
      .map((field) => field.name)
    const request: SheetRequest = { table, event, touch }
    expect(plain(sheetOf(demo, request))).toEqual(plain(sheetOf(demo, request, false)))
  })

  test('in the demo’s own tests', () => {
    const outcome = (recorded: boolean) =>
      runTests(demos.get(recorded)!).map(({ file, name, status }) => `${status} ${file} ${name}`)
    expect(outcome(true)).toEqual(outcome(false))
  })

  test('in odd but valid code', () => {
    const odd = [
      `let i = 0\nfor (;;) { if (i++ > 2) break }\nrow.now.a = i`,
      `const f = (n: number): number => n < 2 ? n : f(n - 1) + f(n - 2)\nrow.now.a = f(7)`,
      `outer: for (const x of [1, 2]) { for (const y of [1, 2]) { if (x === y) continue outer } }\nrow.now.a = 1, row.now.b = 2`,
      `switch (row.now.a) { case 2: row.now.b = 1; break; case 5: { const { id } = row; row.now.b = id; break } default: row.now.b = 3 }`,
      `class P { x = 1; get y() { return this.x } static z = () => 2 }\nrow.now.a = new P().y + P.z()`,
      `function* g() { const x: number = yield 1; yield x }\nrow.now.a = [...g()].length`,
      `try { throw new Error('x') } catch { row.now.c = 'caught' } finally { row.now.b = 1 }`,
      `const [p, ...q] = [1, 2, 3]; const { a: { z = 4 } = {} } = {} as any\nrow.now.a = p + q.length + z`,
      `const t = (s: TemplateStringsArray, n: number) => s.join('-') + n\nrow.now.c = t\`x\${1}y\``,
      `do row.now.b = 1; while (false)\nif (row.now.a) if (row.now.b) row.now.c = 'p'; else row.now.c = 'q'`,
      `row.now.a ??= 7; row.now.b! += 1; const o: any = {}; o['k'] = () => 1; row.now.a = o.k()`,
      `const x = [1, 2, 3].map(n => ({ n })).filter(({ n }) => n > 1)\nrow.now.a = x.length;;`,
      `const later = () => { row.now.c = 'late' }\nlater()\nreturn`,
    ]
    for (const code of odd) {
      const files = filesOf(source(code))
      const request: SheetRequest = { table: 'child', event: 'update' }
      const sheet = sheetOf(files, request)
      expect([sheet.error, sheet.refusals], code).toEqual([null, []])
      expect(plain(sheet), code).toEqual(plain(sheetOf(files, request, false)))
    }
  })
})

test('previews are short and run no code', () => {
  expect(preview('x'.repeat(500)).length).toBeLessThanOrEqual(60)
  expect(preview(new Map([[1, { a: [1, 2] }]]))).toBe('1 found: 1: { a: 2 items }')
  expect(preview([])).toBe('0 items')
  expect(
    preview({
      get secret() {
        throw new Error('ran')
      },
      b: 1,
    }),
  ).toBe('{ b: 1 }')
  expect(preview(undefined)).toBe('undefined')
})
