import fc from 'fast-check'
import ts from 'typescript'
import { describe, expect, test, vi } from 'vitest'
import { Program } from '../../src/save/program.js'
import type { Value } from '../../src/model/types.js'
import { touchedFields, touchedFieldsOfRows } from '../../src/sandbox/written-fields.js'
import { hook, integer, link, number, text, World, type Source } from '../world.js'

const going = vi.hoisted(() => ({ little: 0 }))
vi.mock('../../src/store/shape.js', async (original) => {
  const real = await original<typeof import('../../src/store/shape.js')>()
  const shapeOfFields: typeof real.shapeOfFields = (...given) => {
    going.little++
    return real.shapeOfFields(...given)
  }
  return { ...real, shapeOfFields }
})

/** Of records that are updated no more is read than hooks can touch; nothing of that may be seen in what a save does. */

function partOf(part: string): ts.Node {
  const source = ts.createSourceFile('h.ts', `({ ${part} })`, ts.ScriptTarget.ES2022, true)
  const [statement] = source.statements
  const literal = ((statement as ts.ExpressionStatement).expression as ts.ParenthesizedExpression).expression
  return (literal as ts.ObjectLiteralExpression).properties[0]!
}
const sorted = (fields: ReadonlySet<string> | null) => fields && [...fields].sort()

describe('which fields a function can touch', () => {
  test.each([
    ['each(row) {}', []],
    ['each(row) { row.now.a = row.now.b; row.now["c"] ??= row.was?.d }', ['a', 'b', 'c', 'd']],
    ['each({ now, refuse }) { if (now.a > 1) refuse("b", "no") }', ['a']],
    ['each({ now: { a, b: c }, was: { d } }) { void [a, c, d] }', ['a', 'b', 'd']],
    ['each(row) { const { now } = row; const { a, b } = now; now.c = a + b }', ['a', 'b', 'c']],
    [
      'each(row) { const { a } = row.was; if (row.changed("b", "c") && row.changes.length > a) row.now.d = 1 }',
      ['a', 'b', 'c', 'd'],
    ],
    ['each(row) { if (row.was === null || row.became(r => r.a > 1 && r.b)) row.now.c = 2 }', ['a', 'b', 'c']],
    ['each(row, m) { row.now.a = m.get(row.now.k)?.v ?? null; const other = { now: 1 }; void other.now }', ['a', 'k']],
    ['each(row, _, { update }) { update("p", row.now.p, { x: row.was!.q }) }', ['p', 'q']],
  ] as const)('%s', (part, fields) => {
    expect(sorted(touchedFields(partOf(part)))).toEqual([...fields])
  })

  test.each([
    'each(row) { const copy = { ...row.now } }',
    'each(row) { const { a, ...rest } = row.now }',
    'each({ now: { a, ...rest } }) {}',
    'each({ was }) { void was.a }',
    'each({ changed }) { changed("a") }',
    'each(row) { void row.now[name] }',
    'each(row) { void row.was[name] }',
    'each(row) { help(row.was) }',
    'each(row) { const was = row.was; void was.a }',
    'each(row) { const ask = row.changed; ask("a") }',
    'each(row) { row.changed(...names) }',
    'each(row) { row.changed(name) }',
    'each(row) { if ("a" in row.now) row.now.b = 1 }',
    'each(row) { row.became(({ a }) => a) }',
    'each(row) { row.became(r => r[name]) }',
    'each(row) { for (const name in row.now) row.now.a = name }',
    'each(row) { help(row) }',
    'each(row, _, { send }) { send("x", row.now) }',
    'each: shared',
  ])('unknown: %s', (part) => {
    expect(touchedFields(partOf(part))).toBeNull()
  })

  test.each([
    [`load: ({ rows, store }) => store.byId('p', rows.map(row => row.now.a), ['b'])`, ['a']],
    [`load({ rows }) { return rows.filter(row => row.changed('a')).flatMap(({ now, id }) => [now.b, id]) }`, ['a', 'b']],
    [`finish({ rows, log }) { log(rows.map(row => row.now.a).join() + rows.length) }`, ['a']],
    ['load: () => 1', []],
    ['finish({ rows, log }) { for (const row of rows) log(row.now.a, row.was?.b) }', ['a', 'b']],
    [
      `finish({ rows, update }) { for (const { id, now: { a } } of rows) { for (const row of rows) if (row.now.b) update('p', id, { x: a }) } }`,
      ['a', 'b'],
    ],
  ] as const)('of its rows: %s', (part, fields) => {
    expect(sorted(touchedFieldsOfRows(partOf(part)))).toEqual([...fields])
  })

  test.each([
    'load: ({ rows }) => rows[0].now.a',
    'load: ({ rows }) => rows.map(row => ({ ...row.now }))',
    'finish({ rows }) { for (const row of rows) void row.now[name] }',
    'finish({ rows, send }) { for (const row of rows) send("x", row.now) }',
    'finish({ rows }) { return () => { for (const row of rows) void row.now.a } }',
    'load: shared',
  ])('of its rows, unknown: %s', (part) => {
    expect(touchedFieldsOfRows(partOf(part))).toBeNull()
  })
})

// Names that SQLite's own json_each has, too.
const FIELDS = {
  value: integer,
  key: text,
  path: number,
  name: text,
  size: { ...integer, maximum: 50 },
  code: { ...text, 'x-unique': true },
  kind: { ...text, pattern: '^[a-z]*$' },
  box: link('box'),
}
const tables: Source['tables'] = { box: { fields: { name: text, total: { ...integer, minimum: 0 } } }, item: { fields: FIELDS } }

const EACH = [
  `each(row) { row.now.value = (row.now.value ?? 0) + 1 }`,
  `watch: ['name'], each(row) { row.now.path = row.now.name === null ? null : row.now.name.length / 4 }`,
  `only: (row) => row.was?.key !== row.now.key, each(row) { row.now.name = 'key ' + row.now.key }`,
  `on: ['create'], each(row) { row.now.size ??= 1; row.now.kind ??= 'made' }`,
  `each(row) { if (row.changed('value') && row.became(r => r.value > 3)) row.refuse('value', 'more than ' + row.was?.value) }`,
  `each(row) { if (row.now.name === 'b') throw new Error('no b') }`,
  `each(row) { if (row.now.value === 5) row.refuse('key', 'not five') }`,
  `each(row) { row.refuse('colour', 'none') }`,
  `each(row) { row.now.code = row.now.key }`,
  `each(row) { const { kind } = row.now; row.now.key = kind }`,
  `each(row) { row.now.name = Object.keys({ ...row.now }).length + ' fields' }`,
  `load: ({ rows, store }) => store.byId('box', rows.map(row => row.now.box), ['name']), each(row, boxes) { row.now.name = boxes.get(row.now.box)?.name ?? null }`,
  `each(row) { row.now.colour = 1 }`,
  `each(row) { if (row.now.value === 2) row.now.size = 'many' }`,
].map((parts) => `{ table: 'item', moment: 'before-save', ${parts} }`)
const AFTER = [
  `each(row, _, { update }) { if (row.now.box !== null) update('box', row.now.box, { total: row.now.value }) }`,
  `on: ['update'], each(row, _, { update }) { if (row.now.value !== 9) update('item', row.id, { value: 9 }) }`,
  `finish({ rows, log }) { log(rows.map(row => row.now.name + ' ' + row.was?.key).join()) }`,
  `finish({ rows, store, update }) { for (const box of store.find('box', {})) if (rows.length > 1) update('box', box.id, { total: box.id === 1 ? rows.length : -1 }) }`,
  `finish({ rows, update }) { update('box', 2, { total: rows.length }) }`,
  `finish({ rows, log }) { for (const row of rows) log(JSON.stringify(row.changes)) }`,
].map((parts) => `{ table: 'item', moment: 'after-save', ${parts} }`)

const VALUES = {
  value: fc.constantFrom(null, 1, 2, 5),
  key: fc.constantFrom(null, 'k', 'l'),
  path: fc.constantFrom(null, 0.25, 1e21),
  name: fc.constantFrom(null, 'a', 'b'),
  size: fc.constantFrom(null, 3, 60),
  kind: fc.constantFrom(null, 'x', 'X'),
  box: fc.constantFrom(null, 1, 2),
}
const item = fc.record({ ...VALUES, code: fc.constant(null) })
const change = fc.record({ id: fc.integer({ min: 1, max: 6 }), values: fc.record(VALUES) })

interface Case {
  items: Record<string, Value>[]
  changes: { id: number; values: Record<string, Value> }[]
  /** Fields that the rows set; the fewer, the less is read. */
  names: string[]
  hooks: string[]
  partial: boolean
  batchSize: number
}

function run({ items, changes, names, hooks, partial, batchSize }: Case) {
  const world = new World({
    project: { batchSize },
    tables,
    hooks: Object.fromEntries(hooks.map((literal, index) => [`h-${index}`, hook(literal)])),
  })
  world.load('box', [
    { id: 1, name: 'left' },
    { id: 2, name: 'right' },
  ])
  world.load(
    'item',
    items.map((each, index) => ({ ...each, id: index + 1 })),
  )
  const rows = changes.map(({ id, values }) => ({
    table: 'item',
    values: { ...Object.fromEntries(names.map((name) => [name, values[name]!])), id },
  }))
  const { error, refusals, logs, spent, records } = world.try(rows, { record: false, partial })
  const { rowsWritten, rowsRead, queries, ripples } = spent
  return {
    error,
    refusals,
    logs,
    records,
    spent: { rowsWritten, rowsRead, queries, ripples },
    box: world.all('box'),
    item: world.all('item'),
    history: world.all('ph_history').map(({ tbl, record, depth, cause, patch }) => [tbl, record, depth, cause, patch]),
  }
}

test('whether little is read of a record or all of it, the same comes of a save', () => {
  const cases = fc.record({
    items: fc.array(item, { minLength: 1, maxLength: 6 }),
    changes: fc.uniqueArray(change, { minLength: 1, maxLength: 5, selector: ({ id }) => id }),
    names: fc.subarray(Object.keys(VALUES), { maxLength: 2 }),
    hooks: fc.subarray([...EACH, ...AFTER], { maxLength: 3 }),
    partial: fc.boolean(),
    batchSize: fc.constantFrom(1, 10),
  })
  fc.assert(
    fc.property(cases, (each) => {
      const little = run(each)
      const all = vi.spyOn(Program.prototype, 'touchedByUpdates').mockReturnValue(null)
      try {
        expect(little).toEqual(run(each))
      } finally {
        all.mockRestore()
      }
    }),
    { numRuns: Number(process.env['READ_RUNS'] ?? 400) },
  )
  expect(going.little).toBeGreaterThan(100)
})
