import type { Command } from 'commander'
import { describe, hintFor, runTests, type TestResult } from '@patient-hook/core'
import { EXIT, print, printJson } from '../output.js'
import { filesOf, usage, withWorkbench } from '../project.js'

export function addTest(program: Command): void {
  program
    .command('test')
    .description("Run the unit tests of the project's plugins.")
    .argument('[folder]', 'the project folder', '.')
    .option('--plugin <name>', 'only the tests of this plugin')
    .option('--json', 'print the results for programs')
    .action(async (folder: string, options: { plugin?: string; json?: boolean }) => {
      if (options.plugin !== undefined) checkPlugin(filesOf(folder), options.plugin)
      const results = await withWorkbench(folder, (engines) =>
        runTests(engines, {
          plugin: options.plugin,
          onResult: options.json ? () => {} : (result) => print(lineFor(result)),
        }),
      )
      const count = (status: TestResult['status']) => results.filter((result) => result.status === status).length
      const counts = { passed: count('passed'), failed: count('failed'), skipped: count('skipped') }
      if (options.json) printJson({ ...counts, tests: results })
      else {
        const skipped = counts.skipped > 0 ? `, ${counts.skipped} skipped` : ''
        print(`\n${counts.passed} passed, ${counts.failed} failed${skipped}`)
      }
      process.exitCode = counts.failed > 0 ? EXIT.notWell : EXIT.well
    })
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
