import { existsSync, writeFileSync } from 'node:fs'
import { basename, dirname, join, resolve } from 'node:path'
import type { Command } from 'commander'
import { makeFolder } from '@patient-hook/core/workbench'
import { print, usage } from '../output.js'
import { filesOf, writeEditorFiles } from '../project.js'

export function addInit(program: Command): void {
  program
    .command('init')
    .description('Create a project: a table, a hook, its tests, a fixture set, and types for TypeScript editors.')
    .argument('[folder]', 'the project folder; it is created if missing', '.')
    .action(async (folder: string) => {
      const root = resolve(folder)
      const { starterFiles, TSCONFIG_FILE, TYPES_FILE } = await import('@patient-hook/core')
      const files = starterFiles(basename(root))
      const there = [...files.keys(), TSCONFIG_FILE, TYPES_FILE].find((path) => existsSync(join(root, path)))
      if (there !== undefined)
        throw usage(`${join(folder, there)} already exists: init creates a new project and changes no file`)
      for (const [path, text] of files) {
        makeFolder(dirname(join(root, path)))
        writeFileSync(join(root, path), text)
        print(`wrote ${path}`)
      }
      for (const path of await writeEditorFiles(root, filesOf(root))) print(`wrote ${path}`)
      print(`\nNext: patient-hook test ${folder} --watch, or patient-hook serve ${folder}`)
    })
}
