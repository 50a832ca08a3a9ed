import type { Files, Ground, InputRow, KeptTest, KeepTest } from '@patient-hook/contract'
import { HookError } from '../../errors.js'
import { writeCsv } from '../../model/record-files.js'
import type { Project } from '../../model/types.js'
import { fixtureStore } from '../../prove/fixtures/fixture-store.js'
import { runTests } from '../../prove/run-tests.js'
import { neededRecords } from '../../rehearse/kept/needed-records.js'
import { testCode } from '../../rehearse/kept/test-code.js'
import { trySave } from '../../save/save.js'
import type { SaveOptions } from '../../save/types.js'
import { onGround } from '../ground.js'
import type { OpenProject } from '../open-project.js'
import type { Runtime } from '../runtime.js'

/** A rehearsal becomes a unit test with a fixture its own set; tried before it is offered: it passes, and fails without each hook. */

/** @throws HookError where the rehearsal itself cannot be made, or a name is taken */
export function keepTest(
  open: OpenProject,
  ground: Ground,
  rows: InputRow[],
  asked: Pick<SaveOptions, 'user' | 'clock' | 'partial'>,
  { name, plugin, silent }: KeepTest,
): KeptTest {
  const { drafts = {} } = ground
  const runtime = open.runtimes.with(drafts)
  const { project } = runtime
  // A test has its own time: what came out at another may not come out again.
  const options = { ...asked, clock: asked.clock ?? new Date().toISOString() }
  const { file, slug: set } = freshTest(project, plugin, name)
  if (project.fixtures.has(set)) throw new HookError('rehearse/cannot-keep', { detail: `there is a fixture set ${set} already` })
  const { told, needed } = onGround(open, runtime, ground, (environment) => {
    const told = trySave(environment, rows, { ...options, rehearse: true, record: true })
    return { told, needed: neededRecords(project, environment.store, { inputs: rows, rows: told.rows, lookups: told.lookups }) }
  })
  const files: Files = {}
  for (const [table, records] of needed) files[`fixtures/${set}/${table}.csv`] = writeCsv(project.tables.get(table)!, records)
  // What came out is asked once more of the set alone: what it lacks would make another result.
  const alone = open.runtimes.with({ ...drafts, ...files })
  const store = fixtureStore(alone.project, needed.size > 0 ? set : undefined)
  const wish = { name, silent, ...(needed.size > 0 ? { fixtures: set } : {}), ...options }
  try {
    const again = trySave({ project: alone.project, program: alone.program, store }, rows, {
      ...options,
      rehearse: true,
      record: true,
    })
    files[file] = testCode(wish, rows, again)
  } finally {
    store.close()
  }
  const all = { ...drafts, ...files }
  const failure = outcomeOf(open.runtimes.with(all), file)
  return {
    files,
    file,
    failure,
    notices: Object.keys(told.ran)
      .sort()
      .map((hook) => ({ without: hook, fails: failure === null && outcomeOf(without(open, all, runtime, hook), file) !== null })),
  }
}

/** A file for a test of this name. @throws HookError rehearse/cannot-keep where there is one already, or no such plugin */
export function freshTest(project: Project, plugin: string, name: string): { file: string; slug: string } {
  if (!project.plugins.has(plugin)) throw new HookError('rehearse/cannot-keep', { detail: `there is no plugin ${plugin}` })
  const slug = slugOf(name)
  const file = `plugins/${plugin}/tests/${slug}.test.ts`
  if (project.files.has(file)) throw new HookError('rehearse/cannot-keep', { detail: `${file} is there already` })
  return { file, slug }
}

/** The project with one hook switched off. */
function without(open: OpenProject, drafts: Files, { project, program }: Runtime, hook: string): Runtime {
  const { plugin } = program.hooks.find((each) => each.name === hook)!
  const path = `plugins/${plugin}/plugin.json`
  const source = JSON.parse(drafts[path] ?? project.files.get(path)!) as { hooks?: object }
  return open.runtimes.with({
    ...drafts,
    [path]: JSON.stringify({ ...source, hooks: { ...source.hooks, [hook]: { off: true } } }),
  })
}

/** Why the test fails; null where it passes. */
export function outcomeOf(runtime: Runtime, file: string): string | null {
  const results = runTests(runtime, (each) => each === file)
  const failed = results.find((each) => each.status === 'failed')
  return results.length === 0 ? 'no test was found' : (failed?.error?.message ?? null)
}

const slugOf = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60) || 'kept'
