import { resolve } from 'node:path'
import type { Command } from 'commander'
import { print } from '../output.js'
import { filesOf, writeEditorFiles } from '../project.js'

export function addTypes(program: Command): void {
  program
    .command('types')
    .description('Write TypeScript declarations of tables and hooks for editors.')
    .argument('[folder]', 'the project folder', '.')
    .action(async (folder: string) => {
      const files = filesOf(folder)
      for (const path of await writeEditorFiles(resolve(folder), files)) print(`wrote ${path}`)
    })
}
