import { existsSync } from 'node:fs'
import { resolve } from 'node:path'
import type { Command } from 'commander'
import type { Files } from '@patient-hook/contract'
import type { Checked } from '@patient-hook/core'
import { HookError, watchFolder, type TryEngines } from '@patient-hook/core/workbench'
import { counted, examples, EXIT, failed, prepareReport, print, printJson, usage, writeReport } from '../output.js'
import { staleDeclarations, withWorkbench } from '../project.js'
import { asReported, reportPathsOf } from '../report-paths.js'
import { toned } from '../terminal.js'
import { staleText } from './types.js'

interface CheckOptions {
  sarif?: string
  watch?: boolean
  hints?: boolean
  json?: boolean
}

export function addCheck(program: Command): void {
  program
    .command('check')
    .addHelpText('after', examples('patient-hook check vault --sarif reports/check.sarif'))
    .description('Check a project: its files, the types of its code, and findings in its hooks and tables.')
    .argument('[folder]', 'the project folder', '.')
    .option('--sarif <file>', 'write the findings as SARIF 2.1.0')
    .option('--hints', 'also list hints')
    .option('--watch', 'check again after each change of the folder; stop with Ctrl+C')
    .option('--json', 'print JSON')
    .action(async (folder: string, options: CheckOptions) => {
      if (options.watch && options.json) throw usage('--watch cannot be combined with --json')
      prepareReport('--sarif', options.sarif)
      await withWorkbench(
        folder,
        async (engines, files) => {
          if (!options.watch) return checkOnce(folder, engines, files, options)
          await attempt(() => checkOnce(folder, engines, files, options))
          print('\nWatching the folder; Ctrl+C ends it.')
          await watchFolder(folder, new Map(Object.entries(files)), tell, async (now, changed) => {
            print(`\nchanged: ${changed.join(', ')}`)
            await attempt(() => checkOnce(folder, engines, Object.fromEntries(now), options))
          })
        },
        { size: 1 },
      )
    })
}

const severity = (word: string): string => toned(word === 'error' ? 'bad' : word === 'warning' ? 'warning' : 'quiet', word)
const tell = (error: unknown): void => void (process.exitCode = failed(error, false))
/** What is wrong with the project is reported, and the watching goes on. */
async function attempt(work: () => Promise<void>): Promise<void> {
  try {
    await work()
  } catch (error) {
    if (!HookError.is(error)) throw error
    tell(error)
  }
}

async function checkOnce(folder: string, engines: TryEngines, files: Files, options: CheckOptions): Promise<void> {
  const all = await engines.call('check', [files], { bare: true })
  const checked = { ...all, findings: all.findings.filter(({ severity }) => options.hints || severity !== 'hint') }
  const { diagnostics, findings } = checked
  if (options.sarif !== undefined) {
    const { RULES, TABLE_RULES, toSarif } = await import('@patient-hook/core')
    const pathOf = reportPathsOf(folder)
    const texts = new Map(Object.entries(files).map(([file, text]) => [pathOf(file), text]))
    const sarif = toSarif(asReported(findings, pathOf), asReported(diagnostics, pathOf), [...RULES, ...TABLE_RULES], texts)
    writeReport('--sarif', options.sarif, `${JSON.stringify(sarif, null, 2)}\n`)
  }
  const count = diagnostics.length + findings.filter(({ severity }) => severity !== 'hint').length
  if (options.json) printJson(forPrograms(checked))
  else {
    for (const each of diagnostics)
      print(`${each.file}:${each.line}:${each.column}: ${severity(each.severity)}: ${each.message} (TS${each.code})`)
    for (const each of findings)
      print(
        `${each.file}:${each.line}:${each.column}: ${severity(each.severity)}: ${each.message} (${each.rule})${each.fix ? `\n  fix: ${each.fix.title}` : ''}`,
      )
    // A project that has no declarations does without.
    const stale = existsSync(resolve(folder, 'types')) ? await staleDeclarations(resolve(folder), files) : null
    if (stale !== null) print(staleText(stale, folder))
    print(
      `${counted(checked.tables, 'table')}, ${counted(checked.hooks, 'hook')}: ${count === 0 ? 'all is well' : `${count} to fix`}`,
    )
  }
  process.exitCode = count > 0 ? EXIT.notWell : EXIT.well
}

/** Places from 1; errors of types have TypeScript's number as their code. */
function forPrograms({ findings, diagnostics }: Checked) {
  return {
    findings: findings.map(({ rule, severity, file, hook, line, column, message, fix }) => ({
      rule,
      level: severity,
      file,
      hook,
      line,
      column,
      message,
      fix,
    })),
    types: diagnostics.map(({ file, line, column, severity, message, code }) => ({
      file,
      line,
      column,
      level: severity,
      message,
      code,
    })),
  }
}
