import type { LogLine, Lookup, TestResult as SharedTestResult, Verdict } from '@patient-hook/contract'
import { HookError, report, type ErrorReport } from '../errors.js'
import { hintFor } from '../model/names.js'
import type { Project } from '../model/types.js'
import type { Sandbox } from '../sandbox/sandbox.js'
import type { Counts } from '../sandbox/file-counts.js'
import { AT_WORK, atWork } from '../watch.js'
import { Spending } from '../save/budget.js'
import type { SaveEnvironment, SaveOutcome } from '../save/save.js'
import type { Program } from '../save/program.js'
import { makeCollector, type Collected, type CollectedTest } from './collect.js'
import { expectations, matcherResult, safeExpect } from './expect.js'
import { FixtureStores } from './fixtures/fixture-stores.js'
import { failureOf, makeTestApi } from './test-api.js'

/** Runs the unit tests of plugins, each on its fixture set in a fresh state, and keeps nothing. */

export type TestResult = Omit<SharedTestResult, 'error'> & {
  error: (ErrorReport & { expected?: string; received?: string }) | null
}

/** What a test file imports; `take` collects while a file is being loaded. */
export function testModule(state: Collected): Record<string, unknown> {
  return Object.freeze(makeCollector(state, safeExpect()))
}

/** By file: what a test ran. */
export type TestCounts = Record<string, Counts>

export interface TestPlan {
  project: Project
  program: Program
  sandbox: Sandbox
  collected: Collected
}

/**
 * @param chooseFile which files are loaded; default: all
 * @param choose which tests of them run; default: all
 * @param onStart called before each test, so that a watcher knows which one hangs
 * @param onResult with what the test ran, where that is counted
 * @param kept databases of fixture sets that go on after these tests; default: made for them
 */
export function runTests(
  plan: TestPlan,
  chooseFile: (file: string) => boolean = () => true,
  choose: (file: string, name: string) => boolean = () => true,
  onStart: (file: string, name: string, line: number | null) => void = () => {},
  onResult: (result: TestResult, counts: TestCounts | null) => void = () => {},
  kept: FixtureStores | null = null,
): TestResult[] {
  const results: TestResult[] = []
  const stores = kept ?? new FixtureStores()
  const note = (result: TestResult, counts: TestCounts | null = null) => {
    results.push(result)
    onResult(result, counts)
  }
  try {
    for (const plugin of plan.project.plugins.values())
      for (const file of plugin.tests.filter(chooseFile)) {
        const tests = collect(plan, file, note)
        const keepsState = plan.sandbox.keepsState(file)
        for (const test of tests) {
          if (!choose(file, test.name)) continue
          onStart(file, test.name, test.line ?? null)
          const fresh = keepsState ? freshly(plan, file, test) : test
          takeCounts(plan)
          const result = runTest(plan, stores, file, fresh)
          const counts = takeCounts(plan)
          if (result.error) Object.assign(result, storyOf(plan, stores, file, test))
          note(result, counts)
        }
      }
  } finally {
    if (!kept) stores.close()
  }
  return results
}

/** By hook: the tests that save something it looks at, whether it runs or not. One that fails as it is notices nothing. */
export function testsReaching(plan: TestPlan): Map<string, { file: string; name: string }[]> {
  const reaching = new Map<string, { file: string; name: string }[]>()
  const stores = new FixtureStores()
  try {
    for (const plugin of plan.project.plugins.values())
      for (const file of plugin.tests)
        for (const test of collect(plan, file, () => {})) {
          const hooks = new Set<string>()
          const fresh = plan.sandbox.keepsState(file) ? freshly(plan, file, test) : test
          const { status } = runTest(plan, stores, file, fresh, ({ verdicts }) => verdicts.forEach(({ hook }) => hooks.add(hook)))
          if (status !== 'passed') continue
          for (const hook of hooks) reaching.set(hook, [...(reaching.get(hook) ?? []), { file, name: test.name }])
        }
  } finally {
    stores.close()
  }
  return reaching
}

/** By file: what ran since this was asked for last; null where nothing is counted. */
function takeCounts({ sandbox }: TestPlan): TestCounts | null {
  if (!sandbox.counts) return null
  const counts = [...sandbox.counts].map(([file, each]) => [file, each.take()] as const)
  return Object.fromEntries(counts.filter(([, { s, f, b }]) => [s, f, b].some((ran) => Object.keys(ran).length > 0)))
}

function collect(plan: TestPlan, file: string, note: (result: TestResult) => void): CollectedTest[] {
  const { collected, sandbox } = plan
  collected.tests = []
  collected.setups = []
  collected.lineOf = () => sandbox.caller()?.line
  const spending = new Spending(plan.project, 1, sandbox.meter, () => ({ file, chain: '' }))
  try {
    sandbox.forget(file)
    sandbox.load(file)
    const names = new Set<string>()
    for (const test of collected.tests) {
      if (names.has(test.name))
        throw new HookError('hook/bad-definition', { file, line: test.line, detail: `two tests are named '${test.name}'` })
      names.add(test.name)
    }
    const alone = collected.tests.some(({ only }) => only)
    return collected.tests.map((test) => (alone && !test.only ? { ...test, skip: true } : test))
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

/** The test out of its file in its initial state: what one test leaves in its module does not reach the next. */
function freshly(plan: TestPlan, file: string, test: CollectedTest): CollectedTest {
  if (test.skip) return test
  plan.sandbox.forgetState()
  return collect(plan, file, () => {}).find((each) => each.name === test.name) ?? test
}

function runTest(
  plan: TestPlan,
  stores: FixtureStores,
  file: string,
  test: CollectedTest,
  onSave: ((outcome: SaveOutcome) => void) | null = null,
): TestResult {
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
    const environment = environmentOf(plan, stores, test)
    result.error = environment.store.transaction(() => ({ value: run(plan, file, environment, test, onSave), keep: false }))
  } catch (error) {
    result.error = failure(plan, file, error)
  }
  if (result.error) {
    result.status = 'failed'
    if (result.error.file === file) result.line = result.error.line ?? result.line
  }
  result.ms = Math.round((performance.now() - started) * 10) / 10
  return result
}

/** @throws HookError where its fixture set is not there, or its records are wrong */
function environmentOf({ project, program }: TestPlan, stores: FixtureStores, { options }: CollectedTest): SaveEnvironment {
  return { project, program, store: stores.of(project, options.fixtures) }
}

/** Of each kind, told of a failed test. */
const MOST_TOLD = 200

/** What the saves of a failed test did: it runs once more, and is listened to. */
function storyOf(
  plan: TestPlan,
  stores: FixtureStores,
  file: string,
  test: CollectedTest,
): Required<Pick<TestResult, 'verdicts' | 'lookups' | 'logs'>> {
  const story = { verdicts: [] as Verdict[], lookups: [] as Lookup[], logs: [] as LogLine[] }
  const again = plan.sandbox.keepsState(file) ? freshly(plan, file, test) : test
  runTest(plan, stores, file, again, ({ verdicts, lookups, logs }) => {
    story.verdicts.push(...verdicts)
    story.lookups.push(...lookups)
    story.logs.push(...logs)
  })
  const { verdicts, lookups, logs } = story
  return { verdicts: verdicts.slice(0, MOST_TOLD), lookups: lookups.slice(0, MOST_TOLD), logs: logs.slice(0, MOST_TOLD) }
}

/** @returns what was wrong; looked at while the test still is at work, and before anything of the engine sees what it threw */
function run(
  plan: TestPlan,
  file: string,
  environment: SaveEnvironment,
  test: CollectedTest,
  onSave: ((outcome: SaveOutcome) => void) | null = null,
): TestResult['error'] {
  const { project, sandbox } = plan
  const spending = new Spending(project, 1, sandbox.meter, () => ({ file, line: test.line, chain: '' }))
  return atWork(AT_WORK.test, () => {
    try {
      const before = expectations()
      test.body(makeTestApi(environment, test.options, onSave))
      // A test may have swallowed the error of a spent budget.
      if (spending.broken) return failure(plan, file, spending.broken, test.line)
      return expectations() > before ? null : report('test/expects-nothing', { file, line: test.line })
    } catch (error) {
      return failure(plan, file, error, test.line)
    } finally {
      spending.close()
    }
  })
}

const ANSI = new RegExp(String.fromCharCode(27) + '\\[[0-9;]*m', 'g')
const plain = (text: string) => text.replace(ANSI, '')

function failure(plan: TestPlan, file: string, error: unknown, line?: number): NonNullable<TestResult['error']> {
  if (HookError.is(error)) {
    if (error.report.refusals) return failureOf(error.report, { file, line })
    return error.report.file ? error.report : plan.sandbox.toHookError(error, { file }).report
  }
  const matcher = matcherResult(error)
  if (!matcher) return plan.sandbox.toHookError(error, { file }, 'test/failed').report
  const at = plan.sandbox.toHookError(error, { file }, 'test/failed').report
  const told = report('test/failed', { file: at.file, line: at.line, column: at.column, detail: plain(matcher.message) })
  return { ...told, ...matcher.sides }
}
