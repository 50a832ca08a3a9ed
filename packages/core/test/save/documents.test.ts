import { describe, expect, test } from 'vitest'
import { hook, integer, link, text, World } from '../world.js'

/** Records that link to each other in one save. */

describe('documents', () => {
  const document = {
    tables: {
      header: { fields: { kind: text, total: integer, state: text } },
      line: { fields: { header: link('header'), qty: integer, kind: text }, required: ['header'] },
    },
    hooks: {
      'header-kind': hook(
        `{ table: 'header', moment: 'before-save', on: ['create'], each(row) { row.now.kind = (row.now.kind ?? '') + '!' } }`,
      ),
      'line-kind': hook(
        `{ table: 'line', moment: 'before-save', load: ({ rows, store }) => store.byId('header', rows.map(r => r.now.header), ['kind']), each(row, headers) { row.now.kind = headers.get(row.now.header)?.kind ?? null } }`,
      ),
      whole: hook(`{ table: 'header', moment: 'before-commit', touchedBy: ['line.header'],
        load: ({ rows, store }) => store.rollup('line', 'header', rows.map(r => r.id), { sum: ['qty'] }),
        each(row, lines) { if ((lines.get(row.id)?.sum.qty ?? 0) > 10) row.refuse('total', 'more than ten in all') } }`),
    },
  }
  const rows = (first: number, second: number) => [
    { table: 'line', values: { header: { ref: 'h' }, qty: first } },
    { table: 'header', values: { kind: 'k' }, as: 'h' },
    { table: 'line', values: { header: { ref: 'h' }, qty: second } },
  ]

  test('lines link to a header of the same save and read its new values', () => {
    const world = new World(document)
    const { records } = world.run(rows(3, 4))
    expect(records.map((each) => each!['kind'])).toEqual(['k!', 'k!', 'k!'])
    expect(records[0]).toMatchObject({ header: records[1]!.id })
  })

  test('the whole document may be refused before commit', () => {
    const world = new World(document)
    expect(world.try(rows(6, 7)).error).toMatchObject({
      code: 'hook/refused',
      table: 'header',
      field: 'total',
      hook: 'whole',
      row: 2,
    })
    expect(world.all('line')).toHaveLength(0)
    world.run(rows(3, 4))
    // A line alone wakes the header's hook.
    const { error, verdicts } = world.try([{ table: 'line', values: { id: 1, qty: 9 } }])
    expect(error).toMatchObject({ table: 'header', id: 1, hook: 'whole' })
    expect(verdicts.find((each) => each.hook === 'whole')).toMatchObject({ table: 'header', id: 1, verdict: 'ran' })
  })

  test('partial drops whole documents', () => {
    const world = new World(document)
    const again = rows(6, 7).map((row) => ({
      ...row,
      values: { ...row.values, ...('header' in row.values ? { header: { ref: 'g' } } : {}) },
      ...(row.as ? { as: 'g' } : {}),
    }))
    const { records, refusals } = world.run([...rows(1, 2), ...again], { partial: true })
    expect(records.map((each) => each !== null)).toEqual([true, true, true, false, false, false])
    expect(refusals.filter((each) => each.code !== 'save/document-refused')).toHaveLength(1)
    expect(refusals.every((each) => records[each.row! - 1] === null)).toBe(true)
    expect(world.all('line')).toHaveLength(2)
  })

  test('an unknown name is an error', () => {
    const world = new World(document)
    expect(world.try([{ table: 'line', values: { header: { ref: 'nobody' } } }]).error).toMatchObject({
      code: 'save/unknown-ref',
      field: 'header',
    })
  })

  test('rows of a table that links to itself are saved parents first', () => {
    const world = new World({
      tables: { node: { fields: { up: link('node'), depth: integer } } },
      hooks: {
        depth: hook(
          `{ table: 'node', moment: 'before-save', load: ({ rows, store }) => store.byId('node', rows.map(r => r.now.up), ['depth']), each(row, ups) { row.now.depth = (ups.get(row.now.up)?.depth ?? 0) + 1 } }`,
        ),
      },
    })
    const { records } = world.run([
      { table: 'node', values: { up: { ref: 'b' } } },
      { table: 'node', values: { up: { ref: 'a' } }, as: 'b' },
      { table: 'node', values: {}, as: 'a' },
    ])
    expect(records.map((each) => each!['depth'])).toEqual([3, 2, 1])
  })
})
