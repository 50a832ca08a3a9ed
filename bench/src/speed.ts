import { spawnSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { join } from 'node:path'
import { ENGINE_FLAGS } from '@patient-hook/core/internals'
import { hasPostgres } from './postgres-cluster.js'
import type { Measured } from './work.js'
import { median } from './median.js'

/**
 * All contestants in turn, several rounds in one run, medians of times and ratios of the least: node dist/speed.js [ROUNDS] [ROWS] [--write FILE].
 * Rounds go A B C C B A A B C, so that a machine that gets slower gets slower for all, and nobody is always the one after PostgreSQL.
 */
const numbers = process.argv
  .slice(2)
  .filter((each) => /^\d+$/.test(each))
  .map(Number)
const rounds = numbers[0] ?? 5
const rows = numbers[1] ?? 100_000
const writeAt = process.argv.indexOf('--write')

const CONTESTANTS = [
  'patient-hook',
  'triggers',
  'patient-hook+history',
  'triggers+history',
  'bare',
  'pglite',
  ...(hasPostgres() ? ['postgres-15', 'postgres-15+history'] : []),
]
const measured = new Map<string, Measured[]>(CONTESTANTS.map((name) => [name, []]))

function run(name: string, count: number): Measured {
  // All in processes like the engine's own.
  const { stdout, stderr, status } = spawnSync(
    'node',
    [...ENGINE_FLAGS, join(import.meta.dirname, 'contestant.js'), name, String(count)],
    { encoding: 'utf8' },
  )
  if (status !== 0) throw new Error(`${name}: ${stderr}`)
  return JSON.parse(stdout.trim().split('\n').at(-1)!) as Measured
}

for (let round = 0; round < rounds; round++)
  for (const name of round % 2 === 0 ? CONTESTANTS : CONTESTANTS.toReversed()) {
    const result = run(name, rows)
    measured.get(name)!.push(result)
    console.error(`round ${round + 1} ${name}: ${JSON.stringify(result.ms)} ${result.peakMb} MB`)
  }
const sums = new Set([...measured.values()].flat().map((each) => each.sum))
if (sums.size !== 1) throw new Error(`the contestants did not do the same work: ${[...sums].join(', ')}`)

const scale = [10_000, 200_000].map((count) => {
  const results = Array.from({ length: Math.min(rounds, 3) }, () => run('patient-hook+history', count))
  return {
    count,
    perSecond: Math.round((2 * count) / (median(results.map((each) => each.ms.create + each.ms.update)) / 1000)),
    peakMb: median(results.map((each) => each.peakMb)),
  }
})

const PHASES = ['create', 'update', 'push'] as const
const totalOf = ({ ms }: Measured) => ms.create + ms.update + ms.push
/**
 * Of the least times of all rounds: what a shared machine does beside it only ever adds, and its speed changes twofold from one contestant to the next,
 * which medians of few rounds do not hide.
 */
const ratio = (a: string, b: string, of: (measured: Measured) => number): string => {
  const least = (name: string) => Math.min(...measured.get(name)!.map(of))
  return (least(a) / least(b)).toFixed(2)
}
const both = (name: string, of: (measured: Measured) => number): string => {
  const values = measured.get(name)!.map(of)
  return `${Math.round(median(values))}, ${Math.round(Math.min(...values))}`
}
const lines = [
  `${rows} creates, ${rows} updates on \`lot\` with three hooks, and 1,000 sites pushing to 100 collections each, seven times, of which the median is reported; medians of ${rounds} rounds in one run and the least of them, ms.`,
  '',
  '| contestant | create | update | push | in all | peak MB |',
  '|---|---|---|---|---|---|',
  ...CONTESTANTS.map(
    (name) =>
      `| ${name} | ${PHASES.map((phase) => both(name, (each) => each.ms[phase])).join(' | ')} | ${both(name, totalOf)} | ${name.startsWith('postgres-15') ? 'of the client' : median(measured.get(name)!.map((each) => each.peakMb))} |`,
  ),
  '',
  '| ratio of the least | create | update | push | in all | wanted |',
  '|---|---|---|---|---|---|',
  ...(
    [
      ['patient-hook', 'triggers', 'update 1.1, push 1.2'],
      ['patient-hook+history', 'triggers+history', 'update 1.0, push 0.7'],
      ['patient-hook', 'bare', 'in all 1.6'],
      ['pglite', 'patient-hook', 'at least 3'],
      ['postgres-15', 'patient-hook', 'at least 5'],
      ['postgres-15+history', 'patient-hook+history', 'at least 5'],
    ] as const
  )
    .filter(([a, b]) => measured.has(a) && measured.has(b))
    .map(
      ([a, b, wanted]) =>
        `| ${a} / ${b} | ${PHASES.map((phase) => ratio(a, b, (each) => each.ms[phase])).join(' | ')} | ${ratio(a, b, totalOf)} | ${wanted} |`,
    ),
  '',
  '| rows, with history | rows per second (create and update) | peak MB |',
  '|---|---|---|',
  ...scale.map((each) => `| ${each.count} | ${each.perSecond} | ${each.peakMb} |`),
  '',
  `Machine: ${cpus().length} × ${cpus()[0]!.model}, Node ${process.version}; ${new Date().toISOString().slice(0, 10)}.`,
]
console.log(lines.join('\n'))
if (writeAt > 0) writeFileSync(process.argv[writeAt + 1]!, lines.join('\n') + '\n')
