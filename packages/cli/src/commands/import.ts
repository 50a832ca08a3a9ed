import { existsSync, readFileSync, statSync } from 'node:fs'
import { basename, join, resolve } from 'node:path'
import type { Command } from 'commander'
import type { ImportPlan, JobInfo, CsvResult } from '@patient-hook/contract'
import { belongsToProject } from '@patient-hook/contract/paths'
import { withApplication, type Asked } from '../application.js'
import { counted, errorText, examples, EXIT, print, printJson, usage } from '../output.js'
import { filesOf } from '../project.js'
import { mark } from '../terminal.js'

interface ImportOptions {
  data: string
  table?: string
  user?: string
  partial?: boolean
  dry?: boolean
  json?: boolean
}

export function addImport(program: Command): void {
  program
    .command('import')
    .addHelpText('after', examples('patient-hook import vault.zip --data .patient-hook --dry'))
    .description('Import plugins from a zip or project folder into the working copy, or save the rows of a CSV file.')
    .argument('<file>', 'FILE.zip, a project folder, or FILE.csv with --table')
    .requiredOption('--data <folder>', "the application's folder; it may be running, or is created from a whole project")
    .option('--table <name>', 'table to import the rows of FILE.csv into')
    .option('--user <name>', 'user who saves the rows')
    .option('--partial', 'save valid rows even if others are refused or cannot be read')
    .option('--dry', 'dry run: rehearse it and save nothing')
    .option('--json', 'print JSON')
    .action(async (file: string, options: ImportOptions) => {
      if (!existsSync(file)) throw usage(`${file} does not exist`)
      if (file.endsWith('.csv') !== (options.table !== undefined))
        throw usage(
          options.table === undefined ? `${file}: name the table of its rows with --table` : `--table goes with a CSV file`,
        )
      if (options.table !== undefined) return importRows(file, options.table, options)
      if (!existsSync(join(resolve(options.data), 'records.db'))) return makeNew(file, options)
      return importZip(file, options)
    })
}

async function zipAt(file: string): Promise<Buffer> {
  if (!statSync(file).isDirectory()) return readFileSync(file)
  const { writeZip } = await import('@patient-hook/core')
  return writeZip(new Map(Object.entries(filesOf(file))))
}

/** An application that begins with the project, records and all. */
async function makeNew(file: string, { data, dry, json }: ImportOptions): Promise<void> {
  const { readZip } = await import('@patient-hook/core')
  const files = Object.fromEntries(await readZip(basename(file), await zipAt(file), belongsToProject))
  if (files['project.json'] === undefined)
    throw usage(`--data ${data}: there is no application, and ${file} has no project.json to create one from`)
  if (!dry) {
    const { startServer } = await import('@patient-hook/server')
    const server = await startServer({ files: () => files, dataFolder: resolve(data), port: 0, fresh: false })
    await server.close()
  }
  if (json) printJson({ plan: { files: Object.keys(files).map((path) => ({ file: path, change: 'added' })) }, kept: !dry })
  else print(`${dry ? 'Would create' : 'Created'} an application in ${data} with ${counted(Object.keys(files).length, 'file')}`)
}

async function importZip(file: string, { data, dry, json }: ImportOptions): Promise<void> {
  const zip = (await zipAt(file)).toString('base64')
  await withApplication(data, async (application) => {
    const plan = await planOf(application, basename(file), zip)
    const stands = plan.faults.length > 0 || plan.needs.length > 0
    const kept = !dry && !stands && plan.files.length > 0
    if (kept) await application.ask('POST', '/import', { name: basename(file), zip })
    if (json) printJson({ plan, kept })
    else tell(plan, kept)
    process.exitCode = stands ? EXIT.notWell : EXIT.well
  })
}

async function planOf(application: Asked, name: string, zip: string): Promise<ImportPlan> {
  const { id } = await application.ask<JobInfo>('POST', '/import/plan', { name, zip })
  let plan: ImportPlan | null = null
  await application.follow(id, (event) => {
    const [result] = event.event === 'state' ? event.results : event.event === 'result' ? [event.result] : []
    if (result) plan = result as ImportPlan
  })
  return plan!
}

const SIGNS = { added: '+', changed: '~', removed: '-', moved: '↕' } as const

function tell(plan: ImportPlan, kept: boolean): void {
  for (const { plugin, version, from } of plan.plugins)
    print(`plugin ${plugin} ${version ?? '(no version)'}${from === null ? ', new' : `, in place of ${from}`}`)
  for (const { file, change } of plan.files) print(`  ${SIGNS[change]} ${file}`)
  for (const { file, why } of plan.left) print(`  not taken: ${file}: ${why}`)
  for (const { hook, table, field } of plan.needs)
    print(`missing: ${field === null ? `table ${table}` : `field ${table}.${field}`}, which hook ${hook} uses`)
  for (const fault of plan.faults) print(`wrong: ${fault}`)
  for (const { file, line, message, rule } of plan.findings) print(`${file}:${line}: ${message} (${rule})`)
  for (const failure of plan.tests.failures) print(`${mark('FAIL')} ${failure}`)
  const tests = `${plan.tests.passed} tests passed, ${plan.tests.failed} failed`
  const end = kept
    ? 'Taken into the working copy: release it to let it run on saves.'
    : plan.files.length === 0
      ? 'Nothing differs.'
      : 'No changes were saved.'
  print(`${plan.faults.length === 0 ? `${tests}. ` : ''}${end}`)
}

async function importRows(
  file: string,
  table: string,
  { data, user, partial = false, dry = false, json }: ImportOptions,
): Promise<void> {
  const text = readFileSync(file, 'utf8')
  let result: CsvResult | null = null
  await withApplication(data, async (application) => {
    const path = `/tables/${encodeURIComponent(table)}/csv`
    const job = await application.ask<JobInfo>('POST', path, { file: basename(file), text, user, partial, dry })
    const stop = () => void application.ask('DELETE', `/jobs/${job.id}`).catch(() => {})
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, stop)
    await application.follow(job.id, (event) => {
      if (event.event === 'result') result = event.result as CsvResult
      else if (event.event === 'state' && event.results.length > 0) result = event.results[0] as CsvResult
    })
  })
  if (result === null) {
    if (json) printJson({ kept: false, stopped: true, saved: 0 })
    else print('Stopped before a row was saved.')
    process.exitCode = EXIT.notWell
    return
  }
  const { rows, save, backfill, created, changed, same, refused, refusals, error } = result as CsvResult
  const saved = created + changed + same
  const stopped = backfill !== null && saved + refused < rows
  if (json)
    printJson({
      kept: save !== null || saved > 0,
      save,
      backfill,
      stopped,
      rows,
      saved,
      created,
      changed,
      same,
      refused,
      refusals,
      error,
    })
  else {
    for (const refusal of error ? [error, ...refusals] : refusals) process.stderr.write(`${errorText(refusal as never)}\n`)
    if (refused > refusals.length) process.stderr.write(`and ${refused - refusals.length} rows more\n`)
    if (stopped)
      print(
        `Stopped after ${saved + refused} of ${rows} rows, ${saved} saved. To go on: patient-hook backfill --data ${data} --resume ${backfill}; to undo it: --undo ${backfill}`,
      )
    else if (backfill !== null) print(`${saved} of ${rows} rows saved, backfill ${backfill}`)
    else print(error ? 'No changes were saved.' : `${saved} of ${rows} rows ${dry ? 'would be saved' : `saved, save ${save}`}`)
  }
  process.exitCode = stopped || error || refusals.length > 0 ? EXIT.notWell : EXIT.well
}
