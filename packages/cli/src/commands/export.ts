import { existsSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import type { Command } from 'commander'
import { makeFolder } from '@patient-hook/core/workbench'
import { withApplication } from '../application.js'
import { examples, print, printJson, usage, writeReport } from '../output.js'
import { databaseIn, filesOf } from '../project.js'

interface ExportOptions {
  data?: string
  out?: string
  plugin?: string
  table?: string
  csv?: boolean
  sqlite?: boolean
  force?: boolean
  safeForSpreadsheets?: boolean
  openapi?: boolean
  schemas?: boolean
  json?: boolean
}

export function addExport(program: Command): void {
  program
    .command('export')
    .addHelpText(
      'after',
      examples(
        'patient-hook export vault --plugin vault',
        'patient-hook export --data .patient-hook --table lot --csv --out -',
        'patient-hook export --data .patient-hook --sqlite --out vault.sqlite',
      ),
    )
    .description('Export a project or plugin as a zip or folder, or the records of a table as CSV.')
    .argument('[folder]', 'the project folder, unless --data is given', '.')
    .option('--data <folder>', "the application's folder, for its working copy and records; it may be running")
    .option('--out <file or folder>', 'target: FILE.zip, or a new or empty folder; - writes a single file to standard output')
    .option('--plugin <name>', 'export only this plugin, with the fixture sets of its tests')
    .option('--table <name>', 'export the records of this table; requires --csv and --data')
    .option('--csv', 'format: CSV (RFC 4180)')
    .option('--sqlite', 'export all records as a SQLite database with plain tables; requires --data')
    .option('--force', 'overwrite files that exist')
    .option('--safe-for-spreadsheets', 'escape formulas with an apostrophe')
    .option('--schemas', 'export only the JSON Schemas of the tables')
    .option('--openapi', 'print the OpenAPI 3.1 document of the HTTP API; requires --data')
    .option('--json', 'print JSON')
    .action(async (folder: string, options: ExportOptions) => {
      const { table, csv, json } = options
      if ((table !== undefined) !== (csv === true)) throw usage('use --table and --csv together: records are exported as CSV')
      if (options.sqlite && (table !== undefined || options.plugin !== undefined || options.schemas))
        throw usage('--sqlite exports all records: it takes no --table, --plugin or --schemas')
      const written = options.sqlite
        ? await exportSqlite(options)
        : table !== undefined
          ? await exportTable(table, options)
          : options.openapi
            ? await exportOpenApi(options)
            : await exportFiles(folder, options)
      if (written.includes(STANDARD_OUTPUT)) return
      if (json) printJson({ written })
      else print(written.length === 1 ? `wrote ${written[0]}` : `wrote ${written.length} files`)
    })
}

async function exportTable(
  table: string,
  { data, safeForSpreadsheets: safe = false, out = `${table}.csv`, force }: ExportOptions,
): Promise<string[]> {
  if (data === undefined) throw usage('--csv: name the application with --data FOLDER')
  const { text } = await withApplication(data, (application) =>
    application.ask<{ text: string }>('GET', `/tables/${encodeURIComponent(table)}/csv?safe=${safe}`),
  )
  return [writeTarget(out, text, force)]
}

async function exportOpenApi({ data, out = 'openapi.json', force }: ExportOptions): Promise<string[]> {
  if (data === undefined) throw usage('--openapi: name the application with --data FOLDER')
  const document = await withApplication(data, (application) => application.ask<object>('GET', '/openapi-v1.json'))
  return [writeTarget(out, `${JSON.stringify(document, null, 2)}\n`, force)]
}

async function exportSqlite({ data, out = 'records.sqlite', force }: ExportOptions): Promise<string[]> {
  if (data === undefined) throw usage('--sqlite: name the application with --data FOLDER')
  if (out === STANDARD_OUTPUT) throw usage('--sqlite writes a file: name it with --out')
  checkTarget(out, force)
  const { exportRecords } = await import('@patient-hook/core')
  await exportRecords(databaseIn(data), out)
  return [out]
}

const STANDARD_OUTPUT = '-'

function checkTarget(out: string, force: boolean | undefined): void {
  if (!force && existsSync(out))
    throw usage(`--out ${out}: the file already exists; name another one, or overwrite it with --force`)
}

/** @returns the target @throws HookError where it exists, or cannot be written */
function writeTarget(out: string, text: string | Uint8Array, force: boolean | undefined): string {
  if (out === STANDARD_OUTPUT) process.stdout.write(text)
  else {
    checkTarget(out, force)
    writeReport('--out', out, text)
  }
  return out
}

async function exportFiles(folder: string, { data, plugin, out, schemas, force }: ExportOptions): Promise<string[]> {
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
  if (target.endsWith('.zip') || target === STANDARD_OUTPUT) return [writeTarget(target, zip, force)]
  const files = await readZip(name, zip, () => true)
  const there = [...files.keys()].find((path) => existsSync(join(target, path)))
  if (there !== undefined && !force)
    throw usage(`--out ${target}: ${there} already exists; name a new or empty folder, or overwrite files with --force`)
  for (const [path, text] of files) {
    makeFolder(dirname(join(target, path)))
    writeFileSync(join(target, path), text)
  }
  return [...files.keys()].map((path) => join(target, path))
}
