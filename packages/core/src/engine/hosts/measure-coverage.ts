import { Coverage } from '../../prove/coverage/coverage.js'
import { runTests, type TestRunOptions } from './run-tests.js'
import type { TestResult } from '../../prove/run-tests.js'
import type { TryEngines } from './try-engines.js'

/** Runs unit tests and counts which statements and branches of hooks and their modules they run. */

/** @throws HookError where the project's files are wrong, or request/cancelled */
export async function measureCoverage(
  engines: TryEngines,
  options: Omit<TestRunOptions, 'onCounts'> = {},
): Promise<{ tests: TestResult[]; coverage: Coverage }> {
  const { drafts, signal } = options
  const coverage = new Coverage(await engines.call('coverageGround', [drafts], { signal }))
  const tests = await runTests(engines, { ...options, onCounts: (test, counts) => coverage.add(test, counts) })
  return { tests, coverage }
}
