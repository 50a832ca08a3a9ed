import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readFolder } from '../../src/model/folder.js'
import { rewriteRecords } from '../../src/model/rewrite-records.js'
import { editOf, fieldNameFrom, tableText } from '../../src/model/table-edit.js'
import { parseTable } from '../../src/model/table-file.js'

/** The edit of a table, as the form has it, and back; records' files that follow. */

describe('the edit of a table', () => {
  const demo = readFolder(join(import.meta.dirname, '../../../../demo'))
  test.each([...demo].filter(([path]) => path.startsWith('tables/')))(
    '%s, written back unchanged, means the same',
    (path, source) => {
      const table = parseTable(path, source)
      expect(parseTable(path, tableText(editOf(table), source))).toEqual(table)
    },
  )

  test('keeps keywords that the form does not know', () => {
    const source = JSON.stringify({
      type: 'object',
      'x-theirs': 1,
      properties: { a: { type: ['string', 'null'], pattern: '^x', 'x-note': 'kept', examples: ['x1'] } },
    })
    const edit = editOf(parseTable('tables/t.json', source))
    edit.fields[0]!.label = 'New label'
    expect(JSON.parse(tableText(edit, source))).toMatchObject({
      'x-theirs': 1,
      properties: { a: { type: ['string', 'null'], title: 'New label', pattern: '^x', 'x-note': 'kept', examples: ['x1'] } },
    })
  })

  test('names made of labels are good and differ', () => {
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 6 }), (labels) => {
        const taken = new Set<string>()
        for (const label of labels) {
          const name = fieldNameFrom(label, taken)
          expect(name).toMatch(/^[a-z][a-z0-9_]*$/)
          expect(taken.has(name)).toBe(false)
          taken.add(name)
        }
      }),
    )
  })
})

test('files of records that a change does not touch stay as they are, byte for byte', () => {
  const odd = 'id,a\r\n1,"x ""y"", z"\r\n2,""\r\n3,\r\n'
  const none = { renames: {}, removed: new Set<string>(), changed: new Map() }
  expect(rewriteRecords('data/t.csv', odd, none)).toBe(odd)
  expect(rewriteRecords('data/t.csv', odd, { ...none, renames: { a: 'b' } })).toBe(odd.replace('id,a', 'id,b'))
})

describe('properties that few fields need', () => {
  const source = JSON.stringify({
    type: 'object',
    'x-title': 'code',
    properties: {
      code: { type: 'string', minLength: 2, pattern: '^[A-Z]+$', 'x-group': 'Names' },
      price: { type: 'number', multipleOf: 0.01, default: 1.5 },
    },
  })
  const parsed = (edit: ReturnType<typeof editOf>) => parseTable('tables/t.json', tableText(edit, source))

  test('are written, and null removes them', () => {
    const edit = editOf(parseTable('tables/t.json', source))
    Object.assign(edit.fields[0]!, { minLength: null, pattern: null, group: 'Text', default: 'AB' })
    Object.assign(edit.fields[1]!, { multipleOf: 0.5, default: null })
    const { fields } = parsed(edit)
    expect(fields[0]).toMatchObject({ minLength: null, pattern: null, group: 'Text', default: 'AB' })
    expect(fields[1]).toMatchObject({ multipleOf: 0.5, default: null })
  })
  test('stay where an edit leaves them out', () => {
    const { titleField: _, ...edit } = editOf(parseTable('tables/t.json', source))
    const fields = edit.fields.map(({ minLength: _a, pattern: _b, group: _c, default: _d, multipleOf: _e, ...field }) => field)
    expect(parsed({ ...edit, fields })).toEqual(parseTable('tables/t.json', source))
  })
  test('the title follows its field when that is renamed, and goes with it', () => {
    const edit = editOf(parseTable('tables/t.json', source))
    edit.fields[0]!.name = 'sign'
    expect(parsed(edit).titleField).toBe('sign')
    expect(parsed({ ...edit, fields: edit.fields.slice(1) }).titleField).toBeNull()
  })
  test('a title that is no text field is an error with its line', () => {
    const wrong = source.replace('"x-title":"code"', '"x-title":"price"')
    expect(() => parseTable('tables/t.json', wrong)).toThrow('"price" is not a text field of the table')
  })
})
