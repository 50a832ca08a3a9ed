import type { Files } from '@patient-hook/contract'
import { runTests, type TestResult } from '../../prove/run-tests.js'
import type { OpenProject } from '../open-project.js'

/** Unit tests. Tells `test` before each test and `result` after it. */

/**
 * @param filter only tests of which file or name contain it
 * @param done tests that have run already, before an engine had to be replaced
 */
export function tests(
  open: OpenProject,
  drafts: Files | undefined,
  only: string[] | null,
  done: { file: string; name: string }[],
  filter?: string,
): TestResult[] {
  const finished = new Set(done.map(({ file, name }) => `${file}\n${name}`))
  return runTests(
    open.runtimes.with(drafts),
    (file) => only === null || only.includes(file),
    (file, name) => !finished.has(`${file}\n${name}`) && (filter === undefined || `${file}: ${name}`.includes(filter)),
    (file, name, line) => open.tell('test', { file, name, line }),
    (result) => open.tell('result', result),
  )
}

/** Files with tests, as they stand in an editor. */
export function testFiles(open: OpenProject, drafts: Files | undefined): { file: string; plugin: string }[] {
  const { project } = open.runtimes.with(drafts)
  return [...project.plugins.values()].flatMap((plugin) => plugin.tests.map((file) => ({ file, plugin: plugin.name })))
}
