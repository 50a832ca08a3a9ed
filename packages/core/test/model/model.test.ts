import { describe, expect, test } from 'vitest'
import { readCsv, writeCsv } from '../../src/model/record-files.js'
import { parseProject } from '../../src/model/project.js'
import { parseTable } from '../../src/model/table-file.js'
import { errorOf } from '../error-of.js'
import { filesOf, integer, link, text, World } from '../world.js'

const table = (properties: Record<string, unknown>, more = {}) => JSON.stringify({ type: 'object', properties, ...more })

describe('a table file that is wrong names file and path', () => {
  test.each([
    ['not JSON', '{', 'project/bad-json', /not valid JSON/],
    ['no properties', '{"type":"object"}', 'project/bad-file', /\/properties/],
    [
      'an unknown keyword',
      table({ a: { type: 'string', oneOf: [] } }),
      'project/bad-file',
      /\/properties\/a\/oneOf: oneOf is not understood here/,
    ],
    ['an unknown type', table({ a: { type: 'object' } }), 'project/bad-file', /\/properties\/a\/type/],
    ['a name with a blank', table({ 'a b': { type: 'string' } }), 'project/bad-file', /"a b" cannot be a field's name/],
    ['a text link', table({ a: { type: 'string', 'x-link': 't' } }), 'project/bad-file', /x-link: a link is an integer/],
    [
      'clear on a required link',
      table({ a: { type: 'integer', 'x-link': 't', 'x-on-delete': 'clear' } }, { required: ['a'] }),
      'project/bad-file',
      /cannot be cleared/,
    ],
    [
      'an enum of another type',
      table({ a: { type: 'integer', enum: ['x'] } }),
      'project/bad-file',
      /enum: "x" is not of type integer/,
    ],
    ['a broken pattern', table({ a: { type: 'string', pattern: '(' } }), 'project/bad-file', /pattern/],
    [
      'an unknown required field',
      table({ a: { type: 'string' } }, { required: ['b'] }),
      'project/bad-file',
      /\/required\/0: "b" is not among/,
    ],
    ['two names that differ in case', table({ a: { type: 'string' }, A: { type: 'string' } }), 'project/bad-file', /"A"/],
    ['an id of text', table({ id: { type: 'string' } }), 'project/bad-file', /id is always an integer/],
  ])('%s', (_, source, code, message) => {
    const error = errorOf(() => parseTable('tables/t.json', source))
    expect(error.code).toBe(code)
    expect(error.message).toMatch(message)
  })
})

describe('a project that is wrong', () => {
  const files = () =>
    filesOf({
      tables: { t: { fields: { name: text, other: integer } } },
      hooks: {},
      fixtures: { base: { t: [{ id: 1, name: 'x' }] } },
    })
  const wrong = (path: string, body: string) => errorOf(() => parseProject(files().set(path, body)))
  test('every wrong file is listed', () => {
    const error = errorOf(() => parseProject(files().set('tables/u.json', '{').set('tables/v.json', '[]')))
    expect([error, ...error.others!].map((each) => each.file)).toEqual(['tables/u.json', 'tables/v.json'])
  })
  test('a link to nowhere', () =>
    expect(wrong('tables/u.json', table({ a: { type: 'integer', 'x-link': 'tt' } })).message).toMatch(
      /x-link: there is no table tt; did you mean t\?/,
    ))
  test('a fixture of no table', () => expect(wrong('fixtures/base/x.json', '[]').message).toMatch(/no table x/))
  test('a fixture with a wrong value', () =>
    expect(wrong('fixtures/more/t.json', '[{"id":1,\n"name":5}]')).toMatchObject({
      file: 'fixtures/more/t.json',
      line: 2,
      message: 'record 1: name takes text, but got the number 5',
    }))
  test('an id twice', () =>
    expect(wrong('fixtures/more/t.json', '[{"id":1},{"id":1}]').message).toMatch(/record 2: id 1 stands twice/))
  test('CSV with an unknown column', () =>
    expect(wrong('data/t.csv', 'id,nmae\n1,x\n')).toMatchObject({ code: 'project/bad-csv', line: 1, field: 'nmae' }))
  test('CSV with a short row', () =>
    expect(wrong('data/t.csv', 'id,name\n1,x\n2\n')).toMatchObject({ code: 'project/bad-csv', line: 3 }))
  test('CSV with text in a number', () =>
    expect(wrong('data/t.csv', 'id,other\n1,x\n')).toMatchObject({
      line: 2,
      message: 'other takes an integer, but got text "x"',
    }))
  test('a version that is not semver', () => expect(wrong('plugins/p/plugin.json', '{"version":"1"}').message).toMatch(/version/))
  test('a pilot of an unknown hook', () =>
    expect(wrong('plugins/p/plugin.json', '{"hooks":{"x":{"off":true}}}').message).toMatch(/has no hook x/))
  test('an unknown budget', () =>
    expect(wrong('project.json', '{"name":"x","budgets":{"time":1}}').message).toMatch(/\/budgets\/time: "time"/))
  test('no project.json', () => expect(errorOf(() => parseProject(new Map())).code).toBe('project/missing-file'))
})

describe('CSV', () => {
  const of = parseTable('tables/t.json', table({ name: { type: 'string' }, n: { type: 'number' }, ok: { type: 'boolean' } }))
  test('null and empty text stay apart, quotes and line breaks survive', () => {
    const records = [
      { id: 1, name: null, n: null, ok: null },
      { id: 2, name: '', n: 0, ok: false },
      { id: 3, name: 'a "quoted", cell\nof two lines', n: -1.5, ok: true },
    ]
    const written = writeCsv(of, records)
    expect(readCsv('t.csv', written, of)).toEqual(records)
    expect(written.split('\n')[1]).toBe('1,,,')
  })
  test('a byte order mark and CRLF are taken', () => {
    expect(readCsv('t.csv', '\uFEFFid,name\r\n1,x\r\n', of)).toEqual([{ id: 1, name: 'x', n: null, ok: null }])
  })
})

test('tables are STRICT, typed, with foreign keys and an index per link, for any SQLite tool to read', () => {
  const world = new World({
    tables: {
      a: { fields: { name: text }, required: ['name'] },
      b: { fields: { a: link('a'), code: { type: 'string', 'x-unique': true }, n: { type: 'number' }, ok: { type: 'boolean' } } },
    },
  })
  const { db } = world.store
  const columns = db.pragma('table_info(b)') as { name: string; type: string; notnull: number }[]
  expect(columns.map(({ name, type }) => [name, type])).toEqual([
    ['id', 'INTEGER'],
    ['a', 'INTEGER'],
    ['code', 'TEXT'],
    ['n', 'REAL'],
    ['ok', 'INTEGER'],
  ])
  expect(db.pragma('foreign_key_list(b)')).toMatchObject([{ table: 'a', from: 'a', to: 'id' }])
  expect(db.pragma('index_list(b)')).toHaveLength(2)
  expect(db.prepare(`SELECT strict FROM pragma_table_list WHERE name = 'b'`).pluck().get()).toBe(1)
  expect(() => db.exec(`INSERT INTO b (n) VALUES ('text')`)).toThrow(/cannot store TEXT/)
})
