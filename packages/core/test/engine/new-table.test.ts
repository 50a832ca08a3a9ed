import { beforeEach, describe, expect, test } from 'vitest'
import type { ModelEdit } from '../../src/engine/model-change.js'
import { errorOf } from '../error-of.js'
import { TestEngine } from '../test-engine.js'
import { files } from './model-files.js'

/** Tables that come to a model with records, from a CSV file or a JSON Schema. */

let engine: TestEngine
beforeEach(() => {
  engine = new TestEngine()
  engine.open(files)
})
const plan = (edit: ModelEdit) => engine.planModel(edit).steps.map(({ effect, text }) => ({ effect, text }))
const snapshot = () => JSON.stringify([engine.files(), engine.list('lot', {}), engine.list('site', {})])

describe('a new table', () => {
  const csv = 'ID,Name,Founded on,Size (ha),Kind,Open,site\n4,Alder,2001-02-03,1.5,wet,yes,1\n9,Birch,2010-12-31,2,wet,no,2\n'
  test('from a CSV file: names from its header, types from its values, its records with it', () => {
    const { edit, columns, rows } = engine.inferTable('grove', 'groves.csv', csv)
    expect(rows).toBe(2)
    expect(columns.map((each) => each.field)).toEqual(['id', 'name', 'founded_on', 'size_ha', 'kind', 'open', 'site'])
    expect(
      edit.fields.map(({ label, type, format, link: target, required }) => [
        label,
        type,
        format,
        target?.table ?? null,
        required,
      ]),
    ).toEqual([
      ['Name', 'string', null, null, true],
      ['Founded on', 'string', 'date', null, true],
      ['Size (ha)', 'number', null, null, true],
      ['Kind', 'string', null, null, true],
      ['Open', 'boolean', null, null, true],
      ['site', 'integer', null, 'site', true],
    ])
    const change: ModelEdit = { table: 'grove', edit, records: { file: 'groves.csv', text: csv, columns } }
    expect(plan(change).map((each) => each.text)).toEqual([
      'The table grove is made, with 6 fields.',
      '2 records come in.',
      'open: 2 values are kept in another form, "yes" as true.',
    ])
    engine.changeModel(change, false, 'ada')
    expect(engine.list('grove', {}).records).toEqual([
      { id: 4, name: 'Alder', founded_on: '2001-02-03', size_ha: 1.5, kind: 'wet', open: true, site: 1 },
      { id: 9, name: 'Birch', founded_on: '2010-12-31', size_ha: 2, kind: 'wet', open: false, site: 2 },
    ])
    expect(engine.record('grove', 4).history).toMatchObject([{ event: 'create', user: 'ada' }])
  })

  test('a value that does not fit is named with line and column, and no table is made', () => {
    const { edit, columns } = engine.inferTable('grove', 'groves.csv', csv)
    edit.fields[0]!.type = 'integer'
    const change: ModelEdit = { table: 'grove', edit, records: { file: 'groves.csv', text: csv, columns } }
    expect(plan(change)).toMatchObject([
      { effect: 'blocked', text: expect.stringMatching(/groves\.csv:2.*column Name: text "Alder"/) as unknown },
    ])
    expect(errorOf(() => engine.changeModel(change, true))).toMatchObject({ code: 'model/blocked' })
    expect(engine.info().tables.map((each) => each.name)).not.toContain('grove')
  })

  test('a record that the table refuses leaves nothing behind', () => {
    const { edit, columns } = engine.inferTable('grove', 'groves.csv', csv)
    edit.fields[2]!.maximum = 1.75
    const before = snapshot()
    const change: ModelEdit = { table: 'grove', edit, records: { file: 'groves.csv', text: csv, columns } }
    expect(errorOf(() => engine.changeModel(change, true))).toMatchObject({ code: 'check/bounds', row: 2 })
    expect(snapshot()).toBe(before)
    expect(engine.info().tables.map((each) => each.name)).not.toContain('grove')
  })

  test.each([
    ['codes keep their zeros', 'Code\n007\n010\n011\n', { type: 'string', unique: true }],
    ['words that come again are choices', `Kind\n${'wet\ndry\n'.repeat(6)}`, { enum: ['dry', 'wet'] }],
    ['a gap makes it optional', 'N;M\n1;2\n;3\n', { type: 'integer', required: false }],
    ['huge whole numbers stay text', 'N\n99999999999999999999\n', { type: 'string' }],
    ['dates that are none are text', 'D\n2001-02-30\n', { type: 'string', format: null }],
    ['times', 'T\n2001-02-03T04:05:06Z\n', { format: 'date-time' }],
    ['an id without a record is no link', 'site\n1\n77\n', { type: 'integer', link: null }],
  ])('%s', (_, source, expected) => {
    expect(engine.inferTable('x', 'x.csv', source).edit.fields[0]).toMatchObject(expected)
  })

  test.each([
    ['', /empty/],
    ['a,a\n1,2\n', /two columns are headed a/],
    ['a,\n1,2\n', /column 2 has no header/],
    ['a,b\n1\n', /line 2/i],
  ])('a file that is none is named: %s', (source, message) => {
    const error = errorOf(() => engine.inferTable('x', 'x.csv', source))
    expect(`${error.file}, line ${error.line}: ${error.message}`).toMatch(message)
  })

  test('from a JSON Schema', () => {
    const schema = JSON.stringify({
      type: 'object',
      title: 'Grove',
      properties: { a: { type: 'integer', minimum: 3 } },
      required: ['a'],
    })
    const edit = engine.readSchema('grove', schema)
    expect(edit).toMatchObject({ name: 'grove', label: 'Grove', fields: [{ was: null, name: 'a', minimum: 3, required: true }] })
    expect(errorOf(() => engine.readSchema('grove', '{"type":"object","properties":{"a":{"type":"list"}}}'))).toMatchObject({
      message: expect.stringContaining('/properties/a/type') as unknown,
    })
  })
})
