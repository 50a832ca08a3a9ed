import { describe, expect, test } from 'vitest'
import { errorOf } from '../error-of.js'
import { hook, integer, text, World } from '../world.js'

/**
 * What is known of a hook by its syntax makes saves cheaper and nothing else: hooks that write in ways that are hard to see have their values
 * compared, checked and noted as theirs, as any other.
 */

const fields = { name: text, qty: integer, kind: { type: 'string', enum: ['a', 'b'] }, on: { type: 'string', format: 'date' } }
const world = (hooks: Record<string, string>) => new World({ tables: { item: { fields } }, hooks })
const before = (each: string, more = '') =>
  hook(`{ table: 'item', moment: 'before-save', ${more} each(row: any, loaded: any) {\n${each}\n} }`)

/** Every target that ECMAScript can assign to, around a place. */
const targets: readonly (readonly [string, (place: string, value: string) => string])[] = [
  ['=', (place, value) => `${place} = ${value}`],
  ['+=', (place, value) => `${place} = null; ${place} ??= ${value}`],
  ['in brackets', (place, value) => `(${place}) = ${value}`],
  ['of a list', (place, value) => `[${place}] = [${value}]`],
  ['of a list, with a default', (place, value) => `[${place} = ${value}] = []`],
  ['rest of a list', (place, value) => `[, ...[${place}]] = [0, ${value}]`],
  ['of an object', (place, value) => `({ a: ${place} } = { a: ${value} })`],
  ['of an object, with a default', (place, value) => `({ a: ${place} = ${value} } = {})`],
  ['deep in a pattern', (place, value) => `({ a: [{ b: ${place} }] } = { a: [{ b: ${value} }] })`],
  ['of for of', (place, value) => `for (${place} of [${value}]);`],
  ['of for of, in a list', (place, value) => `for ([${place}] of [[${value}]]);`],
  ['of for of, in an object', (place, value) => `for ({ a: ${place} } of [{ a: ${value} }]);`],
  ['of for of, deep', (place, value) => `for ({ a: [${place} = ${value}] } of [{ a: [] }]);`],
  ['through an assertion', (place, value) => `(${place} as any) = ${value}`],
  ['that is sure', (place, value) => `${place}! = ${value}`],
  ['that satisfies', (place, value) => `(${place} satisfies any) = ${value}`],
  ['of a nested assignment', (place, value) => `let x: any; x = ${place} = ${value}; void x`],
  ['in a comma', (place, value) => `(0, (${place} = ${value}))`],
  ['in an argument', (place, value) => `String(${place} = ${value})`],
  ['in a condition', (place, value) => `if ((${place} = ${value})) void 0`],
  ['in a template', (place, value) => `void \`\${(${place} = ${value})}\``],
]
const places = ['row.now.qty', "row.now['qty']", 'row.now[`qty`]', "row.now['q' + 'ty']", 'now.qty']

describe.each(targets)('%s', (_, write) => {
  test.each(places)('of %s', (place) => {
    const bind = place.startsWith('now') ? 'const { now } = row; ' : ''
    const w = world({ sets: before(bind + write(place, '7')) })
    const { rows } = w.run([{ table: 'item', values: { name: 'x' } }])
    expect(rows[0]!.changes).toContainEqual({ field: 'qty', from: null, to: 7, by: 'sets', kind: 'hook' })
    const bad = world({ sets: before(bind + write(place, `'many'`)) })
    const error = errorOf(() => bad.run([{ table: 'item', values: { name: 'x' } }]))
    expect(error).toMatchObject({ code: 'hook/wrong-type', hook: 'sets', field: 'qty' })
    expect(bad.all('item')).toEqual([])
  })
})

test('for in: the names that it gives are no integers', () => {
  const w = world({ sets: before(`for (row.now.qty in { a: 1 });`) })
  expect(errorOf(() => w.put('item', { name: 'x' }))).toMatchObject({ code: 'hook/wrong-type', field: 'qty' })
})

const WAYS: [string, string][] = [
  ['within became', before(`row.became((r: any) => { for (r.qty of ['many']); return true })`)],
  ['within load', before('', `load({ rows }: any) { for (rows[0].now.qty of ['many']); },`)],
  [
    'by a quoted only',
    hook(`{ table: 'item', moment: 'before-save', 'only'(row: any) { row.now.qty = 'many'; return true }, each() {} }`),
  ],
  [
    'by the second of two definitions',
    `import { defineHook } from 'patient-hook'
const first = defineHook({ table: 'item', moment: 'before-save', each(row) { row.now.name = 'x' } })
void first
export default defineHook({ table: 'item', moment: 'before-save', each(row: any) { row.now.qty = 'many' } })
export const last = defineHook({ table: 'item', moment: 'before-save', each(row) { row.now.name = 'x' } })`,
  ],
  [
    'under another name of defineHook',
    `import { defineHook as make, defineHook } from 'patient-hook'
export default make({ table: 'item', moment: 'before-save', each(row: any) { row.now.qty = 'many' } })
export const other = defineHook({ table: 'item', moment: 'before-save', each() {} })`,
  ],
  [
    'to an earlier row of the batch',
    before(`loaded.push(row); loaded[0].now.qty = loaded.length > 1 ? 'many' : 1`, 'load: () => [] as any[],'),
  ],
  ['of a choice', before(`for (row.now.kind of ['zzz']);`)],
  ['of a date', before(`[row.now.on] = ['soon']`)],
  ['of half a character', before(`[row.now.name] = ['\\ud800']`)],
  ['of the id', before(`[row.now.id] = [99]`)],
]
test.each(WAYS)('a wrong value is never written: %s', (_, code) => {
  const w = world({ sets: code })
  const { error, kept } = w.try([1, 2].map((qty) => ({ table: 'item', values: { name: 'x', qty, kind: 'a' } })))
  expect(kept).toBe(false)
  expect(error?.code).toMatch(/^hook\/(wrong-type|readonly)$/)
  expect(w.all('item')).toEqual([])
  expect(w.all('ph_history')).toEqual([])
})

test('what is written to an earlier row is its hook’s, in the history too', () => {
  const w = world({ sets: before(`loaded.push(row); loaded[0].now.qty = loaded.length`, 'load: () => [] as any[],') })
  w.put('item', { name: 'x', qty: 0 }, { name: 'y', qty: 0 })
  expect(w.all('item').map(({ qty }) => qty)).toEqual([2, 0])
  const [cause] = w.store.values('SELECT cause FROM ph_history ORDER BY id') as string[]
  expect(JSON.parse(cause!)).toMatchObject({ qty: 'p/sets@1.2.3' })
})

test('a field that was not read since no hook seemed to look at it is read', () => {
  const w = world({
    looks: before(`for (const name of ['q' + 'ty']) { const { [name]: value } = row.now; row.now.name = String(value) }`),
  })
  w.load('item', [{ id: 1, name: 'x', qty: 5 }])
  w.run([{ table: 'item', values: { id: 1, kind: 'a' } }], { record: false })
  expect(w.all('item')[0]).toMatchObject({ name: '5', kind: 'a' })
})
