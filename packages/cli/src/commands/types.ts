import { resolve } from 'node:path'
import type { Command } from 'commander'
import { examples, EXIT, print } from '../output.js'
import { filesOf, staleDeclarations, writeEditorFiles } from '../project.js'

export const staleText = (path: string, folder: string): string =>
  `${path}: not current with the tables and hooks; run patient-hook types ${folder}`

export function addTypes(program: Command): void {
  program
    .command('types')
    .addHelpText('after', examples('patient-hook types vault --check'))
    .description('Write TypeScript declarations of tables and hooks for editors.')
    .argument('[folder]', 'the project folder', '.')
    .option('--check', 'write nothing; exit with 1 when the declarations are not current')
    .action(async (folder: string, { check }: { check?: boolean }) => {
      const files = filesOf(folder)
      if (check) {
        const stale = await staleDeclarations(resolve(folder), files)
        print(stale === null ? 'The declarations are current.' : staleText(stale, folder))
        process.exitCode = stale === null ? EXIT.well : EXIT.notWell
        return
      }
      for (const path of await writeEditorFiles(resolve(folder), files)) print(`wrote ${path}`)
    })
}
