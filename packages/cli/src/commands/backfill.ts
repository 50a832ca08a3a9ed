import type { Command } from 'commander'
import type { BackfillFigures, BackfillInfo, BackfillLeft, BackfillPlan, BackfillWish, JobInfo } from '@patient-hook/contract'
import { withApplication, type Asked } from '../application.js'
import { examples, EXIT, print, printJson, usage } from '../output.js'

interface BackfillOptions {
  data: string
  table?: string
  where?: string
  hooks?: string
  set?: string
  number?: string
  order?: string
  withEffects?: boolean
  withMessages?: boolean
  sample?: string
  user?: string
  dry?: boolean
  undo?: string
  resume?: string
  json?: boolean
}

/** The fields that get a value. */
const FIELDS = '--set <json>'

export function addBackfill(program: Command): void {
  program
    .command('backfill')
    .addHelpText(
      'after',
      examples(
        'patient-hook backfill --data .patient-hook --table lot --hooks lot-mass --dry',
        'patient-hook backfill --data .patient-hook --undo 4',
      ),
    )
    .description('Run hooks on existing records, set their fields, or number them; resume or undo a backfill.')
    .requiredOption('--data <folder>', "the application's folder; it may be running")
    .option('--table <name>', 'table to backfill')
    .option('--where <json>', 'condition for the records, as JSON like that of find; default: all')
    .option('--hooks <names>', 'hooks to run, as if every watched field had just changed (a,b)')
    .option(FIELDS, 'fields to set, with their values')
    .option('--number <field=sequence>', 'number a field from a sequence; one per kind: FIELD=KIND:VALUE=SEQUENCE,VALUE=SEQUENCE')
    .option('--order <fields>', 'sort by these fields, with - for descending order; default: id')
    .option('--with-effects', 'apply effects of after-save hooks')
    .option('--with-messages', 'send the messages of hooks')
    .option('--sample <rows>', 'number of records to rehearse; requires --dry')
    .option('--user <name>', 'user who runs it; default: the first user of the project')
    .option('--dry', 'dry run: rehearse it and change nothing')
    .option('--undo <job>', 'undo a backfill, except fields that changed since')
    .option('--resume <job>', 'resume a paused or failed backfill')
    .option('--json', 'print JSON')
    .action(async (options: BackfillOptions) => {
      const { data, undo, resume, dry, user, json = false } = options
      if ([options.table, undo, resume].filter((each) => each !== undefined).length !== 1)
        throw usage('use exactly one of --table, --undo and --resume')
      if (options.sample !== undefined && !dry) throw usage('--sample requires --dry')
      await withApplication(data, async (application) => {
        if (dry) return tellPlan(await plan(application, wishOf(options), options), json)
        const began = performance.now()
        const { backfill, job } = await application.ask<{ backfill: BackfillInfo; job: string | null }>(
          'POST',
          undo !== undefined
            ? `/backfills/${jobOf('--undo', undo)}/undo`
            : resume !== undefined
              ? `/backfills/${jobOf('--resume', resume)}/state`
              : '/backfills',
          undo !== undefined ? { user } : resume !== undefined ? { state: 'running' } : { ...wishOf(options), user },
        )
        if (!json) print(`backfill ${backfill.id}: ${backfill.total} records; to undo it: --undo ${backfill.id}`)
        if (job !== null) await follow(application, job, json)
        const end = await application.ask<{ backfill: BackfillInfo; left: BackfillLeft[] }>('GET', `/backfills/${backfill.id}`)
        tell(end.backfill, end.left, Math.round(performance.now() - began), json)
      })
    })
}

const jobOf = (option: string, text: string): number => {
  if (!/^[1-9]\d*$/.test(text)) throw usage(`${option} takes the number of a backfill, but got ${JSON.stringify(text)}`)
  return Number(text)
}

function jsonOf(option: string, text: string | undefined): Record<string, never> | undefined {
  if (text === undefined) return undefined
  try {
    const value: unknown = JSON.parse(text)
    if (value !== null && typeof value === 'object' && !Array.isArray(value)) return value as Record<string, never>
  } catch {
    // told below
  }
  throw usage(`${option} takes a JSON object, such as '{"status": "new"}', but got ${text.slice(0, 100)}`)
}

const listOf = (text: string | undefined): string[] | undefined =>
  text
    ?.split(',')
    .map((each) => each.trim())
    .filter((each) => each !== '')

function wishOf({
  table,
  where,
  hooks,
  set,
  number,
  order,
  withEffects = false,
  withMessages = false,
}: BackfillOptions): BackfillWish {
  return {
    table: table!,
    where: jsonOf('--where', where) ?? {},
    order: listOf(order) ?? [],
    hooks: listOf(hooks),
    set: jsonOf('--set', set),
    number: number === undefined ? undefined : numberOf(number),
    withEffects,
    withMessages,
  }
}

function numberOf(text: string): BackfillWish['number'] {
  const [, field, rest] = /^([^=]+)=(.+)$/.exec(text) ?? []
  if (field === undefined) throw usage(`--number takes FIELD=SEQUENCE, but got ${JSON.stringify(text)}`)
  const [, by, kinds] = /^([^:=]+):(.+)$/.exec(rest!) ?? []
  if (by === undefined) return { field, series: rest! }
  const of = kinds!.split(',').map((each) => /^([^=]*)=(.+)$/.exec(each))
  if (of.includes(null))
    throw usage(`--number: a series by kind is FIELD=KIND:VALUE=SEQUENCE,VALUE=SEQUENCE, but got ${JSON.stringify(text)}`)
  return { field, series: { by, of: Object.fromEntries(of.map((match) => [match![1]!, match![2]!])) } }
}

async function plan(application: Asked, wish: BackfillWish, { sample, user }: BackfillOptions): Promise<BackfillPlan> {
  if (sample !== undefined && !/^[1-9]\d*$/.test(sample))
    throw usage(`--sample takes a number of records, but got ${JSON.stringify(sample)}`)
  const { id } = await application.ask<JobInfo>('POST', '/backfills/plan', {
    ...wish,
    user,
    sample: sample === undefined ? undefined : Number(sample),
  })
  let plan: BackfillPlan | null = null
  await application.follow(id, (event) => {
    const [result] = event.event === 'state' ? event.results : event.event === 'result' ? [event.result] : []
    if (result && 'plan' in result) plan = result.plan as BackfillPlan
  })
  return plan!
}

/** A line now and then, with how much is left. */
async function follow(application: Asked, job: string, json: boolean): Promise<void> {
  let told = 0
  try {
    await application.follow(job, (event) => {
      if (json || event.event !== 'progress' || Date.now() - told < 2000) return
      told = Date.now()
      const { done, total, rate, secondsLeft } = event.job.progress
      print(
        `  ${done} of ${total}, ${Math.round(rate)} a second${secondsLeft === null ? '' : `, ${Math.ceil(secondsLeft)} s left`}`,
      )
    })
  } catch {
    // Why it ended is reported with the backfill.
  }
}

const counts = (of: Record<string, number>): string =>
  Object.entries(of)
    .map(([name, count]) => `${name} ${count}`)
    .join(', ')

function tellFigures({
  changed,
  fields,
  left,
  passed,
  effects,
  heldEffects,
  messages,
  heldMessages,
  numbers,
}: BackfillFigures): void {
  print(`changed ${changed}${Object.keys(fields).length > 0 ? `: ${counts(fields)}` : ''}`)
  for (const [sequence, { first, last, count }] of Object.entries(numbers))
    print(`numbers of ${sequence}: ${first} to ${last}, ${count}`)
  if (passed > 0) print(`passed by, since they do not fit any more: ${passed}`)
  const told: [string, Record<string, number>][] = [
    ['other records written', effects],
    ['effects held back (--with-effects does them)', heldEffects],
    ['messages sent', messages],
    ['messages held back (--with-messages sends them)', heldMessages],
  ]
  for (const [what, of] of told) if (Object.keys(of).length > 0) print(`${what}: ${counts(of)}`)
  if (left > 0) print(`left as they are: ${left}`)
}

const tellLeft = (left: readonly BackfillLeft[]): void => {
  for (const { table, id, field, message } of left.slice(0, 20)) print(`  ${table} ${id}${field ? `, ${field}` : ''}: ${message}`)
  if (left.length > 20) print('  …')
}

function tellPlan(plan: BackfillPlan, json: boolean): void {
  const { total, tried, figures, left, samples, ms, seconds } = plan
  if (json)
    return printJson({
      job: null,
      state: 'planned',
      found: total,
      done: tried,
      changed: figures.changed,
      fields: figures.fields,
      refused: left,
      sample: samples,
      figures,
      ms,
    })
  print(
    `found ${total}${tried < total ? `, of which the first ${tried} were tried` : ''}; would take about ${Math.ceil(seconds)} s`,
  )
  tellFigures(figures)
  tellLeft(left)
  for (const { id, changes } of samples)
    print(
      `  ${id}: ${changes.map(({ field, from, to }) => `${field} ${JSON.stringify(from)} → ${JSON.stringify(to)}`).join(', ')}`,
    )
  print('Rehearsal only. No changes were saved.')
}

function tell(backfill: BackfillInfo, left: readonly BackfillLeft[], ms: number, json: boolean): void {
  const { id, state, total, done, figures, failure } = backfill
  process.exitCode = state === 'done' && figures.left === 0 ? EXIT.well : EXIT.notWell
  if (json)
    return printJson({
      job: id,
      state,
      found: total,
      done,
      changed: figures.changed,
      fields: figures.fields,
      refused: left,
      sample: [],
      figures,
      ...(failure ? { error: failure } : {}),
      ms,
    })
  print(`${state}: ${done} of ${total} in ${Math.round(ms / 100) / 10} s`)
  tellFigures(figures)
  tellLeft(left)
  if (failure) process.stderr.write(`${failure.message}\n  ${failure.todo}\n`)
  if (state !== 'done') print(`To resume it: --resume ${id}`)
}
