import { existsSync, statSync } from 'node:fs'
import { basename, join, resolve } from 'node:path'
import type { Command } from 'commander'
import type { AdoptionNote } from '@patient-hook/core'
import { counted, examples, print, printJson, usage } from '../output.js'
import { filesOf, writeEditorFiles } from '../project.js'

interface AdoptOptions {
  out: string
  json?: boolean
}

export function addAdopt(program: Command): void {
  program
    .command('adopt')
    .addHelpText('after', examples('patient-hook adopt old.sqlite --out vault', 'patient-hook adopt exports/ --out vault'))
    .description('Create a project from data that exists: its tables, links and records.')
    .argument('<source>', 'a SQLite database, or a folder with one .csv or .json file for each table')
    .requiredOption('--out <folder>', 'the project folder to create')
    .option('--json', 'print JSON')
    .action(async (source: string, { out, json }: AdoptOptions) => {
      const root = resolve(out)
      const there = ['project.json', 'tables', 'plugins', 'data'].find((path) => existsSync(join(root, path)))
      if (there !== undefined) throw usage(`${join(out, there)} already exists: name a folder without a project`)
      if (!existsSync(source)) throw usage(`there is no ${source}`)
      const { adopt, readDataFolder, readSqlite, writeFolder } = await import('@patient-hook/core')
      const read = statSync(source).isDirectory() ? readDataFolder(source) : readSqlite(source)
      const { files, tables, notes } = adopt(read, basename(root))
      writeFolder(root, files)
      await writeEditorFiles(root, filesOf(root))
      if (json) return printJson({ tables, notes })
      const width = Math.max(...tables.map(({ name }) => name.length))
      for (const { name, from, records } of tables)
        print(`${name.padEnd(width)}  ${counted(records, 'record')}${from === name ? '' : `, from ${from}`}`)
      if (notes.length > 0) print(`\nNot carried over as it was:\n${notes.map(lineOf).join('\n')}`)
      print(`\nWrote ${counted(tables.length, 'table')} to ${out}. Next: patient-hook serve ${out}, or patient-hook new hook`)
    })
}

const lineOf = ({ about, column, detail }: AdoptionNote): string => `  ${about}${column === null ? '' : `.${column}`}: ${detail}`
