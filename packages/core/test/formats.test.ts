import { XMLParser, XMLValidator } from 'fast-xml-parser'
import { Parser } from 'tap-parser'
import { expect, test } from 'vitest'
import type { TestResult } from '@patient-hook/contract'
import { toJUnit } from '../src/formats/junit.js'
import { toTap } from '../src/formats/tap.js'

/** Reports of test results, read by parsers that are not ours: fast-xml-parser and tap-parser. */

const result = (more: Partial<TestResult>): TestResult => ({
  file: 'plugins/p/tests/a.test.ts',
  name: 'one',
  status: 'passed',
  ms: 1.5,
  line: 3,
  error: null,
  ...more,
})
const failure = {
  code: 'test/failed',
  message: 'expected "<b>" & \'c\' ]]> # not \u0007\n+ received \uD800',
  todo: 'Compare.',
  file: 'plugins/p/tests/a.test.ts',
  line: 7,
  expected: '{\n  "a": 1\n}',
  received: ': - [',
}
const results = [
  result({}),
  result({ name: 'skipped # not a directive \\ one', status: 'skipped' }),
  result({ name: 'fails <b> & "c" \u0000', status: 'failed', error: failure }),
  result({ file: 'plugins/q/tests/b.test.ts', name: 'ünïcödé 漢字 😀' }),
]

test('JUnit XML: well-formed whatever the texts are, a suite for each file, with counts', () => {
  const xml = toJUnit(results)
  expect(XMLValidator.validate(xml)).toBe(true)
  const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' })
  const { testsuites } = parser.parse(xml) as {
    testsuites: { tests: string; failures: string; skipped: string; testsuite: { name: string; testcase: unknown }[] }
  }
  expect(testsuites).toMatchObject({ tests: '4', failures: '1', skipped: '1' })
  expect(testsuites.testsuite.map((suite) => suite.name)).toEqual(['plugins/p/tests/a.test.ts', 'plugins/q/tests/b.test.ts'])
  const [one, skipped, fails] = testsuites.testsuite[0]!.testcase as Record<string, unknown>[]
  expect(one).toMatchObject({ name: 'one', classname: 'plugins/p/tests/a.test.ts', time: '0.0015' })
  expect(skipped).toHaveProperty('skipped')
  expect(fails).toMatchObject({
    failure: { type: 'test/failed', message: expect.stringContaining('expected "<b>" & ') as unknown },
  })
  expect(testsuites.testsuite[1]!.testcase).toMatchObject({ name: 'ünïcödé 漢字 😀' })
})

test('TAP 14: plan, results, directives and what went wrong', () => {
  const text = toTap(results)
  expect(text).toMatch(/^TAP version 14\n1\.\.4\n/)
  const events = Parser.parse(text) as unknown as [string, Record<string, unknown>][]
  const asserts = events.filter(([kind]) => kind === 'assert').map(([, assert]) => assert)
  expect(asserts.map(({ ok, id, skip }) => [ok, id, Boolean(skip)])).toEqual([
    [true, 1, false],
    [true, 2, true],
    [false, 3, false],
    [true, 4, false],
  ])
  expect(asserts[2]).toMatchObject({
    diag: { message: failure.message, code: 'test/failed', at: 'plugins/p/tests/a.test.ts:7', expected: failure.expected },
  })
  expect(events.find(([kind]) => kind === 'complete')?.[1]).toMatchObject({ count: 4, pass: 3, fail: 1, skip: 1 })
  expect(events.filter(([kind]) => kind === 'extra')).toEqual([])
})
