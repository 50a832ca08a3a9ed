import fc from 'fast-check'
import { expect, test, vi } from 'vitest'
import type { Value } from '../../src/model/types.js'
import { flag, hook, integer, link, number, text, World, type Source } from '../world.js'

/**
 * Updates by a condition of records that nothing looks at are written as a set. A save that reports of each record takes them one at a time:
 * both must leave the same records, of each table the same history in the same order, and spend the same.
 */

const tables: Source['tables'] = {
  box: { fields: { name: text, mass: number, open: flag, rank: integer, other: link('box') } },
  part: {
    fields: {
      box: link('box'),
      name: { ...text, maxLength: 12 },
      mass: { ...number, minimum: -1e9 },
      open: flag,
      rank: { ...integer, maximum: 1000 },
      label: { ...text, pattern: '^[^!]*$' },
      at: { type: 'string', format: 'date-time' },
      code: { ...text, 'x-unique': true },
    },
  },
  bag: { fields: { box: link('box'), rank: integer } },
}

const push = (body: string, name = 'a') => ({
  [name]: hook(`{ table: 'box', moment: 'after-save', on: ['update'], ${body} }`),
})
const onEach = (...calls: string[]) => `each(row, _, { update, create, remove }) { ${calls.join('; ')} }`

interface Case {
  hooks: Record<string, string>
  parts: Record<string, Value>[]
  changes: Record<string, Value>[]
  budgets?: Record<string, number> | undefined
  /** Bounds that the stored parts may break. */
  maximum?: number | undefined
}

function run({ hooks, parts, changes, budgets, maximum }: Case, record: boolean) {
  const source = (bounds: boolean): Source => ({
    project: { batchSize: 2, ...(budgets ? { budgets } : {}) },
    tables:
      bounds && maximum !== undefined
        ? { ...tables, part: { fields: { ...tables['part']!.fields, rank: { ...integer, maximum } } } }
        : tables,
    hooks,
  })
  const world = new World(source(true))
  const { store } = world
  world.load(
    'box',
    [1, 2, 3].map((id) => ({ id, name: `b${id}`, rank: 0 })),
  )
  world.load(
    'part',
    parts.map((part, index) => ({ ...part, id: index + 1 })),
  )
  world.load(
    'bag',
    [1, 2, 3, 4].map((id) => ({ id, box: (id % 3) + 1 })),
  )
  const written = vi.spyOn(store, 'run')
  const { kept, error, refusals, spent } = world.try(
    changes.map((values) => ({ table: 'box', values })),
    { record },
  )
  const asSet = written.mock.calls.some(([sql]) => sql.includes('INSERT INTO ph_history'))
  const { queries, rowsRead, rowsWritten, ripples } = spent
  const state = {
    kept,
    error: error && [error.code, error.message.replace(/, \d+ ms/, '')],
    refusals: refusals.map(({ code, table, id, row, field, message }) => [code, table, id, row, field, message]),
    records: ['box', 'part', 'bag'].map((table) => world.all(table)),
    // By table: sets of two tables come in sequence, single records in batches that have records of both.
    history: ['box', 'part', 'bag'].map((table) =>
      world
        .all('ph_history')
        .filter(({ tbl }) => tbl === table)
        .map(({ record, event, depth, cause, patch }) => [record, event, depth, cause, patch]),
    ),
    spent: kept ? [queries, rowsRead, rowsWritten, ripples] : null,
  }
  return { state, asSet }
}

const texts = fc.oneof(
  fc.constantFrom('', 'a', 'ab', '"\\/', '\n\t\u0001\u001f\u007f\u2028', 'é😀', 'x\u0000y', 'a!'),
  fc.string({ maxLength: 8, unit: 'grapheme' }),
)
const numbers = fc.oneof(
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.constantFrom(0, -0, 0.1, 5, 1e21, 9223372036854775000, 5e-324),
)
const orNull = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: null })
const part = fc.record({
  box: orNull(fc.integer({ min: 1, max: 3 })),
  name: orNull(texts),
  mass: orNull(numbers),
  open: orNull(fc.boolean()),
  rank: orNull(fc.integer({ min: -3, max: 12 })),
  label: orNull(fc.constantFrom('x', 'no!', 'é')),
})
const change = fc.record(
  {
    id: fc.integer({ min: 1, max: 3 }),
    name: texts,
    mass: numbers,
    open: fc.boolean(),
    rank: fc.integer({ min: 1, max: 9 }),
    other: fc.integer({ min: 1, max: 3 }),
  },
  { requiredKeys: ['id'] },
)
const where = fc.constantFrom(
  '{ box: row.id }',
  '{ box: row.id, open: true }',
  '{ box: row.id, rank: { gte: 2 } }',
  '{ box: row.id, id: { not: row.id } }',
  '{ box: row.now.other, id: { not: [row.id] } }',
  '{ id: row.id }',
  '{ rank: { lt: 5 } }',
  '{ name: row.now.name }',
  '{ code: row.now.name }',
  '{ box: { in: [row.id] } }',
)
const values = fc.constantFrom(
  '{ name: row.now.name }',
  '{ mass: row.now.mass }',
  '{ open: row.now.open }',
  '{ rank: row.now.rank }',
  '{ rank: 7 }',
  '{ mass: 0.1, name: "x" }',
  '{ open: row.now.open, mass: row.now.mass, name: row.now.name }',
  '{ box: row.now.other }',
  '{ box: 99 }',
  '{ label: "a!" }',
  '{ at: "2026-01-01T02:00:00+02:00", rank: row.now.rank }',
  '{ code: row.now.name }',
)
const sleeping = {
  watching: hook(`{ table: 'part', moment: 'before-save', watch: ['label'], each(row) { row.now.name = 'woken' } }`),
}
const waking = {
  watching: hook(`{ table: 'part', moment: 'after-save', watch: ['rank'], each(row, _, { send }) { send('m', row.id) } }`),
}

test('a set leaves what its records one at a time leave, and spends the same', () => {
  let sets = 0
  const one = fc.tuple(where, values).map(([which, what]) => `update('part', ${which}, ${what})`)
  const more = fc.constantFrom(
    ...Array.from({ length: 5 }, () => [] as string[]),
    [`update('bag', { box: row.id }, { rank: row.now.rank })`],
    [`update('bag', 1, { rank: 1 })`],
    [`update('part', 1, { rank: 3 })`],
    [`remove('part', 2)`],
    [`create('bag', { box: row.id })`],
  )
  const cases = fc.record({
    call: one,
    more,
    second: fc.option(one, { nil: null, freq: 1 }),
    finish: fc.boolean(),
    others: fc.constantFrom({}, {}, {}, {}, sleeping, waking),
    parts: fc.array(part, { maxLength: 6 }),
    changes: fc.uniqueArray(change, { minLength: 1, maxLength: 3, selector: ({ id }) => id }),
    budgets: fc.constantFrom<Record<string, number> | undefined>(
      undefined,
      undefined,
      undefined,
      { rowsRead: 3 },
      { rowsWritten: 4 },
      { ripples: 0 },
    ),
    maximum: fc.constantFrom(undefined, undefined, 8),
  })
  fc.assert(
    fc.property(cases, ({ call, more, second, finish, others, parts, changes, budgets, maximum }) => {
      const body = finish ? `finish({ update }) { update('part', { rank: { gte: 1 } }, { name: 'f' }) }` : onEach(call, ...more)
      const hooks = { ...push(body), ...(second ? push(`after: ['a'], ${onEach(second)}`, 'b') : {}), ...others }
      const given = { hooks, parts: parts.map((each, index) => ({ ...each, code: `c${index}` })), changes, budgets, maximum }
      const [set, single] = [run(given, false), run(given, true)]
      if (set.asSet) sets++
      expect(single.asSet).toBe(false)
      expect(set.state).toEqual(single.state)
    }),
    { numRuns: 500 },
  )
  // Cases that are no set must not be all there is.
  expect(sets).toBeGreaterThan(40)
})

test('the values of a thousand boxes reach their parts, each its own', () => {
  const world = new World({
    tables,
    hooks: push(`watch: ['mass'], ${onEach(`update('part', { box: row.id }, { mass: row.now.mass })`)}`),
  })
  const boxes = Array.from({ length: 1000 }, (_, at) => at + 1)
  world.put('box', ...boxes.map((rank) => ({ rank })))
  world.put('part', ...boxes.flatMap((box): Record<string, Value>[] => [{ box }, { box, mass: box / 7 }]))
  const { spent } = world.run(
    boxes.map((id) => ({ table: 'box', values: { id, mass: id / 7 } })),
    { record: false },
  )
  expect(world.all('part').every(({ box, mass }) => mass === (box as number) / 7)).toBe(true)
  // Half of them had it already.
  expect(spent.rowsWritten).toBe(2000)
  expect(world.all('ph_history').filter(({ tbl, event }) => tbl === 'part' && event === 'update')).toHaveLength(1000)
})
