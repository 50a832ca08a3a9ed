import { expect as hostExpect } from 'expect'
import { HookError, report, type ErrorReport } from '../errors.js'
import { hintFor } from '../model/names.js'
import type { Project } from '../model/types.js'
import type { Sandbox } from '../sandbox/sandbox.js'
import { Store } from '../store/database.js'
import { loadRecords } from '../store/records.js'
import { parentsFirst } from '../model/order.js'
import { Spending } from '../save/budget.js'
import { type SaveEnvironment } from '../save/save.js'
import type { Program } from '../save/program.js'
import { makeCollector, type CollectedTest } from './collect.js'
import { failureText, makeTestApi } from './test-api.js'

/** Runs the unit tests of plugins, each on its fixture set in a fresh state, and keeps nothing. */

export interface TestResult {
  file: string
  name: string
  status: 'passed' | 'failed' | 'skipped'
  /** Milliseconds. */
  ms: number
  line: number | null
  error: (ErrorReport & { expected?: string; received?: string }) | null
}

/** What a test file imports; `take` collects while a file is being loaded. */
export function testModule(state: { tests: CollectedTest[]; lineOf: () => number | undefined }): Record<string, unknown> {
  return makeCollector(state.tests, hostExpect, () => state.lineOf())
}

export interface TestPlan {
  project: Project
  program: Program
  sandbox: Sandbox
  collected: { tests: CollectedTest[]; lineOf: () => number | undefined }
}

/**
 * @param choose which tests run, by file and name; default: all
 * @param onStart called before each test, so that a watcher knows which one hangs
 */
export function runTests(
  plan: TestPlan,
  choose: (file: string, name: string) => boolean = () => true,
  onStart: (file: string, name: string, line: number | null) => void = () => {},
  onResult: (result: TestResult) => void = () => {},
): TestResult[] {
  const results: TestResult[] = []
  const stores = new Map<string, Store>()
  const note = (result: TestResult) => {
    results.push(result)
    onResult(result)
  }
  try {
    for (const plugin of plan.project.plugins.values())
      for (const file of plugin.tests) {
        for (const test of collect(plan, file, note)) {
          if (!choose(file, test.name)) continue
          onStart(file, test.name, test.line ?? null)
          note(runTest(plan, stores, file, test))
        }
      }
  } finally {
    for (const store of stores.values()) store.close()
  }
  return results
}

function collect(plan: TestPlan, file: string, note: (result: TestResult) => void): CollectedTest[] {
  const { collected, sandbox } = plan
  collected.tests.length = 0
  collected.lineOf = () => sandbox.placeOf(new Error('here'))?.line
  const spending = new Spending(
    plan.project,
    1,
    sandbox.meter,
    () => ({ file, chain: '' }),
    () => {},
  )
  try {
    sandbox.forget(file)
    sandbox.load(file)
    const names = new Set<string>()
    for (const test of collected.tests) {
      if (names.has(test.name))
        throw new HookError('hook/bad-definition', { file, line: test.line, detail: `two tests are named '${test.name}'` })
      names.add(test.name)
    }
    return [...collected.tests]
  } catch (error) {
    if (!(error instanceof HookError)) throw error
    note({
      file,
      name: file.replace(/^.*\//, ''),
      status: 'failed',
      ms: 0,
      line: error.report.line ?? null,
      error: { ...error.report, file: error.report.file ?? file },
    })
    return []
  } finally {
    spending.close()
  }
}

/** A database in memory with the records of a fixture set, made once and rolled back after each test. */
export function fixtureStore(project: Project, set: string | undefined): Store {
  const records = set === undefined ? new Map() : project.fixtures.get(set)
  if (!records) throw new HookError('project/unknown-fixtures', { set, hint: hintFor(set!, project.fixtures.keys()) })
  const store = new Store(':memory:')
  store.createTables(project)
  store.transaction(() => {
    for (const table of parentsFirst(project.tables.values())) loadRecords(store, table, records.get(table.name) ?? [])
    return { value: undefined, keep: true }
  })
  return store
}

function runTest(plan: TestPlan, stores: Map<string, Store>, file: string, test: CollectedTest): TestResult {
  const result: TestResult = { file, name: test.name, status: 'passed', ms: 0, line: test.line ?? null, error: null }
  if (test.skip) return { ...result, status: 'skipped' }
  const started = performance.now()
  try {
    for (const hook of test.options.hooks ?? [])
      if (!plan.program.hooks.some((each) => each.name === hook))
        throw new HookError('hook/bad-definition', {
          detail: `test '${test.name}': there is no hook ${hook}${hintFor(
            hook,
            plan.program.hooks.map((each) => each.name),
          )}`,
        })
    const key = test.options.fixtures ?? ''
    const store = stores.get(key) ?? fixtureStore(plan.project, test.options.fixtures)
    stores.set(key, store)
    const environment: SaveEnvironment = { project: plan.project, program: plan.program, store }
    store.transaction(() => {
      const returned = test.body(makeTestApi(environment, test.options))
      if (returned !== null && typeof returned === 'object' && 'then' in returned)
        throw new HookError('hook/async', { part: 'the test' })
      return { value: undefined, keep: false }
    })
  } catch (error) {
    result.status = 'failed'
    result.error = failure(plan, file, error)
    result.line = result.error.file === file ? (result.error.line ?? result.line) : result.line
  }
  result.ms = Math.round((performance.now() - started) * 10) / 10
  return result
}

const ANSI = new RegExp(String.fromCharCode(27) + '\\[[0-9;]*m', 'g')
const plain = (text: string) => text.replace(ANSI, '')

function failure(plan: TestPlan, file: string, error: unknown): NonNullable<TestResult['error']> {
  if (error instanceof HookError) {
    const { report: made } = error
    const place = made.file ? {} : { file, line: plan.sandbox.placeOf(error)?.line }
    return { ...made, ...place, message: made.refusals ? failureText(error) : made.message }
  }
  const at = plan.sandbox.placeOf(error) ?? { file }
  const matcher = (error as { matcherResult?: { expected?: unknown; actual?: unknown; message?: unknown } } | null)?.matcherResult
  if (!matcher) return plan.sandbox.toHookError(error, { file }, 'test/failed').report
  const show = (value: unknown) => (value === undefined ? 'undefined' : (JSON.stringify(value, null, 2) ?? String(value)))
  const made = report('test/failed', { ...at, detail: plain((error as Error).message) })
  // Matchers that compare in parts say the difference in their message only.
  if (!('expected' in matcher) || !('actual' in matcher)) return made
  return { ...made, expected: show(matcher.expected), received: show(matcher.actual) }
}
