import { existsSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import type { Command } from 'commander'
import { makeFolder } from '@patient-hook/core/workbench'
import { withApplication } from '../application.js'
import { examples, print, printJson, usage, writeReport } from '../output.js'
import { filesOf } from '../project.js'

interface ExportOptions {
  data?: string
  out?: string
  plugin?: string
  table?: string
  csv?: boolean
  safeForSpreadsheets?: boolean
  openapi?: boolean
  schemas?: boolean
  json?: boolean
}

export function addExport(program: Command): void {
  program
    .command('export')
    .addHelpText('after', examples('patient-hook export vault --plugin vault'))
    .description('Export a project or plugin as a zip or folder, or the records of a table as CSV.')
    .argument('[folder]', 'the project folder, unless --data is given', '.')
    .option('--data <folder>', "the application's folder, for its working copy and records; it may be running")
    .option('--out <file or folder>', 'target: FILE.zip, or a new or empty folder')
    .option('--plugin <name>', 'export only this plugin, with the fixture sets of its tests')
    .option('--table <name>', 'export the records of this table; requires --csv and --data')
    .option('--csv', 'format: CSV (RFC 4180)')
    .option('--safe-for-spreadsheets', 'escape formulas with an apostrophe')
    .option('--schemas', 'export only the JSON Schemas of the tables')
    .option('--openapi', 'print the OpenAPI 3.1 document of the HTTP API; requires --data')
    .option('--json', 'print JSON')
    .action(async (folder: string, options: ExportOptions) => {
      const { table, csv, json } = options
      if ((table !== undefined) !== (csv === true)) throw usage('use --table and --csv together: records are exported as CSV')
      const written =
        table !== undefined
          ? await exportTable(table, options)
          : options.openapi
            ? await exportOpenApi(options)
            : await exportFiles(folder, options)
      if (json) printJson({ written })
      else print(written.length === 1 ? `wrote ${written[0]}` : `wrote ${written.length} files`)
    })
}

async function exportTable(
  table: string,
  { data, safeForSpreadsheets: safe = false, out = `${table}.csv` }: ExportOptions,
): Promise<string[]> {
  if (data === undefined) throw usage('--csv: name the application with --data FOLDER')
  const { text } = await withApplication(data, (application) =>
    application.ask<{ text: string }>('GET', `/tables/${encodeURIComponent(table)}/csv?safe=${safe}`),
  )
  writeReport('--out', out, text)
  return [out]
}

async function exportOpenApi({ data, out = 'openapi.json' }: ExportOptions): Promise<string[]> {
  if (data === undefined) throw usage('--openapi: name the application with --data FOLDER')
  const document = await withApplication(data, (application) => application.ask<object>('GET', '/openapi-v1.json'))
  writeReport('--out', out, `${JSON.stringify(document, null, 2)}\n`)
  return [out]
}

async function exportFiles(folder: string, { data, plugin, out, schemas }: ExportOptions): Promise<string[]> {
  const { readZip, writeZip, zipOfPlugin } = await import('@patient-hook/core')
  let zip: Buffer
  let name = `${plugin ?? 'project'}.zip`
  if (data === undefined) {
    const files = new Map(Object.entries(filesOf(folder)))
    zip = await writeZip(plugin === undefined ? files : zipOfPlugin(files, plugin))
  } else {
    const query = plugin === undefined ? '' : `?plugin=${encodeURIComponent(plugin)}`
    const answer = await withApplication(data, (application) =>
      application.ask<{ name: string; zip: string }>('GET', `/export${query}`),
    )
    name = answer.name
    zip = Buffer.from(answer.zip, 'base64')
  }
  if (schemas) {
    const files = [...(await readZip(name, zip, () => true))].filter(([path]) => path.startsWith('tables/'))
    zip = await writeZip(new Map(files))
  }
  const target = out ?? (schemas ? 'tables.zip' : name)
  if (target.endsWith('.zip')) {
    writeReport('--out', target, zip)
    return [target]
  }
  const files = await readZip(name, zip, () => true)
  const there = [...files.keys()].find((path) => existsSync(join(target, path)))
  if (there !== undefined) throw usage(`--out ${target}: ${there} already exists; name a new or empty folder`)
  for (const [path, text] of files) {
    makeFolder(dirname(join(target, path)))
    writeFileSync(join(target, path), text)
  }
  return [...files.keys()].map((path) => join(target, path))
}
