import ts from 'typescript'
import { describe, expect, test } from 'vitest'
import { makeRuntime } from '../../src/engine/runtime.js'
import { runTests } from '../../src/prove/run-tests.js'
import { stateOf } from '../../src/sandbox/module-state.js'
import { readFolder } from '../../src/model/folder.js'
import { filesOf, hook, integer, text, World } from '../world.js'

/** What a module holds outside of its functions is gone with the save, and with the test. */

const keeps = (code: string) => stateOf(ts.createSourceFile('m.ts', code, ts.ScriptTarget.ES2022, true)).keepsState

describe('told from the text', () => {
  test.each([
    ['a constant', 'const LEAST = 5\nexport const MOST: number = LEAST * 2'],
    ['texts, patterns, null', "const a = 'x', b = /y+/i, c = null, d = `n${LEAST}`, e = -1, f = a ? b : c"],
    ['functions', 'const half = (n: number) => n / 2\nexport function twice(n) { let m = n; m++; return m }'],
    [
      'a list that is read',
      "const CARE = ['low', 'high']\nexport const isCare = (word) => CARE.includes(word) && CARE.length > 1",
    ],
    ['a table that is read', 'const RATE = { low: 1, high: 2 }\nexport const rate = (word) => RATE[word] ?? RATE.low'],
    ['a map that is read', "const RATE = new Map([['low', 1]])\nexport const rate = (word) => RATE.get(word)"],
    ['a list that is exported', "export const CARE = ['low', { name: 'high' }]"],
    [
      'a hook',
      "import { defineHook } from 'patient-hook'\nexport default defineHook({ table: 't', moment: 'before-save', each(row) { row.now.n = 1 } })",
    ],
    ['types', 'interface A { b: number }\ntype C = A\nexport type { C }'],
    ['a let that nobody sets', 'let n = 5\nexport const read = () => n'],
    [
      'tests',
      "import { test } from 'patient-hook/test'\nconst CASES = [1, 2]\ntest.each(CASES)('x', () => {})\ndescribe('y', () => { const a = 1; test('z', () => { let b = a; b++ }) })",
    ],
    ['a class', 'class A { n = 0; add() { this.n++ } }\nexport const f = () => new A()'],
  ])('nothing: %s', (_, code) => expect(keeps(code)).toBe(false))

  test.each([
    ['a count', 'let n = 0\nexport const next = () => ++n'],
    ['a var', 'var n = 0\nexport function next() { n += 1; return n }'],
    ['a list that grows', 'const seen = []\nexport const see = (x) => seen.push(x)'],
    ['a list that is sorted', 'const order = [3, 1]\nexport const first = () => order.sort()[0]'],
    ['a map', 'const seen = new Map()\nexport const see = (x) => seen.set(x, 1)'],
    ['an object', 'const last = { id: 0 }\nexport const see = (x) => { last.id = x }'],
    ['an object by bracket', 'const last = { id: 0 }\nexport const see = (x) => { last["id"]++ }'],
    ['deleted from', 'const last = { id: 0 }\nexport const see = () => { delete last.id }'],
    [
      'a list of objects that are handed out',
      'const all = [{ n: 0 }]\nexport const see = () => { for (const each of all) each.n++ }',
    ],
    ['one found and changed', 'const all = [{ n: 0 }]\nexport const see = () => { all.find((each) => each).n = 1 }'],
    ['handed to somebody', 'const box = { n: 0 }\nexport const see = (f) => f(box)'],
    ['given away', 'const box = []\nexport const get = () => box'],
    ['another name for it', 'const box = []\nconst other = box\nexport const see = (x) => other.push(x)'],
    ['a closure', 'const next = (() => { let n = 0; return () => ++n })()'],
    ['a function made by another', 'function count() { let n = 0; return () => ++n }\nconst next = count()'],
    ['a pattern that remembers', 'const word = /a/g\nexport const has = (x) => word.test(x)'],
    ['a property of a function', 'export function f() { f.n = (f.n ?? 0) + 1 }'],
    ['a static field', 'class A { static n = 0 }\nexport const f = () => A.n++'],
    ['an instance', 'class A { n = 0 }\nconst a = new A()\nexport const f = () => a.n++'],
    ['the global object', 'export const f = () => { globalThis.n = 1 }'],
    ['a pattern of places', 'let a = 0, b = 0\nexport const f = () => { [a, b] = [1, 2] }'],
    ['a pattern of names', 'let a = 0, c = 0\nexport const f = (x) => { ({ a, b: c } = x) }'],
    ['the rest of a pattern', 'let a = null\nexport const f = (x) => { [, ...a] = x }'],
    ['a loop’s own name', 'let n = 0\nexport const f = (x) => { for (n of x) ; return n }'],
    ['within a describe', "describe('x', () => { let n = 0; test('y', () => { n++ }) })"],
    ['an exported map', 'export const seen = new Map()'],
  ])('something: %s', (_, code) => expect(keeps(code)).toBe(true))

  test('the demo keeps nothing, so it pays nothing', () => {
    for (const [file, code] of readFolder(new URL('../../../../demo', import.meta.url).pathname))
      if (/\/(hooks|lib)\/.*\.ts$/.test(file)) expect([file, keeps(code)]).toEqual([file, false])
  })
})

const tables = { t: { fields: { n: integer, m: text } } }
const COUNTING =
  "import { next } from '../lib/count'\n" + hook(`{ table: 't', moment: 'before-save', each(row) { row.now.n = next() } }`)

describe('each save starts over', () => {
  test.each([
    ['a count in a module', { count: 'let n = 0\nexport const next = () => ++n' }],
    ['a closure', { count: 'export const next = (() => { let n = 0; return () => ++n })()' }],
    ['a list', { count: 'const seen: number[] = []\nexport const next = () => seen.push(0)' }],
    [
      'a module that the module imports',
      { count: "import { up } from './up'\nexport const next = () => up()", up: 'let n = 0\nexport const up = () => ++n' },
    ],
  ])('%s', (_, lib) => {
    const world = new World({ tables, hooks: { h: COUNTING }, lib: lib as unknown as Record<string, string> })
    for (let round = 0; round < 3; round++) expect(world.put('t', {}, {}).map((each) => each['n'])).toEqual([1, 2])
    // Also each pass of a partial save.
    expect(
      world.run(
        [
          { table: 't', values: {} },
          { table: 't', values: { m: 5 as never } },
        ],
        { partial: true },
      ).records[0],
    ).toMatchObject({ n: 1 })
  })

  test('in the hook’s own file, with a guard that counts', () => {
    const world = new World({
      tables,
      hooks: {
        h: `let seen = 0\n${hook(`{ table: 't', moment: 'before-save', only: () => ++seen === 1, each(row) { row.now.n = seen } }`)}`,
      },
    })
    for (let round = 0; round < 3; round++) expect(world.put('t', {}, {}).map((each) => each['n'])).toEqual([2, null])
  })

  test('a list or object that is exported cannot be changed', () => {
    const world = new World({
      tables,
      hooks: {
        h:
          "import { TABLE } from '../lib/table'\n" +
          hook(`{ table: 't', moment: 'before-save', each(row) { TABLE.rates.low = 5; row.now.n = TABLE.rates.low } }`),
      },
      lib: { table: 'export const TABLE = { rates: { low: 1 } }' },
    })
    expect(world.try([{ table: 't', values: {} }]).error).toMatchObject({ code: 'hook/readonly', hook: 'h' })
  })

  test('a module that fails when it is run again is an error of that save', () => {
    const lib = { once: 'let n = 0\nexport const f = () => ++n' }
    const world = new World({ tables, hooks: { h: COUNTING.replace('count', 'once').replace('{ next }', '{ f as next }') }, lib })
    expect(world.put('t', {})[0]).toMatchObject({ n: 1 })
  })
})

describe('each test starts over', () => {
  const results = (source: string, lib: Record<string, string> = {}) =>
    runTests(
      makeRuntime(
        filesOf({
          tables,
          hooks: { h: COUNTING },
          lib: { count: 'let n = 0\nexport const next = () => ++n', ...lib },
          tests: { all: source },
        }),
      ),
    ).map((each) => `${each.status} ${each.name}`)

  test('a count of the file, of a describe, of a module', () => {
    const source = `import { test, describe, expect } from 'patient-hook/test'
import { next } from '../lib/count'
let n = 0
const seen: string[] = []
test('a', ({ save }) => { n++; seen.push('a'); expect(n).toBe(1); expect(seen).toEqual(['a']); expect(next()).toBe(1); expect(save('t', {}).n).toBe(1) })
test('b', ({ save }) => { n++; seen.push('b'); expect(n).toBe(1); expect(seen).toEqual(['b']); expect(next()).toBe(1); expect(save('t', {}).n).toBe(1) })
describe('c', () => {
  let m = 0
  test('d', () => { m++; expect(m).toBe(1) })
  test.each([1, 2])('e %s', () => { m++; expect(m).toBe(1) })
})`
    expect(results(source)).toEqual(['passed a', 'passed b', 'passed c › d', 'passed c › e 1', 'passed c › e 2'])
  })

  test('what one test needs of another is not there', () => {
    const source = `import { test, expect } from 'patient-hook/test'
let id = 0
test('makes', ({ save }) => { id = save('t', {}).id; expect(id).toBe(1) })
test('uses', () => { expect(id).toBe(1) })`
    expect(results(source)).toEqual(['passed makes', 'failed uses'])
  })
})
