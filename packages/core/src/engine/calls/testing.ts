import type { Files } from '@patient-hook/contract'
import { affectedTests } from '../../prove/affected.js'
import type { CoverageGround } from '../../prove/coverage/coverage.js'
import { runTests, type TestResult } from '../../prove/run-tests.js'
import type { OpenProject } from '../open-project.js'

/** Unit tests. Tells `test` before each test and `result` after it, with `counts` before that where it is counted. */

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
  counted = false,
): TestResult[] {
  const finished = new Set(done.map(({ file, name }) => `${file}\n${name}`))
  return runTests(
    open.runtimes.with(drafts, counted ? 'counted' : 'plain'),
    (file) => only === null || only.includes(file),
    (file, name) => !finished.has(`${file}\n${name}`) && (filter === undefined || `${file}: ${name}`.includes(filter)),
    (file, name, line) => open.tell('test', { file, name, line }),
    (result, counts) => {
      if (counts) open.tell('counts', counts)
      open.tell('result', result)
    },
    open.fixtures,
  )
}

/** What there is to count in hooks and their modules. */
export function coverageGround(open: OpenProject, drafts: Files | undefined): CoverageGround[] {
  const { project, sandbox } = open.runtimes.with(drafts, 'counted')
  return [...project.plugins.values()].flatMap(({ hooks, lib }) =>
    [...hooks.map(({ file, name }) => ({ file, hook: name })), ...lib.map((file) => ({ file, hook: null }))].flatMap(
      ({ file, hook }) => {
        // A module that nothing imports is loaded here; its work then belongs to no test.
        sandbox.load(file)
        const counts = sandbox.counts?.get(file)
        return counts ? [{ file, hook, data: counts.of, loading: counts.loading }] : []
      },
    ),
  )
}

/** Files with tests that a change of these files may make come out otherwise. */
export const testsAffected = (open: OpenProject, drafts: Files | undefined, changed: string[]): string[] =>
  affectedTests(open.runtimes.projectWith(drafts), changed)

/** Files with tests, as edited. @throws HookError where the hooks cannot be loaded */
export function testFiles(open: OpenProject, drafts: Files | undefined, counted = false): { file: string; plugin: string }[] {
  const { project } = open.runtimes.with(drafts, counted ? 'counted' : 'plain')
  return [...project.plugins.values()].flatMap((plugin) => plugin.tests.map((file) => ({ file, plugin: plugin.name })))
}
