import { describe, expect, test } from 'vitest'
import { findInTables, TABLE_RULES } from '../../src/findings/tables/index.js'
import { parseProject } from '../../src/model/project.js'
import { filesOf } from '../world.js'

/** The rules on tables: their own examples are their tests. */

const findings = (keywords: Record<string, unknown>) =>
  findInTables(parseProject(filesOf({ tables: { t: { fields: { f: { type: 'string', ...keywords } } } } })))

describe.each(TABLE_RULES.map((rule) => [rule.meta.name, rule] as const))('%s', (name, { examples }) => {
  test.each(examples.pass.map((each) => [JSON.stringify(each), each] as const))('passes %s', (_, keywords) => {
    expect(findings(keywords)).toEqual([])
  })
  test.each(examples.fail.map((each) => [JSON.stringify(each), each] as const))('finds %s', (_, keywords) => {
    expect(findings(keywords)).toMatchObject([{ rule: name, file: 'tables/t.json', severity: 'error' }])
  })
})

test('a finding is at the line of its keyword', () => {
  const files = new Map(filesOf({ tables: {} }))
  files.set(
    'tables/t.json',
    JSON.stringify(
      { type: 'object', properties: { g: { type: 'string', pattern: 'x' }, f: { type: 'string', pattern: '^(a+)+$' } } },
      null,
      2,
    ),
  )
  expect(findInTables(parseProject(files))).toMatchObject([{ line: 10, column: 7 }])
})
