import lcovParse from 'lcov-parse'
import { createRequire } from 'node:module'
import { expect, test } from 'vitest'
import type { CoveredFile } from '@patient-hook/contract'
import { makeRuntime, type Runtime } from '../../../src/engine/runtime.js'
import { coverageGround } from '../../../src/engine/calls/testing.js'
import { OpenProject } from '../../../src/engine/open-project.js'
import { toLcov } from '../../../src/formats/lcov.js'
import { Coverage } from '../../../src/prove/coverage/coverage.js'
import { runTests, type TestResult } from '../../../src/prove/run-tests.js'
import { filesOf, number, text } from '../../world.js'

/** What the unit tests run of the code, and that counting changes nothing else. */

const MASS = `import { defineHook } from 'patient-hook'
import { rounded } from '../lib/rounded.js'

export default defineHook({
  table: 'lot',
  moment: 'before-save',
  watch: ['gross'],
  only: (row) => row.now.gross !== null,
  each(row) {
    if (row.now.gross! > 100) {
      row.refuse('gross', 'too heavy')
      return
    }
    row.now.net = row.now.gross! > 50 ? rounded(row.now.gross! - 10) : 0
    row.now.note ??= 'weighed'
  },
})
`
const LIB = `export const rounded = (value: number): number => Math.round(value)
export function never(value: number): number {
  return -value
}
`
function filesWith(body: string, mass = MASS) {
  return new Map([
    ...filesOf({
      tables: { lot: { fields: { gross: number, net: number, note: text } } },
      hooks: { mass },
      tests: { all: `import { test, expect } from 'patient-hook/test'\n${body}` },
      fixtures: { base: { lot: [{ id: 1, gross: 50, net: 40, note: 'a' }] } },
    }),
    ['plugins/p/lib/rounded.ts', LIB],
  ])
}

function measured(body: string, mass = MASS): { files: CoveredFile[]; coverage: Coverage; tests: TestResult[]; runtime: Runtime } {
  const open = new OpenProject()
  open.runtimes.open(filesWith(body, mass))
  const coverage = new Coverage(coverageGround(open, undefined))
  const runtime = open.runtimes.with({}, 'counted')
  const all = () => true
  const tests = runTests(runtime, all, all, () => {}, (result, counts) => counts && coverage.add(result, counts))
  return { files: coverage.files(), coverage, tests, runtime }
}

const HEAVY = `test('a heavy one is weighed', { fixtures: 'base' }, ({ save }) => expect(save('lot', { gross: 70 }).net).toBe(60))\n`
const LIGHT = `test('a light one has no net', { fixtures: 'base' }, ({ save }) => expect(save('lot', { gross: 20, note: 'x' }).net).toBe(0))\n`

test('lines tell which tests ran them, and what none ran is at its place in the TypeScript', () => {
  const { files, tests } = measured(HEAVY + LIGHT)
  expect(tests.map(({ status }) => status)).toEqual(['passed', 'passed'])
  const mass = files.find(({ hook }) => hook === 'mass')!
  expect(mass.tests.map(({ name }) => name)).toEqual(['a heavy one is weighed', 'a light one has no net'])
  const line = (number: number) => mass.lines.find((each) => each.line === number)!
  expect(line(8)).toMatchObject({ hits: 2, tests: [0, 1] })
  expect(line(11)).toMatchObject({ hits: 0, tests: [] })
  expect(line(14)).toMatchObject({ hits: 2, branches: { covered: 2, total: 2 } })
  // Line 15: the note is looked at by both, and set by the first.
  expect(line(15)).toMatchObject({ hits: 2, tests: [0, 1] })
  expect(mass.gaps.filter(({ kind }) => kind === 'statement').map(({ line: at }) => at)).toEqual([11, 12])
  expect(mass.gaps.find(({ kind }) => kind === 'branch')).toMatchObject({ line: 10, column: 5 })
  expect(mass.statements).toEqual({ covered: 4, total: 6 })
})

test('a module is covered by what calls it; what it does as it is loaded is no test’s', () => {
  const { files } = measured(HEAVY)
  const module = files.find(({ file }) => file.endsWith('lib/rounded.ts'))!
  expect(module.hook).toBeNull()
  expect(module.lines.find(({ line }) => line === 1)).toMatchObject({ tests: [0] })
  expect(module.gaps).toEqual([{ kind: 'statement', line: 3, column: 3, endLine: 3, endColumn: 16 }])
  const none = measured(`test('nothing', ({ save }) => expect(save('lot', {}).net).toBe(null))`).files
  const loaded = none.find(({ file }) => file.endsWith('lib/rounded.ts'))!
  expect(loaded.tests).toEqual([])
  expect(loaded.statements.covered).toBe(1)
})

test('a second run counts again, and the same', () => {
  const open = new OpenProject()
  open.runtimes.open(filesWith(HEAVY + LIGHT))
  const once = () => {
    const coverage = new Coverage(coverageGround(open, undefined))
    const all = () => true
    runTests(
      open.runtimes.with({}, 'counted'),
      all,
      all,
      () => {},
      (result, counts) => counts && coverage.add(result, counts),
    )
    return coverage.files()
  }
  expect(once()).toEqual(once())
})

test('counting changes no step that is spent, and no line of an error', () => {
  const body =
    HEAVY +
    `test('steps', { fixtures: 'base' }, ({ save, spent }) => { save('lot', { gross: 70 }); expect(spent().steps).toBe(-1) })\n` +
    `test('throws', { fixtures: 'base' }, ({ save }) => { save('lot', { gross: 99 }); expect(1).toBe(1) })\n`
  const throwing = MASS.replace(
    `row.now.net =`,
    `if (row.now.gross === 99) {\n      const nothing = null as unknown as { a: { b: number } }\n      nothing.a.b = 1\n    }\n    row.now.net =`,
  )
  const told = (tests: TestResult[]) =>
    tests.map(({ status, error }) => [status, error?.file, error?.line, error?.message, error?.received])
  const plain = runTests(makeRuntime(filesWith(body, throwing)))
  expect(told(measured(body, throwing).tests)).toEqual(told(plain))
  expect(plain.at(-1)!.error).toMatchObject({ file: 'plugins/p/hooks/mass.ts', line: 16 })
})

test('a hook whose code has a syntax error is reported about as without counting', () => {
  const open = new OpenProject()
  open.runtimes.open(filesWith(HEAVY))
  const broken = { 'plugins/p/hooks/mass.ts': MASS.replace('watch: [', 'watch: [[') }
  const messageOf = (equipment: 'plain' | 'counted') => {
    try {
      open.runtimes.with(broken, equipment)
      return 'none'
    } catch (error) {
      return (error as Error).message
    }
  }
  expect(messageOf('counted')).toBe(messageOf('plain'))
  expect(messageOf('counted')).not.toBe('none')
})

/** Read by lcov-parse, a reader that is not ours; line and branch counts are held against istanbul's own summary. */
test('LCOV says what istanbul’s summary says', async () => {
  const { coverage, files } = measured(HEAVY)
  const read = await new Promise<lcovParse.LcovFile[]>((resolve, reject) =>
    lcovParse(toLcov(coverage.data), (error, data) => (data ? resolve(data) : reject(new Error(String(error))))),
  )
  expect(read.map(({ file }) => file).sort()).toEqual(files.map(({ file }) => file).sort())
  const { createFileCoverage } = createRequire(import.meta.url)('istanbul-lib-coverage') as typeof import('istanbul-lib-coverage')
  for (const { file, lines, branches } of read) {
    const summary = createFileCoverage(coverage.data[file] as never).toSummary()
    expect([lines.hit, lines.found]).toEqual([summary.lines.covered, summary.lines.total])
    expect([branches.hit, branches.found]).toEqual([summary.branches.covered, summary.branches.total])
  }
})
