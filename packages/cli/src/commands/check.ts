import { writeFileSync } from 'node:fs'
import { resolve } from 'node:path'
import type { Command } from 'commander'
import { checkTypes, findIn, loadProject, makeRuntime, RULES, toSarif } from '@patient-hook/core'
import { EXIT, print, printJson } from '../output.js'

export function addCheck(program: Command): void {
  program
    .command('check')
    .description("Check the project's files, the types of its code, and its hooks for the known traps.")
    .argument('[folder]', 'the project folder', '.')
    .option('--sarif <file>', 'write the findings as SARIF 2.1.0')
    .option('--json', 'print the findings for programs')
    .action((folder: string, options: { sarif?: string; json?: boolean }) => {
      const project = loadProject(resolve(folder))
      const diagnostics = checkTypes(project)
      const findings = findIn(project)
      if (options.sarif !== undefined)
        writeFileSync(options.sarif, JSON.stringify(toSarif(findings, diagnostics, RULES, project.files), null, 2) + '\n')
      const count = diagnostics.length + findings.length
      // A definition that cannot be used is said by types and findings first, with more to go by.
      if (count === 0) makeRuntime(project.files, { project })
      if (options.json) printJson({ diagnostics, findings })
      else {
        for (const each of diagnostics)
          print(`${each.file}:${each.line}:${each.column}: ${each.severity}: ${each.message} (TS${each.code})`)
        for (const each of findings)
          print(
            `${each.file}:${each.line}:${each.column}: ${each.severity}: ${each.message} (${each.rule})${each.mend ? `\n  mend: ${each.mend.title}` : ''}`,
          )
        const hooks = [...project.plugins.values()].reduce((sum, plugin) => sum + plugin.hooks.length, 0)
        print(`${project.tables.size} tables, ${hooks} hooks: ${count === 0 ? 'all is well' : `${count} to mend`}`)
      }
      process.exitCode = count > 0 ? EXIT.notWell : EXIT.well
    })
}
