import { describe, expect, test } from 'vitest'
import { describe as told, HookError, type ErrorReport } from '../../src/errors.js'
import { parseProject } from '../../src/model/project.js'
import { parseTable } from '../../src/model/table-file.js'
import { filesOf, integer, text } from '../world.js'

/** Every fault of a project's files is reported, once, with its line, and with what would have been right. */

function faultsOf(work: () => unknown): ErrorReport[] {
  try {
    work()
  } catch (error) {
    if (!(error instanceof HookError)) throw error
    const { others = [], ...first } = error.report
    return [first, ...others]
  }
  return []
}
const lines = (...all: string[]) => all.join('\n')
const tableFaults = (source: string) =>
  faultsOf(() => parseTable('tables/lot.json', source)).map((each) => [each.line, each.message])

describe('a table', () => {
  test('all of its faults, each with its line', () => {
    const source = lines(
      '{ "type": "object",',
      '  "title": 5,',
      '  "properties": {',
      '    "id": { "type": "string" },',
      '    "seeds": { "type": "bool" },',
      '    "Bay": { "type": "string" },',
      '    "mass": { "type": "number", "minimun": 3,',
      '      "multipleOf": -1 },',
      '    "kind": { "type": "integer",',
      '      "enum": ["a", "b"] },',
      '    "at": { "type": "string", "format": "datetime" }',
      '  },',
      '  "required": ["seeds",',
      '    "nothing"]',
      '}',
    )
    expect(tableFaults(source)).toEqual([
      [2, '/title: expected text, but got the number 5'],
      [
        5,
        '/properties/seeds/type: expected one of string, integer, number, boolean, or a list, but got text "bool"; did you mean boolean?',
      ],
      [8, '/properties/mass/multipleOf: Too small: expected number to be >0'],
      [7, '/properties/mass/minimun: "minimun" is not a keyword that is understood here; did you mean minimum?'],
      [4, '/properties/id: id is always an integer'],
      [6, '/properties/Bay: "Bay" cannot be a field\'s name: letters, digits and _ only, a small letter first'],
      [10, '/properties/kind/enum: "a" is not of type integer'],
      [10, '/properties/kind/enum: "b" is not of type integer'],
      [11, '/properties/at/format: there is no format "datetime"; did you mean date-time?'],
    ])
  })

  test.each([
    ['"int"', 'did you mean integer?'],
    ['"float"', 'did you mean number?'],
    ['"text"', 'did you mean string?'],
    ['"date"', 'did you mean string, with "format": "date"?'],
    ['"String"', 'did you mean string?'],
    ['["string", "integer"]', 'but got a list'],
    ['7', 'but got the number 7'],
  ])('a type %s', (type, hint) =>
    expect(tableFaults(`{"type":"object","properties":{"a":{"type":${type}}}}`)).toMatchObject([
      [1, expect.stringContaining(hint)],
    ]),
  )

  test.each([
    ['{ "$ref": "#/$defs/x" }', '$ref'],
    ['{ "anyOf": [{ "type": "string" }] }', 'anyOf'],
    ['{ "type": "string", "oneOf": [] }', 'oneOf'],
    ['{ "allOf": [] }', 'allOf'],
  ])('%s is named, once', (schema, keyword) =>
    expect(tableFaults(`{"type":"object","properties":{"a":${schema},"b":{"type":"string"}}}`)).toEqual([
      [1, `/properties/a/${keyword}: ${keyword} is not understood here: write the field out, with its type`],
    ]),
  )

  test('a schema that is true or false, as a field and as the whole', () => {
    expect(tableFaults('{"type":"object","properties":{"a":true,\n"b":false}}')).toEqual([
      [1, '/properties/a: a schema that is true has no type: give the field a type'],
      [2, '/properties/b: a schema that is false has no type: give the field a type'],
    ])
    expect(tableFaults('true')).toEqual([[1, '/: a schema that is true has no type: give the table a type']])
    expect(tableFaults('{"$defs":{},"anyOf":[]}')).toMatchObject([
      [1, expect.stringContaining('$defs')],
      [1, expect.stringContaining('anyOf')],
    ])
  })

  test('a format of the standard without a check is taken, any other is named', () => {
    expect(tableFaults('{"type":"object","properties":{"a":{"type":"string","format":"email"}}}')).toEqual([])
    expect(tableFaults('{"type":"object","properties":{"a":{"type":"string","format":"phone"}}}')).toMatchObject([
      [1, expect.stringContaining('no format "phone"')],
    ])
  })
})

describe('a project', () => {
  const files = () =>
    filesOf({ tables: { lot: { fields: { name: text, seeds: integer } } }, fixtures: { base: { lot: [{ id: 1 }] } } })
      .set('tables/line.json', '{"type":"object","properties":{"lot":{"type":"integer","x-link":"lot"}}}')
      .set('fixtures/base/line.csv', 'id,lot\n1,1\n')
  const faults = (...changes: [string, string][]) =>
    faultsOf(() => parseProject(new Map([...files(), ...changes]))).map(({ file, line, message }) => [file, line, message])

  test('a table that cannot be read is reported once: what links to it and its records are not at fault', () => {
    expect(faults(['tables/lot.json', '{"type":"object",\n"properties":{"a":{"type":"bool"}}}'])).toEqual([
      ['tables/lot.json', 2, expect.stringContaining('did you mean boolean?')],
    ])
    expect(faults(['tables/lot.json', '{"type": }'])).toMatchObject([
      ['tables/lot.json', 1, expect.stringContaining('not valid JSON')],
    ])
  })

  test('every plugin, and every fault of one', () => {
    expect(
      faults(
        ['plugins/p/plugin.json', '{"version":"1",\n"nme":"p"}'],
        ['plugins/q/plugin.json', '{'],
        ['plugins/r/hooks/x.ts', ''],
      ),
    ).toEqual([
      ['plugins/p/plugin.json', 1, '/version: a version has the form 1.2.3 (semver)'],
      ['plugins/p/plugin.json', 2, '/nme: "nme" is not a keyword that is understood here; did you mean name?'],
      ['plugins/q/plugin.json', 1, expect.stringContaining('not valid JSON')],
      ['plugins/r/plugin.json', undefined, expect.stringContaining('is missing')],
    ])
  })

  test('every fault of project.json', () => {
    expect(faults(['project.json', '{"users":"ada",\n"budgets":{"querys":1},\n"batchsize":5}'])).toEqual([
      ['project.json', 1, '/users: expected a list, but got text "ada"'],
      ['project.json', 2, '/budgets/querys: "querys" is not a keyword that is understood here; did you mean queries?'],
      ['project.json', 3, '/batchsize: "batchsize" is not a keyword that is understood here; did you mean batchSize?'],
    ])
  })

  test('every row of records, CSV and JSON', () => {
    const csv = 'id,name,seeds\r\n1,a,x\n\n2,b,1.5\r3,c\n4,d,007\n4,e,1e-400\n'
    expect(faults(['fixtures/base/lot.csv', csv]).map(([, line, message]) => [line, message])).toContainEqual([
      undefined,
      '/: the records of lot are in two files of this folder',
    ])
    const without = (source: string, ending: string) => {
      const all = files()
      all.delete('fixtures/base/lot.json')
      all.delete('fixtures/base/line.csv')
      return faultsOf(() => parseProject(all.set(`fixtures/base/lot.${ending}`, source))).map(({ line, field, message }) => [
        line,
        field,
        message,
      ])
    }
    expect(without(csv, 'csv')).toEqual([
      [2, 'seeds', 'seeds takes an integer, but got text "x"'],
      [4, 'seeds', 'seeds takes an integer, but got the number 1.5'],
      [5, undefined, 'the header has 3 columns, this row 2'],
      [6, 'seeds', 'seeds takes an integer, but got text "007"'],
      [7, 'seeds', 'seeds takes an integer, but got text "1e-400"'],
      [7, 'id', 'id 4 stands twice'],
    ])
    expect(without('[\n{"name":1},\n5,\n{"nam":"x",\n"seeds":"y"}]', 'json')).toEqual([
      [2, 'name', 'record 1: name takes text, but got the number 1'],
      [3, undefined, 'record 2: expected an object, but got the number 5'],
      [4, 'nam', 'record 3: table lot has no field nam; did you mean name?'],
      [5, 'seeds', 'record 3: seeds takes an integer, but got text "y"'],
    ])
    expect(
      without('[{"seeds":1e-400},\n{"id":2,"seeds":12345678901234567890},\n{"id":3,"seeds":1e3}]', 'json').map(
        ([line, field, message]) => [line, field, String(message).slice(0, 60)],
      ),
    ).toEqual([
      [1, 'seeds', 'record 1: seeds is written as 1e-400, of which a number cann'],
      [2, 'seeds', 'record 2: seeds is written as 12345678901234567890, of which'],
      [2, 'seeds', 'record 2: seeds takes an integer, but got the number 1234567'],
    ])
    expect(without('id,name,name\n1,a,b\n', 'csv')).toEqual([[1, 'name', 'two columns are headed name']])
  })
})

test('the place stands once, also where the message says it', () => {
  const error = (details: Partial<ErrorReport>): ErrorReport => ({ code: 'hook/threw', message: '', todo: '', ...details })
  expect(told(error({ message: 'not valid JSON', file: 'a.json', line: 3 }))).toBe('a.json:3: not valid JSON')
  expect(told(error({ message: 'project.json is missing', file: 'project.json' }))).toBe('project.json is missing')
  expect(told(error({ message: 'lot.bay takes text, but got the number 5', table: 'lot', row: 2, field: 'bay' }))).toBe(
    'lot row 2: lot.bay takes text, but got the number 5',
  )
  expect(told(error({ message: 'lot 5 is linked from line 1', table: 'lot', id: 5 }))).toBe('lot 5 is linked from line 1')
  expect(
    told(error({ message: 'Bay is required', hook: 'h', file: 'h.ts', line: 4, table: 'lot', row: 2, id: 7, field: 'bay' })),
  ).toBe('hook h, h.ts:4, lot row 2 (id 7), field bay: Bay is required')
})
