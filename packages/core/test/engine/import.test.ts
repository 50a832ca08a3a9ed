import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { ModelEdit } from '@patient-hook/contract'
import { HookError } from '../../src/errors.js'
import { filesOf, text } from '../world.js'
import { TestEngine } from '../test-engine.js'

/** Tables out of files from elsewhere: nothing is altered without a word. */

let engine: TestEngine
beforeEach(() => {
  engine = new TestEngine()
  engine.open(Object.fromEntries(filesOf({ tables: { other: { fields: { name: text } } } })))
})
afterEach(() => engine.close())

/** Makes a table of a CSV text as it was read. @returns steps of the plan, and the records */
function bring(csv: string) {
  const { edit, columns } = engine.inferTable('sheet', 'sheet.csv', csv)
  const change: ModelEdit = { table: 'sheet', edit, records: { file: 'sheet.csv', text: csv, columns } }
  const plan = engine.planModel(change, false)
  engine.changeModel(change, true, 'ada')
  return { fields: edit.fields, plan: plan.steps, records: engine.list('sheet', {}).records }
}

describe('a CSV file', () => {
  test.each([
    ['ids of 19 digits', ['1234567890123456789', '1234567890123456790']],
    ['telephone numbers', ['+491768123456', '+491768123457']],
    ['codes that look like powers of ten', ['80E68', '1E5']],
    ['versions', ['1.10', '1.9', '2.0']],
    ['leading zeros', ['007', '010']],
    ['what vanishes in a number', ['1e-400', '0.1']],
    ['more digits than a number holds', ['0.12345678901234567890', '0.5']],
    ['minus nothing', ['-0', '1']],
    ['spaces', [' 5', '6 ']],
    ['hexadecimals', ['0x10', '0b1']],
    ['infinity', ['Infinity', 'NaN']],
  ])('%s stay text, each as it was', (_, cells) => {
    const { fields, plan, records } = bring(`Code\n${cells.join('\n')}\n`)
    expect(fields[0]!.type).toBe('string')
    expect(records.map((record) => record['code'])).toEqual(cells)
    expect(plan.filter((step) => step.text.includes('another form'))).toEqual([])
  })

  test.each([
    ['whole numbers', ['1', '-5', '9007199254740991'], 'integer'],
    ['decimals', ['1.5', '-0.25', '3'], 'number'],
  ])('%s are numbers', (_, cells, type) => {
    const { fields, records } = bring(`Count\n${cells.join('\n')}\n`)
    expect(fields[0]!.type).toBe(type)
    expect(records.map((record) => record['count'])).toEqual(cells.map(Number))
  })

  test('90 long ids stay 90', () => {
    const ids = Array.from({ length: 90 }, (_, index) => String(8_000_000_000_000_000_000n + BigInt(index)))
    expect(new Set(bring(`Ref\n${ids.join('\n')}\n`).records.map((record) => record['ref'])).size).toBe(90)
  })

  test('empty text and nothing are distinguished, spaces and quotes are kept', () => {
    const { records } = bring('Name;Note\n"";" a "\n; b\n"c""d";"e;f"\n')
    expect(records.map(({ name, note }) => [name, note])).toEqual([
      ['', ' a '],
      [null, ' b'],
      ['c"d', 'e;f'],
    ])
  })

  test('blank lines are rows of one column, and nothing among several', () => {
    expect(bring('Name\na\n\nb\n').records.map((record) => record['name'])).toEqual(['a', null, 'b'])
  })
  test('blank lines among several columns', () => {
    expect(bring('Name,N\na,1\n\n\r\nb,2\n').records.map((record) => record['name'])).toEqual(['a', 'b'])
  })

  test.each([
    ['semicolons, though the header holds commas', 'Name, full;Mass, g\n"a";1\n"b, c";2\n', ['name_full', 'mass_g']],
    ['tabs', 'A\tB\n1,5\t2\n', ['a', 'b']],
    ['bars', 'A|B|C\n1|2|3\n', ['a', 'b', 'c']],
    ['commas in quotes only', '"A, of B"\n"x, y"\n', ['a_of_b']],
    ['quoted line ends', 'A;B\n"1\n2;3";4\n', ['a', 'b']],
  ])('%s', (_, csv, names) => {
    expect(bring(csv).fields.map((field) => field.name)).toEqual(names)
  })

  test('mixed line ends, also with none at the end', () => {
    expect(bring('A,B\r\n1,2\n3,4\r5,6').records.map(({ a, b }) => [a, b])).toEqual([
      [1, 2],
      [3, 4],
      [5, 6],
    ])
  })

  test('what takes another form is reported with an example', () => {
    const { plan } = bring('Open,At\nYes,2026-03-01T09:30:00+02:00\nno,2026-03-01T07:30:00.000Z\n')
    expect(plan.map((step) => step.text)).toEqual([
      'The table sheet is made, with 2 fields.',
      '2 records come in.',
      'open: 2 values are kept in another form, "Yes" as true.',
      'at: 1 value is kept in another form, "2026-03-01T09:30:00+02:00" as "2026-03-01T07:30:00.000Z".',
    ])
  })

  test('finer than a millisecond stays text', () => {
    expect(bring('At\n2026-03-01T09:30:00.123456Z\n').records[0]).toMatchObject({ at: '2026-03-01T09:30:00.123456Z' })
  })

  test('whatever the cells: what comes in is the same text, or is reported', () => {
    const cell = fc.oneof(
      fc.string({ maxLength: 6 }),
      fc.constantFrom(
        '',
        '1',
        '01',
        '1.0',
        '1e3',
        'true',
        'TRUE',
        'no',
        '2026-01-01',
        '2026-01-01T00:00:00Z',
        ' x ',
        '"',
        ',',
        ';',
      ),
      fc.double().map(String),
      fc.bigInt().map(String),
    )
    const quote = (value: string) => `"${value.replaceAll('"', '""')}"`
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 6 }), (rows) => {
        engine.close()
        engine = new TestEngine()
        engine.open(Object.fromEntries(filesOf({ tables: {} })))
        const { plan, records } = bring(`A,B\n${rows.map((row) => row.map(quote).join(',')).join('\n')}\n`)
        const told = new Set(plan.filter((step) => step.text.includes('another form')).map((step) => step.field))
        expect(records).toHaveLength(rows.length)
        rows.forEach((row, index) =>
          ['a', 'b'].forEach((field, at) => {
            if (!told.has(field)) expect(String(records[index]![field])).toBe(row[at])
          }),
        )
      }),
      { numRuns: 60 },
    )
  })
})

describe('a JSON Schema', () => {
  const schema = {
    $id: 'https://example.org/seed',
    $comment: 'from the old program',
    type: 'object',
    title: 'Seed',
    properties: {
      code: { type: 'string', pattern: '^[A-Z]+$', minLength: 2, maxLength: 5, 'x-unique': true },
      mass: {
        type: ['number', 'null'],
        exclusiveMinimum: 0,
        exclusiveMaximum: 10,
        multipleOf: 0.5,
        default: 1.5,
        'x-index': true,
      },
      kind: { type: 'string', enum: ['wet', 'dry'], default: 'wet', examples: ['wet'] },
      mail: { type: 'string', format: 'email', readOnly: true },
      lot: { type: ['null', 'string'], deprecated: true },
      count: { type: 'integer', format: 'int32' },
    },
    required: ['code'],
    'x-unique': [['kind', 'lot']],
    'x-other-program': { colour: 'red' },
  }

  test('keeps every keyword, and the plan tells which are without effect', () => {
    const edit = engine.readSchema('seed', JSON.stringify(schema))
    const change: ModelEdit = { table: 'seed', edit }
    expect(engine.planModel(change, false).steps.map((step) => step.text)).toEqual([
      'The table seed is made, with 6 fields.',
      'kind: examples stays in the file without effect: examples are shown to nobody.',
      'mail: format stays in the file without effect: no value is checked for the format email; a pattern would be.',
      'mail: readOnly stays in the file without effect: a hook may refuse what is typed into it; nothing else does.',
      'lot: deprecated stays in the file without effect: a deprecated field can be used like any other.',
      'count: format stays in the file without effect: only a text has a format.',
    ])
    engine.changeModel(change, false, 'ada')
    const kept = JSON.parse(engine.file('tables/seed.json')) as typeof schema
    for (const [name, keywords] of Object.entries(schema.properties))
      expect((kept.properties as Record<string, unknown>)[name]).toMatchObject(keywords)
    expect(kept).toMatchObject({
      $id: schema.$id,
      $comment: schema.$comment,
      required: ['code'],
      'x-unique': [['kind', 'lot']],
      'x-other-program': { colour: 'red' },
    })
    const tried = (values: Record<string, string | number>) =>
      engine.save([{ table: 'seed', values }], { rehearse: true }).error?.code ?? null
    expect(tried({ code: 'AB' })).toBeNull()
    expect(['A', 'ab', 'ABCDEF'].map((code) => tried({ code }))).toEqual(['check/bounds', 'check/bounds', 'check/bounds'])
    expect([0, 10, 0.7].map((mass) => tried({ code: 'AB', mass }))).toEqual(['check/bounds', 'check/bounds', 'check/bounds'])
    engine.save([{ table: 'seed', values: { code: 'AB' } }])
    expect(engine.list('seed', {}).records[0]).toMatchObject({ mass: 1.5, kind: 'wet', lot: null })
  })

  test('a unique set of a field that is renamed or left out is reported', () => {
    const edit = engine.readSchema('seed', JSON.stringify(schema))
    const without = { ...edit, fields: edit.fields.filter((field) => field.name !== 'lot') }
    expect(engine.planModel({ table: 'seed', edit: without }, false).steps.map((step) => step.text)).toContain(
      'kind and lot are not unique together any more, since there is no field lot.',
    )
  })

  test.each([
    ['{"type":"object","properties":{"a":{"$ref":"#/$defs/a"}}}', '$ref'],
    ['{"type":"object","properties":{"a":{"anyOf":[]}}}', 'anyOf'],
    ['{"type":"object","properties":{"a":true}}', 'true'],
    ['{"type":"object","properties":{"a":{"type":"string","format":"phone"}}}', 'phone'],
  ])('%s is an error that names %s', (source, named) => {
    try {
      engine.readSchema('seed', source)
      throw new Error('nothing was thrown')
    } catch (error) {
      expect(HookError.is(error) && error.report).toMatchObject({
        code: 'project/bad-file',
        line: 1,
        message: expect.stringContaining(named) as string,
      })
    }
  })
})
