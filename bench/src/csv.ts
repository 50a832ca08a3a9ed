import { fork } from 'node:child_process'
import { parse } from 'csv-parse/sync'
import { parseTable, readCsv } from '@patient-hook/core/internals'
import { median } from './median.js'

/**
 * Records of a CSV file of a million cells, against csv-parse alone on the same text: node dist/csv.js [ROWS]. Numbers, whole numbers and texts in
 * turn, some of them empty and some in quotes. Each in its own process, three times in turn; medians. The most memory is VmHWM (Linux).
 */
const ROWS = Number(process.argv[2] ?? 100_000)
const COLUMNS = 10
const fields = Object.fromEntries(
  Array.from({ length: COLUMNS }, (_, at) => [`f${at}`, { type: (['number', 'string', 'integer'] as const)[at % 3] }]),
)
function text(): string {
  const lines = [['id', ...Object.keys(fields)].join()]
  for (let row = 1; row <= ROWS; row++) {
    const cells = Array.from({ length: COLUMNS }, (_, at) => {
      if ((row + at) % 50 === 0) return at % 3 === 1 ? '""' : ''
      return at % 3 === 0 ? String(row * 1.5 + at) : at % 3 === 1 ? `"text, ${row}"` : String(row + at)
    })
    lines.push([row, ...cells].join())
  }
  return lines.join('\n')
}

const WAYS = {
  'csv-parse alone': (given: string) => (parse(given, { bom: true, relax_column_count: true }) as unknown[]).length - 1,
  'records of a table': (given: string) =>
    readCsv('t.csv', given, parseTable('tables/t.json', JSON.stringify({ type: 'object', properties: fields }))).length,
}
type Way = keyof typeof WAYS
interface Told {
  ms: number
  mb: number
}

const way = process.env['BENCH_WAY'] as Way | undefined
if (way) {
  const { readFileSync } = await import('node:fs')
  const given = text()
  const begun = performance.now()
  if (WAYS[way](given) !== ROWS) throw new Error(`${way}: not all rows were read`)
  const ms = performance.now() - begun
  const mb = Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))![1]) / 1024
  process.send!({ ms, mb } satisfies Told)
} else {
  const told = new Map<Way, Told[]>(Object.keys(WAYS).map((name) => [name as Way, []]))
  for (let round = 0; round < 3; round++)
    for (const [name, all] of told)
      all.push(
        await new Promise<Told>((done) =>
          fork(import.meta.filename, [String(ROWS)], { env: { ...process.env, BENCH_WAY: name } }).once('message', (message) =>
            done(message as Told),
          ),
        ),
      )
  const bare = median(told.get('csv-parse alone')!.map(({ ms }) => ms))
  console.log(`${ROWS} rows of ${COLUMNS + 1} cells, medians of 3\n\n| what | s | of csv-parse | MB |\n|---|---|---|---|`)
  for (const [name, all] of told) {
    const ms = median(all.map((each) => each.ms))
    const mb = Math.max(...all.map((each) => each.mb))
    console.log(`| ${name} | ${(ms / 1000).toFixed(2)} | ${(ms / bare).toFixed(2)} | ${Math.round(mb)} |`)
  }
}
