import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { basename, dirname, join, resolve } from 'node:path'
import type { Command } from 'commander'
import { makeFolder } from '@patient-hook/core/workbench'
import { examples, print, usage } from '../output.js'
import { packageAddition } from '../package-json.js'
import { filesOf, writeEditorFiles } from '../project.js'

export function addInit(program: Command): void {
  program
    .command('init')
    .addHelpText('after', examples('patient-hook init shop'))
    .description('Create a project: a table, a hook, its tests, a fixture set, and types for TypeScript editors.')
    .argument('[folder]', 'the project folder; it is created if missing, and files in it stay as they are', '.')
    .action(async (folder: string) => {
      const root = resolve(folder)
      const { starterFiles, TSCONFIG_FILE } = await import('@patient-hook/core')
      const there = ['project.json', 'tables', 'plugins', 'fixtures'].find((path) => existsSync(join(root, path)))
      if (there !== undefined)
        throw usage(`${join(folder, there)} already exists: init creates a new project; add to this one with patient-hook new`)
      const addToPackage = packageAddition(root, folder)
      const hasOptions = existsSync(join(root, TSCONFIG_FILE))
      for (const [path, text] of starterFiles(basename(root))) {
        const target = join(root, path)
        if (path === '.gitignore' && existsSync(target)) print(addLines(target, text))
        else {
          makeFolder(dirname(target))
          writeFileSync(target, text)
          print(`wrote ${path}`)
        }
      }
      for (const path of await writeEditorFiles(root, filesOf(root))) print(`wrote ${path}`)
      print(addToPackage())
      if (hasOptions)
        print(`kept ${TSCONFIG_FILE}: it must include plugins/**/*.ts and types/**/*.d.ts for editors to check hooks`)
      print(`\nNext: patient-hook test ${folder} --watch, or patient-hook serve ${folder}`)
    })
}

/** Adds the lines that a file does not have yet. @returns what was done */
function addLines(file: string, lines: string): string {
  const before = readFileSync(file, 'utf8')
  const present = before.split(/\r?\n/)
  const missing = lines.split('\n').filter((line) => line !== '' && !present.includes(line))
  if (missing.length === 0) return `kept ${basename(file)}`
  writeFileSync(file, `${before}${before === '' || before.endsWith('\n') ? '' : '\n'}${missing.join('\n')}\n`)
  return `added ${missing.join(', ')} to ${basename(file)}`
}
