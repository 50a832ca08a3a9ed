import { readFileSync } from 'node:fs'
import type { Command } from 'commander'
import type { InputRow } from '@patient-hook/contract'
import { describe, HookError, type SaveOutcome } from '@patient-hook/core/workbench'
import { counted, errorText, examples, EXIT, print, printJson, usage } from '../output.js'
import { withWorkbench } from '../project.js'

interface Options {
  fixtures?: string
  data?: string
  user?: string
  clock?: string
  partial?: boolean
  save: string
  json?: boolean
}

export function addRehearse(program: Command): void {
  program
    .command('rehearse')
    .addHelpText(
      'after',
      examples(
        'echo \'[{ "table": "lot", "values": { "id": 3, "bay": "A1" } }]\' | patient-hook rehearse vault --fixtures base --save -',
      ),
    )
    .description(
      'Rehearse a save: save rows in a transaction that is rolled back, and show what happened. Rows are JSON such as [{ "table": "lot", "values": { "bay": "A1" } }]; an id in values makes an update.',
    )
    .argument('[folder]', 'the project folder', '.')
    .requiredOption('--save <file>', 'a JSON file with the rows, or - for standard input')
    .option('--fixtures <set>', "fixture set to start from; default: the project's data/")
    .option('--data <folder>', "the application's folder, to use a copy of its records; it may be running")
    .option('--user <name>', 'user who saves')
    .option('--clock <time>', 'time of the save, RFC 3339')
    .option('--partial', 'save valid rows even if others are refused')
    .option('--json', 'print JSON')
    .action(async (folder: string, options: Options) => {
      const rows = readRows(options.save)
      const { fixtures, data, user, clock, partial } = options
      if (fixtures !== undefined && data !== undefined) throw usage('use either --fixtures or --data, not both')
      const outcome = await withWorkbench(
        folder,
        (engines) => engines.call('rehearse', [{ fixtures }, rows, { user, clock, partial, recorded: true }]),
        { size: 1, data },
      )
      if (options.json) printJson(forPrograms(outcome))
      else printForPeople(outcome)
      process.exitCode = outcome.error || (partial && keptOf(outcome) === 0) ? EXIT.notWell : EXIT.well
    })
}

function readRows(source: string): InputRow[] {
  let text: string
  try {
    text = readFileSync(source === '-' ? 0 : source, 'utf8')
  } catch (error) {
    throw usage(`${source} cannot be read: ${(error as Error).message}`)
  }
  try {
    const rows: unknown = JSON.parse(text)
    if (!Array.isArray(rows)) throw new Error('expected a list of rows')
    return rows as InputRow[]
  } catch (error) {
    throw new HookError('project/bad-json', {
      file: source === '-' ? 'standard input' : source,
      detail: (error as Error).message,
    })
  }
}

/** Typed rows that no refusal applies to. */
function keptOf({ records, refusals }: SaveOutcome): number {
  const refused = new Set(refusals.map((each) => each.row))
  return records.filter((_, index) => !refused.has(index + 1)).length
}

function forPrograms(outcome: SaveOutcome): object {
  const { rows, verdicts, lookups, refusals, sent, logs, spent, error } = outcome
  return { rows, verdicts, lookups, refusals, sent, logs, spent, ...(error ? { error } : {}) }
}

function printForPeople(outcome: SaveOutcome): void {
  for (const row of outcome.rows) {
    print(`${'  '.repeat(row.depth)}${row.table} ${row.id}: ${row.event}${row.depth > 0 ? ` (ripple, depth ${row.depth})` : ''}`)
    for (const change of row.changes)
      print(
        `${'  '.repeat(row.depth)}  ${change.field}: ${JSON.stringify(change.from)} → ${JSON.stringify(change.to)}  (${change.by})`,
      )
  }
  print('')
  for (const each of outcome.verdicts)
    print(
      `${each.verdict === 'ran' ? 'ran    ' : 'skipped'} ${each.hook} for ${each.table} ${each.id}${each.reason ? `: ${each.reason}` : ''}`,
    )
  for (const each of outcome.lookups)
    print(`looked up ${each.call} ${each.table} ${JSON.stringify(each.asked)} for ${each.hook}: ${each.found} found`)
  for (const each of outcome.logs) print(`log ${each.hook}: ${each.text}`)
  for (const each of outcome.sent) print(`sent on ${each.channel} by ${each.hook}: ${JSON.stringify(each.message)}`)
  for (const each of outcome.refusals) print(`REFUSED ${describe(each)}`)
  const { queries, rowsRead, rowsWritten, steps, ripples, ms } = outcome.spent
  print(
    `\nspent: ${counted(queries, 'query', 'queries')}, ${counted(rowsRead, 'row')} read, ${counted(rowsWritten, 'row')} written, ${counted(steps, 'step')}, ripple depth ${ripples}, ${ms} ms`,
  )
  if (outcome.error) {
    const count = outcome.error.refusals?.length ?? 0
    // Each refusal was printed in its place.
    return print(
      count === 0
        ? errorText(outcome.error)
        : `This save would be refused: ${counted(count, 'refusal')}. With --partial the other rows would be saved. Nothing was written.`,
    )
  }
  const [kept, all] = [keptOf(outcome), outcome.records.length]
  const result = kept === all ? 'This save would succeed' : `${kept} of ${counted(all, 'row')} would be saved`
  print(`${result}. Nothing was written.`)
}
