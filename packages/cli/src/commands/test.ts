import type { Command } from 'commander'
import { describe, hintFor, measureCoverage, runTests, toJUnit, toLcov, toTap, type TestResult } from '@patient-hook/core'
import { coverageLines, coverageOf } from '../coverage.js'
import { EXIT, print, printJson, usage, writeReport } from '../output.js'
import { filesOf, withWorkbench } from '../project.js'

const REPORTERS = { people: null, tap: toTap, junit: toJUnit } as const
type Reporter = keyof typeof REPORTERS

interface TestOptions {
  plugin?: string
  filter?: string
  reporter: string
  out?: string
  coverage?: boolean
  lcov?: string
  json?: boolean
}

export function addTest(program: Command): void {
  program
    .command('test')
    .description("Run the unit tests of the project's plugins.")
    .argument('[folder]', 'the project folder', '.')
    .option('--plugin <name>', 'only the tests of this plugin')
    .option('--filter <text>', 'only tests of which file or name contain it')
    .option('--reporter <name>', `${Object.keys(REPORTERS).join(', ')}: TAP is version 14, JUnit is XML`, 'people')
    .option('--out <file>', 'write the report there; what people read is printed still')
    .option('--coverage', 'tell which statements and branches of the hooks the tests run')
    .option('--lcov <file>', 'write that there too, as LCOV; goes with --coverage')
    .option('--json', 'print the results for programs')
    .action(async (folder: string, options: TestOptions) => {
      const report = reporterOf(options.reporter)
      if (options.out !== undefined && report === null) throw usage('--out is for --reporter tap or junit')
      if (options.plugin !== undefined) checkPlugin(filesOf(folder), options.plugin)
      const forPeople = !options.json && (report === null || options.out !== undefined)
      if (options.lcov !== undefined && !options.coverage) throw usage('--lcov goes with --coverage')
      const run = {
        plugin: options.plugin,
        filter: options.filter,
        onResult: forPeople ? (result: TestResult) => print(lineFor(result)) : () => {},
      }
      const { tests: results, coverage } = await withWorkbench(folder, async (engines) =>
        options.coverage ? measureCoverage(engines, run) : { tests: await runTests(engines, run), coverage: null },
      )
      const count = (status: TestResult['status']) => results.filter((result) => result.status === status).length
      const counts = { passed: count('passed'), failed: count('failed'), skipped: count('skipped') }
      if (options.filter !== undefined && results.length === 0)
        throw usage(`--filter ${JSON.stringify(options.filter)}: no test has it in its file or name`)
      if (report && options.out !== undefined) writeReport('--out', options.out, report(results))
      else if (report) print(report(results))
      const files = coverage?.files() ?? []
      if (coverage && options.lcov !== undefined) writeReport('--lcov', options.lcov, toLcov(coverage.data))
      if (options.json) printJson({ ...counts, tests: results, ...(coverage ? { coverage: coverageOf(files) } : {}) })
      else if (forPeople) {
        if (coverage) print(`\n${coverageLines(files).join('\n')}`)
        const skipped = counts.skipped > 0 ? `, ${counts.skipped} skipped` : ''
        print(`\n${counts.passed} passed, ${counts.failed} failed${skipped}`)
      }
      process.exitCode = counts.failed > 0 ? EXIT.notWell : EXIT.well
    })
}

/** @throws HookError for one that there is not */
function reporterOf(name: string): (typeof REPORTERS)[Reporter] {
  const names = Object.keys(REPORTERS)
  if (!names.includes(name)) throw usage(`--reporter: there is no ${JSON.stringify(name)}; there are ${names.join(', ')}`)
  return REPORTERS[name as Reporter]
}

/** @throws HookError where the project has no such plugin: no tests at all would look like tests that pass */
function checkPlugin(files: Record<string, string>, plugin: string): void {
  const plugins = [...new Set(Object.keys(files).map((path) => /^plugins\/([^/]+)\//.exec(path)?.[1]))].filter(
    (name) => name !== undefined,
  )
  if (!plugins.includes(plugin)) throw usage(`there is no plugin ${plugin}${hintFor(plugin, plugins)}`)
}

const MARK = { passed: 'ok  ', failed: 'FAIL', skipped: 'skip' }

function lineFor(result: TestResult): string {
  const head = `${MARK[result.status]} ${result.file}: ${result.name}${result.status === 'passed' ? ` (${result.ms} ms)` : ''}`
  if (!result.error) return head
  const text =
    result.error.code === 'test/failed'
      ? `${result.error.file}:${result.error.line ?? ''}\n${result.error.message}`
      : `${describe(result.error)}\n${result.error.todo}`
  return `${head}\n${text
    .split('\n')
    .map((line) => '       ' + line)
    .join('\n')}`
}
