import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { flag, hook, integer, link, text, World } from '../world.js'

/** Effects that name their records by a condition do what they would do by the ids of those records. */

const tables = {
  box: { fields: { name: text, rank: integer, open: flag, next: link('box') } },
  part: { fields: { box: link('box'), name: text, rank: integer, open: flag, made: { type: 'string', format: 'date-time' } } },
}
const world = (literals: Record<string, string>) =>
  new World({ tables, hooks: Object.fromEntries(Object.entries(literals).map(([name, literal]) => [name, hook(literal)])) })

const boxes = (count: number) => Array.from({ length: count }, (_, at) => ({ name: `b${at + 1}`, rank: at }))
const after = (body: string, more = '') =>
  `{ table: 'box', moment: 'after-save', on: ['update'], watch: ['rank'], ${more} ${body} }`
const failure = (work: () => unknown) => {
  try {
    work()
  } catch (error) {
    return (error as { report: { code: string; message: string; hook?: string; line?: number; file?: string } }).report
  }
  throw new Error('nothing failed')
}

describe('in place of an id', () => {
  test('a condition names all records that it holds for, as the batch has written them', () => {
    const w = world({
      push: after(`each(row, _, { update }) { update('part', { box: row.id, open: true }, { rank: row.now.rank }) }`),
    })
    w.put('box', ...boxes(2))
    w.put('part', { box: 1, open: true }, { box: 1, open: false }, { box: 2, open: true }, { box: 1, open: true, rank: 9 })
    w.run([{ table: 'box', id: 1, values: { rank: 9 } }])
    expect(w.all('part').map(({ rank }) => rank)).toEqual([9, null, null, 9])
    // What is as it should be is left alone: only the first changed.
    expect(w.all('ph_history').filter(({ tbl, event }) => tbl === 'part' && event === 'update')).toMatchObject([
      { record: 1, depth: 1 },
    ])
  })

  test('siblings, but for the record itself', () => {
    const w = world({
      one: `{ table: 'part', moment: 'after-save', watch: ['open'], only: row => row.now.open === true && row.now.box !== null,
        each(row, _, { update }) { update('part', { box: row.now.box, id: { not: row.id } }, { open: false }) } }`,
    })
    w.put('box', ...boxes(2))
    w.put('part', { box: 1, open: true }, { box: 1 }, { box: 2, open: true })
    w.run([{ table: 'part', id: 2, values: { open: true } }])
    expect(w.all('part').map(({ open }) => open)).toEqual([0, 1, 1])
  })

  test('records are removed by it, with their history', () => {
    const w = world({ drop: after(`each(row, _, { remove }) { remove('part', { box: row.id, rank: { lt: row.now.rank } }) }`) })
    w.put('box', ...boxes(2))
    w.put('part', { box: 1, rank: 1 }, { box: 1, rank: 7 }, { box: 2, rank: 1 })
    w.run([{ table: 'box', id: 1, values: { rank: 5 } }])
    expect(w.all('part').map(({ id }) => id)).toEqual([2, 3])
    expect(w.all('ph_history').filter(({ event }) => event === 'delete')).toMatchObject([{ tbl: 'part', record: 1 }])
  })

  test('also in finish, with every condition that find takes', () => {
    const w = world({
      all: after(
        `finish({ update }) { update('part', { name: { like: 'a%' }, rank: { in: [1, null] }, made: { gte: '2026-01-01T01:00:00+01:00' } }, { open: true }) }`,
      ),
    })
    w.put('box', ...boxes(1))
    const made = '2026-01-01T00:00:00Z'
    w.put(
      'part',
      { name: 'ab', rank: 1, made },
      { name: 'ab', made },
      { name: 'b', rank: 1, made },
      { name: 'a', rank: 1 },
      { name: 'a', rank: 2, made },
    )
    w.run([{ table: 'box', id: 1, values: { rank: 5 } }])
    expect(w.all('part').map(({ open }) => open)).toEqual([1, 1, null, null, null])
  })

  test('of one row the last word holds, by id or by condition', () => {
    const w = world({
      say: after(`each(row, _, { update }) {
        update('part', { box: row.id }, { rank: 1, open: true })
        update('part', 1, { rank: 2 })
        update('part', { box: row.id, id: 2 }, { rank: 3 })
      }`),
    })
    w.put('box', ...boxes(1))
    w.put('part', { box: 1 }, { box: 1 }, { box: 1 })
    w.run([{ table: 'box', id: 1, values: { rank: 5 } }])
    expect(w.all('part').map(({ rank, open }) => [rank, open])).toEqual([
      [2, 1],
      [3, 1],
      [1, 1],
    ])
  })

  test('two rows that want different values of one record are reported', () => {
    const w = world({ push: after(`each(row, _, { update }) { update('part', { open: true }, { rank: row.now.rank }) }`) })
    w.put('box', ...boxes(2))
    w.put('part', { open: true })
    const [one, two] = [
      { table: 'box', id: 1, values: { rank: 5 } },
      { table: 'box', id: 2, values: { rank: 6 } },
    ]
    expect(failure(() => w.run([one, two]))).toMatchObject({
      code: 'effects/conflict',
      hook: 'push',
      table: 'part',
      id: 1,
      field: 'rank',
    })
    w.run([one, { ...two, values: { rank: 5 } }])
    expect(w.all('part')[0]).toMatchObject({ rank: 5 })
  })

  test.each([
    [`update('part', {}, { rank: 1 })`, 'hook/bad-effect', 'has no condition, so it would be every record'],
    [`remove('part', {})`, 'hook/bad-effect', 'has no condition, so it would be every record'],
    [`update('part', { bocks: 1 }, { rank: 1 })`, 'hook/unknown-field', 'no field bocks'],
    [`update('part', { box: undefined }, { rank: 1 })`, 'hook/bad-query', 'was given undefined'],
    [`update('part', { box: 'one' }, { rank: 1 })`, 'hook/bad-query', 'is compared with'],
    [`update('part', [1], { rank: 1 })`, 'hook/bad-effect', 'but got a list'],
    [
      `update('part', '1', { rank: 1 })`,
      'hook/bad-effect',
      'takes the id of a record (an integer) or a condition ({ field: value })',
    ],
    [`update('part', null, { rank: 1 })`, 'hook/bad-effect', 'takes the id of a record'],
    [`update('part', { box: 1 }, { rank: 'x' })`, 'hook/wrong-type', 'rank'],
    [`update('part', { box: 1 }, { id: 4 })`, 'hook/bad-effect', 'the id of a record cannot be set'],
  ])('%s is an error with its line', (call, code, detail) => {
    const w = world({ bad: `{\n table: 'box', moment: 'after-save',\n each(row, _, { update, remove }) {\n ${call}\n } }` })
    const report = failure(() => w.put('box', { name: 'x' }))
    expect(report).toMatchObject({ code, hook: 'bad', file: 'plugins/p/hooks/bad.ts' })
    expect(report.message).toContain(detail)
    expect(w.all('box')).toEqual([])
  })
})

test('conditions that differ by the row they are asked for are looked up together: queries stay the same for any number of rows', () => {
  const queries = (rows: number) => {
    const w = world({
      push: after(
        `each(row, _, { update }) { update('part', { box: row.id, id: { not: row.id }, open: true }, { rank: row.now.rank }) }`,
      ),
    })
    w.put('box', ...boxes(rows))
    w.put('part', ...boxes(rows).map((_, at) => ({ box: at + 1, open: true })))
    const { spent } = w.run(boxes(rows).map((_, at) => ({ table: 'box', id: at + 1, values: { rank: at + 100 } })))
    return spent.queries
  }
  expect(queries(1)).toBe(queries(200))
})

describe('a condition, and the same records looked up and named', () => {
  const where = fc.constantFrom(
    `{ box: row.id }`,
    `{ box: row.id, open: true }`,
    `{ box: { eq: row.id }, rank: { gte: 2 } }`,
    `{ rank: row.now.rank, id: { not: row.id } }`,
    `{ name: 'a', box: row.id }`,
    `{ box: row.id, open: { not: true } }`,
    `{ id: row.id }`,
    `{ box: row.id, id: { not: [1, 2] } }`,
    `{ box: { in: [row.id, 1] }, rank: { empty: true } }`,
  )
  const effect = fc.constantFrom<readonly [call: string, values: string]>(
    ['update', `{ name: 'by ' + row.now.name }`] as const,
    ['update', `{ rank: 3, open: row.now.open }`] as const,
    ['remove', ''] as const,
  )
  const part = fc.record({
    box: fc.option(fc.integer({ min: 1, max: 3 }), { nil: null }),
    name: fc.option(fc.constantFrom('a', 'b'), { nil: null }),
    rank: fc.option(fc.integer({ min: 0, max: 3 }), { nil: null }),
    open: fc.option(fc.boolean(), { nil: null }),
  })
  const change = fc.record({ id: fc.integer({ min: 1, max: 3 }), rank: fc.integer({ min: 0, max: 4 }), open: fc.boolean() })

  test('come to the same: records, history, who did it, refusals', () => {
    const given = fc.record({
      where,
      effect,
      watching: fc.boolean(),
      refusing: fc.boolean(),
      partial: fc.boolean(),
      parts: fc.array(part, { maxLength: 8 }),
      changes: fc.uniqueArray(change, { minLength: 1, maxLength: 3, selector: ({ id }) => id }),
    })
    fc.assert(
      fc.property(given, ({ where, effect: [call, values], watching, refusing, partial, parts, changes }) => {
        const more = values === '' ? '' : `, ${values}`
        const [byCondition, byId] = [
          `each(row, _, { ${call} }) { ${call}('part', ${where}${more}) }`,
          `load: ({ rows, store }) => new Map(rows.map(row => [row.id, store.find('part', ${where})])), each(row, parts, { ${call} }) { for (const other of parts.get(row.id)) ${call}('part', other.id${more}) }`,
        ].map((body) => {
          const w = world({
            a: after(body),
            ...(watching
              ? {
                  b: `{ table: 'part', moment: 'before-save', watch: ['rank'], each(row) { row.now.name = 'rank ' + row.now.rank } }`,
                }
              : {}),
            ...(refusing
              ? {
                  c: `{ table: 'part', moment: 'before-save', on: ['update', 'delete'], each(row) { if (row.was.name === 'b') row.refuse('name', 'no') } }`,
                }
              : {}),
          })
          w.put('box', ...boxes(3))
          if (parts.length > 0) w.put('part', ...parts)
          const outcome = w.try(
            changes.map(({ id, ...values }) => ({ table: 'box', id, values })),
            { partial },
          )
          const history = w
            .all('ph_history')
            .map(({ tbl, record, event, depth, cause, patch }) => [tbl, record, event, depth, cause, patch])
          return JSON.stringify({
            kept: outcome.kept,
            error: outcome.error?.code,
            refusals: outcome.refusals.map(({ code, table, id, row, field }) => [code, table, id, row, field]),
            records: outcome.records,
            parts: w.all('part'),
            history: history.sort((one, other) => JSON.stringify(one).localeCompare(JSON.stringify(other))),
          })
        })
        expect(byCondition).toBe(byId)
      }),
      { numRuns: 300 },
    )
  })
})
