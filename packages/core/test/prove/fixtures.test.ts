import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  fixtureCsv,
  makeFixtures,
  readFixtureCsv,
  readFixtures,
  takeFixtures,
  writeFixtures,
} from '../../src/engine/calls/fixtures.js'
import { OpenProject } from '../../src/engine/open-project.js'
import { parseProject } from '../../src/model/project.js'
import { checkRecords } from '../../src/model/record-checks.js'
import { filesOf, flag, integer, link, number, text } from '../world.js'

/** Fixture sets as rows that are edited: what is wrong is at its cell, and what is written is read the same again. */

const tables = {
  van: { fields: { name: { ...text, 'x-unique': true }, grams: { ...number, minimum: 0, maximum: 50, multipleOf: 0.1 } } },
  parcel: {
    fields: {
      van: link('van'),
      number: { type: 'string', pattern: '^P[0-9]{3}$', 'x-unique': true },
      kind: { type: 'string', enum: ['box', 'tube'] },
      sent: { type: 'string', format: 'date' },
      fragile: flag,
      count: { ...integer, minimum: 1 },
      note: { ...text, maxLength: 8 },
    },
    required: ['van', 'number'],
  },
}
const base = {
  van: [
    { id: 1, name: 'north', grams: 1.5 },
    { id: 2, name: 'south', grams: null },
  ],
  parcel: [{ id: 1, van: 1, number: 'P001', kind: 'box', sent: '2026-01-05', fragile: true, count: 2, note: null }],
}

function opened(more: Record<string, string> = {}): OpenProject {
  const open = new OpenProject()
  open.runtimes.open(new Map([...filesOf({ tables, fixtures: { base } }), ...Object.entries(more)]))
  return open
}
const faultsOf = (open: OpenProject, table: string, rows: object[], set = 'base') =>
  writeFixtures(open, set, table, rows as never, undefined).faults.map(({ table: of, row, field, message }) => [
    of,
    row,
    field,
    message,
  ])

test('what is wrong with a cell is reported at its row and field, once', () => {
  const good = base.parcel[0]!
  expect(
    faultsOf(opened(), 'parcel', [
      good,
      { ...good, id: 2, van: 9, number: 'x', kind: 'bag', count: 0 },
      { ...good, id: 2, number: 'P001', sent: 'soon', fragile: 'perhaps', note: 'far too long' },
      { id: 'three' },
    ]),
  ).toEqual([
    ['parcel', 1, 'kind', expect.stringContaining('one of box, tube')],
    ['parcel', 2, 'sent', expect.stringContaining('a date as text')],
    ['parcel', 2, 'fragile', expect.stringContaining('true or false')],
    ['parcel', 3, 'id', expect.stringContaining('a whole number from 1')],
    ['parcel', 2, 'id', 'id 2 stands twice'],
    ['parcel', 1, 'van', 'van: van has no record 9 in this folder'],
    ['parcel', 1, 'number', expect.stringContaining('must match the pattern')],
    ['parcel', 1, 'count', 'count must be at least 1, but is 0'],
    ['parcel', 2, 'note', expect.stringContaining('at most 8 characters')],
    ['parcel', 2, 'number', 'number P001 stands twice, first at row 1'],
    ['parcel', 3, 'van', 'van is required, but empty'],
    ['parcel', 3, 'number', 'number is required, but empty'],
  ])
})

test('a set with faults is read again as it was written; a row of another table that lost its link is reported too', () => {
  const open = opened()
  const rows = [{ id: 1, name: 'far', grams: 'much' }]
  const { files } = writeFixtures(open, 'base', 'van', rows, undefined)
  expect(Object.keys(files)).toEqual(['fixtures/base/van.json'])
  const again = readFixtures(open, 'base', files)
  expect(again.tables.find(({ table }) => table === 'van')!.rows).toEqual(rows)
  expect(faultsOf(open, 'van', [{ id: 2, name: 'south', grams: 1 }])).toEqual([
    ['parcel', 0, 'van', 'van: van has no record 1 in this folder'],
  ])
})

test('a file whose columns or fields the table has not cannot be edited as rows, and is not written over', () => {
  for (const [file, body, word] of [
    ['fixtures/odd/van.csv', 'id,name,colour\n1,a,red\n', 'colour'],
    ['fixtures/odd/van.json', '[{ "id": 1, "colour": "red" }]', 'colour'],
    ['fixtures/odd/van.json', '[{ "id": 1, "name": ["a"] }]', 'expected text'],
    ['fixtures/odd/van.json', '[{ "id": 1, "grams": 0.12345678901234567890123 }]', 'altered'],
    ['fixtures/odd/van.json', '{', 'van.json'],
  ] as const) {
    const open = opened()
    const drafts = { [file]: body }
    const {
      tables: [van],
    } = readFixtures(open, 'odd', drafts)
    expect([van!.unread?.file, JSON.stringify(van!.unread)]).toEqual([file, expect.stringContaining(word)])
    expect(() => writeFixtures(open, 'odd', 'van', [], drafts)).toThrow()
  }
})

test('property: rows that are written as CSV or as JSON are read the same again', () => {
  const value = (of: fc.Arbitrary<unknown>) => fc.option(of, { nil: null })
  const row = fc.record({
    van: value(fc.integer({ min: 1, max: 3 })),
    number: value(fc.string({ unit: 'grapheme' })),
    kind: value(fc.constantFrom('box', 'tube')),
    sent: value(fc.constant('2026-01-05')),
    fragile: value(fc.boolean()),
    count: value(fc.integer()),
    note: value(fc.constantFrom('', '""', 'a,b', 'two\nlines', ' spaces ', 'tab\there')),
  })
  fc.assert(
    fc.property(fc.array(row, { maxLength: 6 }), fc.constantFrom('csv', 'json'), (some, ending) => {
      const open = opened({ [`fixtures/prop/parcel.${ending}`]: ending === 'csv' ? 'id,van\n' : '[]' })
      const rows = some.map((each, index) => ({ id: index + 1, ...each }))
      const { files } = writeFixtures(open, 'prop', 'parcel', rows as never, undefined)
      const [read] = readFixtures(open, 'prop', files).tables
      const whole = (all: readonly object[]) =>
        all.map((each) =>
          Object.fromEntries(['id', ...Object.keys(tables.parcel.fields)].map((name) => [name, (each as never)[name] ?? null])),
        )
      expect(whole(read!.rows)).toEqual(whole(rows))
    }),
    { numRuns: 60 },
  )
})

describe('live records', () => {
  const data = {
    'data/van.json': JSON.stringify([
      { id: 1, name: 'live north' },
      { id: 7, name: 'east' },
    ]),
    'data/parcel.json': JSON.stringify([
      { id: 4, van: 7, number: 'P004' },
      { id: 5, van: 1, number: 'P005' },
    ]),
  }
  test('come with all that they link to; what the set has already stays, and that is shown', () => {
    const open = opened(data)
    const {
      tables: taken,
      files,
      notices,
      faults,
    } = takeFixtures(open, 'base', [{ table: 'parcel', ids: [4, 5, 99] }], undefined)
    expect(faults).toEqual([])
    expect(taken.find(({ table }) => table === 'van')!.rows.map(({ id, name }) => [id, name])).toEqual([
      [1, 'north'],
      [2, 'south'],
      [7, 'east'],
    ])
    expect(taken.find(({ table }) => table === 'parcel')!.rows.map(({ id }) => id)).toEqual([1, 4, 5])
    expect(notices).toEqual(['parcel has no record 99', 'van 1: the set has a record of that id, which stays as it is'])
    expect(Object.keys(files).sort()).toEqual(['fixtures/base/parcel.json', 'fixtures/base/van.json'])
  })
  test('make a new set', () => {
    const { files } = takeFixtures(opened(data), 'fresh', [{ table: 'parcel', ids: [4] }], undefined)
    expect(Object.keys(files).sort()).toEqual(['fixtures/fresh/parcel.csv', 'fixtures/fresh/van.csv'])
  })
})

describe('rows from the schema', () => {
  test('a save would take them: types, bounds, patterns, unique values, links; the same seed makes the same', () => {
    const open = opened()
    const made = makeFixtures(open, 'base', 'parcel', 200, 5, undefined)
    expect(made.faults).toEqual([])
    expect(made.tables.find(({ table }) => table === 'parcel')!.rows).toHaveLength(201)
    // Held against the checks that a fixture set is loaded with.
    checkRecords(parseProject(new Map([...open.runtimes.files, ...Object.entries(made.files)])), ['fixtures/base'])
    expect(makeFixtures(open, 'base', 'parcel', 200, 5, undefined).files).toEqual(made.files)
    expect(makeFixtures(open, 'base', 'parcel', 200, 6, undefined).files).not.toEqual(made.files)
    const { faults } = makeFixtures(open, 'base', 'van', 300, 5, undefined)
    expect(faults).toEqual([])
  })
  test('what cannot be made is shown', () => {
    const { notices, faults } = makeFixtures(opened(), 'empty', 'parcel', 3, 1, undefined)
    expect(notices).toEqual(['van stays empty: there is no van in the set to link to'])
    expect(faults.every(({ field }) => field === 'van')).toBe(true)
    const many = makeFixtures(opened(), 'base', 'parcel', 1200, 1, undefined)
    expect(many.notices).toEqual(['number stays empty where no value is left that no other row has'])
  })
})

describe('CSV', () => {
  const read = (text: string) => readFixtureCsv(opened(), 'base', 'parcel', 'mine.csv', text, undefined)
  const rowsOf = (text: string) => read(text).tables.find(({ table }) => table === 'parcel')!.rows
  test('comes in by names or labels, with any delimiter; empty text and null stay apart, and no number is altered', () => {
    const text = 'id;VAN;number;note;count\n7;1;P007;"";2\n8;2;P008;;007\n'
    expect(rowsOf(text)).toMatchObject([
      { id: 7, van: 1, number: 'P007', note: '', count: 2 },
      { id: 8, van: 2, number: 'P008', count: '007' },
    ])
    expect(rowsOf(text)[1]!['note'] ?? null).toBeNull()
    expect(read(text).faults.map(({ row, field }) => [row, field])).toEqual([[1, 'count']])
  })
  test('whose columns or cells would be lost is refused with its line', () => {
    expect(() => read('id,colour\n1,red\n')).toThrow('table parcel has no field colour')
    expect(() => read('id,van,van\n1,1,1\n')).toThrow('two columns are headed van')
    expect(() => read('id,van\n1,1\n2,1,x\n')).toThrow('the header has 2 columns, this row 3')
  })
  test('goes out and comes in the same', () => {
    const open = opened()
    const { text } = fixtureCsv(open, 'base', 'parcel', undefined)
    const again = readFixtureCsv(open, 'base', 'parcel', 'mine.csv', text, undefined)
    expect(fixtureCsv(open, 'base', 'parcel', again.files).text).toBe(text)
    expect(again.faults).toEqual([])
  })
})
