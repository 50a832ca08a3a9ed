import type { Command } from 'commander'
import type { BulkVerdict, InputRow, MutantResult } from '@patient-hook/contract'
import { mistakeName } from '@patient-hook/contract/words'
import { describe, measureCoverage, proveBulk, proveMutants, type TestResult } from '@patient-hook/core/workbench'
import { coverageLines, coverageOf } from '../coverage.js'
import { examples, EXIT, prepareReport, print, printJson, usage, writeReport } from '../output.js'
import { withWorkbench } from '../project.js'
import { reportPathsOf } from '../report-paths.js'
import { endProgress, mark, showProgress } from '../terminal.js'

const PARTS = ['coverage', 'mutation', 'bulk'] as const
type Part = (typeof PARTS)[number]

interface ProveOptions {
  only?: string
  hook?: string[]
  seed: string
  budget?: string
  lcov?: string
  json?: boolean
}

export function addProve(program: Command): void {
  program
    .command('prove')
    .addHelpText('after', examples('patient-hook prove vault --only bulk --hook lot-mass'))
    .description('Measure test coverage, run mutations, and prove that hooks are safe and efficient in bulk.')
    .argument('[folder]', 'the project folder', '.')
    .option('--only <parts>', `parts to run, separated by commas: ${PARTS.join(', ')}`)
    .option('--hook <name...>', 'hooks to prove; default: all')
    .option('--seed <number>', 'seed of the generated batches', '1')
    .option('--budget <seconds>', 'start no further work after this many seconds')
    .option('--lcov <file>', 'also write coverage as LCOV; requires the coverage part')
    .option('--json', 'print JSON')
    .action(async (folder: string, options: ProveOptions) => {
      const parts = partsOf(options.only)
      const seed = numberOf('--seed', options.seed)
      const seconds = options.budget === undefined ? undefined : numberOf('--budget', options.budget)
      if (options.lcov !== undefined && !parts.includes('coverage')) throw usage('--lcov requires the coverage part')
      prepareReport('--lcov', options.lcov)
      const started = performance.now()
      const tested = parts.includes('coverage') ? await coverage(folder, options) : null
      const verdicts = parts.includes('bulk') ? await bulk(folder, options, seed, seconds) : []
      const mutants = parts.includes('mutation') ? await mutation(folder, options) : []
      const ms = Math.round(performance.now() - started)
      const missed = mutants.filter(({ outcome, reason }) => outcome === 'missed' && reason === null)
      const broken = verdicts.filter(({ holds, accepted }) => !holds && !accepted)
      const failed = tested?.tests.filter(({ status }) => status === 'failed') ?? []
      if (options.json)
        printJson({
          ...(tested ? { tests: countsOf(tested.tests), coverage: coverageOf(tested.files) } : {}),
          ...(parts.includes('mutation') ? { mutation: mutationOf(mutants) } : {}),
          ...(parts.includes('bulk') ? { bulk: bulkOf(verdicts) } : {}),
          seed,
          ms,
        })
      else {
        const kept = verdicts.filter(({ holds }) => holds).length
        const accepted = verdicts.length - kept - broken.length
        if (parts.includes('bulk')) print(`\n${kept} hold, ${accepted} accepted, ${broken.length} do not hold (seed ${seed})`)
        const count = (outcome: MutantResult['outcome']) => mutants.filter((each) => each.outcome === outcome).length
        if (parts.includes('mutation'))
          print(
            `\n${count('caught')} caught, ${count('missed')} missed (${count('missed') - missed.length} for a reason), ${count('equal')} equal, ${count('stopped')} stopped`,
          )
      }
      process.exitCode = broken.length + missed.length + failed.length > 0 ? EXIT.notWell : EXIT.well
    })
}

const countsOf = (tests: readonly TestResult[]) => ({
  passed: tests.filter(({ status }) => status === 'passed').length,
  failed: tests.filter(({ status }) => status === 'failed').length,
})

/** Runs all unit tests; of some hooks only their coverage is reported. */
async function coverage(folder: string, { hook: hooks, json, lcov }: ProveOptions) {
  const measured = await withWorkbench(folder, (engines) => measureCoverage(engines), { proves: true })
  const files = measured.coverage.files().filter(({ hook }) => !hooks || (hook !== null && hooks.includes(hook)))
  if (lcov !== undefined) {
    const { toLcov } = await import('@patient-hook/core/formats')
    writeReport('--lcov', lcov, toLcov(measured.coverage.data, reportPathsOf(folder)))
  }
  if (!json) {
    for (const { file, name, status, error } of measured.tests)
      if (status === 'failed' && error) print(`${mark('FAIL')} ${file}: ${name}\n       ${describe(error)}`)
    const { passed, failed } = countsOf(measured.tests)
    print(`${coverageLines(files).join('\n')}\n\n${passed} passed, ${failed} failed\n`)
  }
  return { tests: measured.tests, files }
}

async function bulk(folder: string, { hook, json }: ProveOptions, seed: number, seconds?: number): Promise<BulkVerdict[]> {
  const verdicts: BulkVerdict[] = []
  await withWorkbench(
    folder,
    (engines) =>
      proveBulk(engines, {
        hooks: hook,
        seed,
        seconds,
        onProgress: (done, total) => json || showProgress('bulk proof', done, total),
        onResult: (verdict) => {
          verdicts.push(verdict)
          if (!json) print(lineFor(verdict))
        },
      }),
    { proves: true },
  )
  endProgress()
  return verdicts
}

async function mutation(folder: string, { hook, json }: ProveOptions): Promise<MutantResult[]> {
  const results: MutantResult[] = []
  await withWorkbench(
    folder,
    (engines) =>
      proveMutants(engines, {
        hooks: hook,
        onProgress: (done, total) => json || showProgress('mutations', done, total),
        onResult: (result) => {
          results.push(result)
          if (!json && result.outcome === 'missed') print(mutantText(result))
        },
      }),
    { proves: true },
  )
  endProgress()
  return results
}

function mutationOf(results: readonly MutantResult[]) {
  const hooks: Record<string, Record<MutantResult['outcome'], number>> = {}
  for (const { hook, outcome } of results) (hooks[hook] ??= { caught: 0, missed: 0, equal: 0, stopped: 0 })[outcome]++
  return { hooks, missed: results.filter(({ outcome }) => outcome === 'missed') }
}

function mutantText(mutant: MutantResult): string {
  const { hook, file, line, shows, batch, reason } = mutant
  const head = `${mark(reason === null ? 'MISS' : 'miss')} ${hook}: ${mistakeName(mutant)} at ${file}:${line}`
  if (reason !== null) return `${head}\n       ${reason}`
  const rows = (batch ?? []).map((row) => `       ${rowText(row as InputRow)}`)
  return [head, `       ${shows ?? ''}`, ...rows].join('\n')
}

/** @throws HookError for a part that there is not */
function partsOf(only: string | undefined): readonly Part[] {
  if (only === undefined) return PARTS
  const named = only.split(',').map((part) => part.trim())
  const unknown = named.find((part) => !PARTS.some((each) => each === part))
  if (unknown !== undefined) throw usage(`--only: there is no part ${JSON.stringify(unknown)}; there are ${PARTS.join(', ')}`)
  return named as Part[]
}

function numberOf(option: string, text: string): number {
  const number = Number(text)
  if (text.trim() === '' || !Number.isInteger(number) || number < 0 || number > 0x7fffffff)
    throw usage(`${option} takes a whole number from 0, but got ${JSON.stringify(text)}`)
  return number
}

type Told = Pick<BulkVerdict, 'holds' | 'accepted' | 'reason' | 'batch' | 'rows' | 'growth'>

/** By hook and by table, then by property. */
function bulkOf(verdicts: readonly BulkVerdict[]) {
  const hooks: Record<string, Record<string, Told>> = {}
  const tables: Record<string, Record<string, Told>> = {}
  for (const { hook, table, property, holds, accepted, reason, batch, rows, growth } of verdicts) {
    const of = hook === null ? (tables[table] ??= {}) : (hooks[hook] ??= {})
    of[property] = { holds, accepted, reason, batch, rows, growth }
  }
  return { hooks, tables }
}

function lineFor({ hook, table, property, holds, accepted, reason, batch, rows, growth }: BulkVerdict): string {
  const head = `${mark(holds ? 'ok' : accepted ? 'acc' : 'FAIL')} ${hook ?? `all of ${table}`}: ${property} (${rows} rows)`
  if (holds) return head
  const lines = [reason ?? '', ...(accepted || !batch ? [] : batch.map((row) => rowText(row as InputRow)))]
  if (growth && !accepted) lines.push(...growth.points.map((point) => JSON.stringify(point)))
  return `${head}\n${lines.map((line) => `       ${line}`).join('\n')}`
}

const rowText = (row: InputRow): string => JSON.stringify(row)
