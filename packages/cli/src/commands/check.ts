import type { Command } from 'commander'
import type { Checked } from '@patient-hook/core'
import { EXIT, print, printJson, writeReport } from '../output.js'
import { filesOf, withWorkbench } from '../project.js'

export function addCheck(program: Command): void {
  program
    .command('check')
    .description("Check the project's files, the types of its code, and its hooks and tables for the known traps.")
    .argument('[folder]', 'the project folder', '.')
    .option('--sarif <file>', 'write the findings as SARIF 2.1.0')
    .option('--json', 'print the findings for programs')
    .action(async (folder: string, options: { sarif?: string; json?: boolean }) => {
      const files = filesOf(folder)
      const checked = await withWorkbench(folder, (engines) => engines.call('check', [files], { bare: true }), { size: 1 })
      const { diagnostics, findings } = checked
      if (options.sarif !== undefined) {
        const { RULES, TABLE_RULES, toSarif } = await import('@patient-hook/core')
        const rules = [...RULES, ...TABLE_RULES]
        writeReport(
          '--sarif',
          options.sarif,
          JSON.stringify(toSarif(findings, diagnostics, rules, new Map(Object.entries(files))), null, 2) + '\n',
        )
      }
      const count = diagnostics.length + findings.length
      if (options.json) printJson(forPrograms(checked))
      else {
        for (const each of diagnostics)
          print(`${each.file}:${each.line}:${each.column}: ${each.severity}: ${each.message} (TS${each.code})`)
        for (const each of findings)
          print(
            `${each.file}:${each.line}:${each.column}: ${each.severity}: ${each.message} (${each.rule})${each.mend ? `\n  mend: ${each.mend.title}` : ''}`,
          )
        print(`${checked.tables} tables, ${checked.hooks} hooks: ${count === 0 ? 'all is well' : `${count} to mend`}`)
      }
      process.exitCode = count > 0 ? EXIT.notWell : EXIT.well
    })
}

/** Places from 1; errors of types have TypeScript's number as their code. */
function forPrograms({ findings, diagnostics }: Checked) {
  return {
    findings: findings.map(({ rule, severity, file, hook, line, column, message, mend }) => ({
      rule,
      level: severity,
      file,
      hook,
      line,
      column,
      message,
      mend,
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
