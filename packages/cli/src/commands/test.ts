import { pluginsIn } from '@patient-hook/contract/paths'
import type { Command } from 'commander'
import type { Files } from '@patient-hook/contract'
import {
  HookError,
  hintFor,
  measureCoverage,
  runTests,
  watchFolder,
  type TestResult,
  type TryEngines,
} from '@patient-hook/core/workbench'
import { changedFiles } from '../changed-files.js'
import { coverageLines, coverageOf } from '../coverage.js'
import { examples, EXIT, failed, isCut, prepareReport, print, printJson, usage, writeReport } from '../output.js'
import { filesOf, withWorkbench } from '../project.js'
import { asReported, reportPathsOf } from '../report-paths.js'
import { testLine, testSummary } from '../test-output.js'

type Report = (results: readonly TestResult[]) => string
/** Loaded when one is asked for. */
const REPORTERS: Readonly<Record<string, (() => Promise<Report>) | null>> = {
  people: null,
  tap: async () => (await import('@patient-hook/core/formats')).toTap,
  junit: async () => (await import('@patient-hook/core/formats')).toJUnit,
}

interface TestOptions {
  plugin?: string
  filter?: string
  changed?: string | true
  watch?: boolean
  reporter: string
  out?: string
  coverage?: boolean
  lcov?: string
  json?: boolean
  allowNone?: boolean
}

export function addTest(program: Command): void {
  program
    .command('test')
    .addHelpText(
      'after',
      examples('patient-hook test vault --changed main', 'patient-hook test vault --reporter junit --out reports/tests.xml'),
    )
    .description("Run the unit tests of the project's plugins.")
    .argument('[folder]', 'the project folder', '.')
    .option('--plugin <name>', 'run only the tests of this plugin')
    .option('--filter <text>', 'run only tests whose file or name contains the text')
    .option('--changed [commit]', 'run only tests affected by changes since a git commit (default: the last one)')
    .option('--watch', 'run affected tests after each change of the folder; stop with Ctrl+C')
    .option('--reporter <name>', `${Object.keys(REPORTERS).join(', ')}: TAP is version 14, JUnit is XML`, 'people')
    .option('--out <file>', 'write the report to a file, and print the readable one')
    .option('--coverage', 'show which statements and branches of hooks the tests run')
    .option('--lcov <file>', 'also write coverage as LCOV; requires --coverage')
    .option('--allow-none', 'succeed when there are no tests')
    .option('--json', 'print JSON')
    .action(async (folder: string, options: TestOptions) => {
      const report = await checked(folder, options)
      const changed = options.changed === undefined ? undefined : changedFiles(folder, commitOf(options.changed))
      await withWorkbench(
        folder,
        async (engines, files) => {
          const results = await runOnce({ folder, engines, files }, options, report, changed)
          if (options.filter !== undefined && results.length === 0)
            throw usage(`--filter ${JSON.stringify(options.filter)}: no test has it in its file or name`)
          if (results.length === 0 && changed === undefined && !options.allowNone)
            throw new HookError('test/none', { where: options.plugin === undefined ? 'the project' : `plugin ${options.plugin}` })
          exitWith(results)
          if (options.watch) await keepRunning(folder, engines, files, options)
        },
        { proves: true },
      )
    })
}

function exitWith(results: readonly TestResult[]): void {
  process.exitCode = results.some(({ status }) => status === 'failed') ? EXIT.notWell : EXIT.well
}

const commitOf = (changed: string | true): string => (changed === true ? 'HEAD' : changed)

/** @returns the report that is asked for, if any @throws HookError where options do not go together, or name what is not there */
async function checked(folder: string, options: TestOptions): Promise<Report | null> {
  const report = await reporterOf(options.reporter)
  if (options.out !== undefined && report === null) throw usage('--out requires --reporter tap or junit')
  if (options.lcov !== undefined && !options.coverage) throw usage('--lcov requires --coverage')
  if (options.watch && (options.json || report !== null)) throw usage('--watch cannot be combined with --json or a report')
  prepareReport('--out', options.out)
  prepareReport('--lcov', options.lcov)
  if (options.plugin !== undefined) checkPlugin(filesOf(folder), options.plugin)
  return report
}

/** Milliseconds after which a second engine is worth its start. */
const ALONE = 4000

interface Tested {
  folder: string
  engines: TryEngines
  files: Files
}

/** Runs the tests, and prints or writes what is asked for. */
async function runOnce(
  { folder, engines, files }: Tested,
  options: TestOptions,
  report: Report | null,
  changed: readonly string[] | undefined,
): Promise<TestResult[]> {
  const forPeople = !options.json && (report === null || options.out !== undefined)
  const { plugin, filter } = options
  const started = performance.now()
  const onResult = forPeople ? (result: TestResult) => print(testLine(result, files)) : () => {}
  const run = { plugin, filter, changed, onResult, alone: ALONE }
  const { tests: results, coverage } = options.coverage
    ? await measureCoverage(engines, run)
    : { tests: await runTests(engines, run), coverage: null }
  const count = (status: TestResult['status']) => results.filter((result) => result.status === status).length
  const counts = { passed: count('passed'), failed: count('failed'), skipped: count('skipped') }
  const pathOf = reportPathsOf(folder)
  const text = report?.(asReported(results, pathOf))
  if (text !== undefined && options.out !== undefined) writeReport('--out', options.out, text)
  else if (text !== undefined) print(text)
  const covered = coverage?.files() ?? []
  if (coverage && options.lcov !== undefined) {
    const { toLcov } = await import('@patient-hook/core/formats')
    writeReport('--lcov', options.lcov, toLcov(coverage.data, pathOf))
  }
  if (options.json) printJson({ ...counts, tests: results, ...(coverage ? { coverage: coverageOf(covered) } : {}) })
  else if (forPeople) {
    if (coverage) print(`\n${coverageLines(covered).join('\n')}`)
    if (changed && results.length === 0) print('No test is affected by these changes.')
    print(testSummary(results, performance.now() - started))
  }
  return results
}

/** Runs what a change may concern, after each change, until the process is reported to end. */
async function keepRunning(folder: string, engines: TryEngines, files: Files, options: TestOptions): Promise<void> {
  const tell = (error: unknown) => void failed(error, false)
  print('\nWatching the folder; Ctrl+C ends it.')
  const before = new Map(Object.entries(files))
  /** What has changed since tests could run last. */
  let waiting: string[] = []
  await watchFolder(folder, before, tell, async (now, changed) => {
    print(`\nchanged: ${changed.join(', ')}`)
    waiting = [...new Set([...waiting, ...changed])]
    engines.use({ files: now, database: null })
    try {
      exitWith(await runOnce({ folder, engines, files: Object.fromEntries(now) }, options, null, waiting))
      waiting = []
      if (isCut()) process.exit()
    } catch (error) {
      if (!HookError.is(error)) throw error
      tell(error)
    }
  })
}

/** @throws HookError for one that there is not */
async function reporterOf(name: string): Promise<Report | null> {
  const names = Object.keys(REPORTERS)
  if (!names.includes(name)) throw usage(`--reporter: there is no ${JSON.stringify(name)}; there are ${names.join(', ')}`)
  return (await REPORTERS[name]?.()) ?? null
}

/** @throws HookError where the project has no such plugin: no tests at all would look like tests that pass */
function checkPlugin(files: Record<string, string>, plugin: string): void {
  const plugins = pluginsIn(Object.keys(files))
  if (!plugins.includes(plugin)) throw usage(`there is no plugin ${plugin}${hintFor(plugin, plugins)}`)
}
