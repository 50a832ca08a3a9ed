import { describe, expect, test } from 'vitest'
import { hook, integer, text, World } from '../world.js'

/** A module keeps nothing from one save to the next, wherever it tries to put it; the save in which it tries may fail, and no other. */

const PLACES: [string, string, string][] = [
  ['a function', 'function count() {}', 'count'],
  ['an arrow', 'const count = () => 1', 'count'],
  ['a class', 'class Count {}', 'Count'],
  ['the prototype of a class', 'class Count {}', 'Count.prototype'],
  ['what an instance inherits', 'class Count {}', 'Object.getPrototypeOf(new Count())'],
  ['the constructor of an instance', 'class Count {}', '(new Count() as any).constructor'],
  ['a method of a class', 'class Count { go() {} }', 'Count.prototype.go'],
  ['a static method', 'class Count { static go() {} }', 'Count.go'],
  ['the prototype of a function', 'function count() {}', '(count as any).prototype'],
  ['the prototype of a generator', 'function* count() {}', '(count as any).prototype'],
  ['a function in a list', 'const all = [() => 1]', 'all[0]'],
  ['a function in an object', 'const all = { go() {} }', 'all.go'],
  ['a named function in an object', 'const all = { go: function me() {} }', 'all.go'],
  ['a function in a map', "const all = new Map([['go', () => 1]])", "all.get('go')"],
  ['a function in a set', 'const all = new Set([() => 1])', '[...all][0]'],
  ['a pattern', 'const count = /x/', 'count'],
  ['a pattern in a list', 'const all = [/x/]', 'all[0]'],
]
const WAYS: [string, (place: string) => string][] = [
  ['Reflect.set', (place) => `Reflect.set(${place} as any, 'kept', row.now.qty)`],
  [
    'Object.defineProperty',
    (place) =>
      `try { Object.defineProperty(${place} as any, 'kept', { value: row.now.qty, configurable: true, writable: true }) } catch {}`,
  ],
  ['Object.assign', (place) => `try { Object.assign(${place} as any, { kept: row.now.qty }) } catch {}`],
  ['an alias', (place) => `const alias: any = ${place}; try { alias.kept = row.now.qty } catch {}`],
]
const tables = { item: { fields: { name: text, qty: integer } } }
const world = (top: string, each: string) =>
  new World({
    tables,
    hooks: {
      h: hook(`{ table: 'item', moment: 'before-save', each(row: any) {\n${each}\n} }`).replace(
        'export default',
        `${top}\nexport default`,
      ),
    },
  })

describe.each(PLACES)('%s', (_, top, place) => {
  test.each(WAYS)('by %s', (_way, write) => {
    const w = world(top, `row.now.name = String((${place} as any).kept ?? 'nothing'); ${write(place)}`)
    for (const qty of [1, 2, 3]) expect(w.put('item', { qty })[0]!['name']).toBe('nothing')
  })
})

test('where a pattern stands', () => {
  const w = world('const p = /x/', `row.now.name = String(p.lastIndex); Reflect.set(p, 'lastIndex', 5)`)
  for (const qty of [1, 2]) expect(w.put('item', { qty })[0]!['name']).toBe('0')
  const g = world('const p = /x/g', `row.now.name = String(p.test('axb')); void p.test('axb')`)
  for (const qty of [1, 2]) expect(g.put('item', { qty })[0]!['name']).toBe('true')
})

test('a function of the definition itself', () => {
  const w = new World({
    tables,
    hooks: {
      h: hook(
        `{ table: 'item', moment: 'before-save', each: function me(row: any) { row.now.name = String((me as any).kept ?? 'nothing'); Reflect.set(me, 'kept', 1) } }`,
      ),
    },
  })
  for (const qty of [1, 2]) expect(w.put('item', { qty })[0]!['name']).toBe('nothing')
})

test('a module of lib that others import', () => {
  const w = new World({
    tables,
    lib: { shared: `export function go() { return 1 }\nexport const P = /x/\nfunction own() {}\nexport const all = { own }` },
    hooks: {
      h: `import { defineHook } from 'patient-hook'\nimport { all, go, P } from '../lib/shared'\nexport default defineHook({ table: 'item', moment: 'before-save', each(row: any) {
        const places: any[] = [go, P, all, all.own]
        row.now.name = places.map((each) => each.kept ?? '-').join('')
        for (const each of places) Reflect.set(each, 'kept', 'x')
      } })`,
    },
  })
  for (const qty of [1, 2]) expect(w.put('item', { qty })[0]!['name']).toBe('----')
})
