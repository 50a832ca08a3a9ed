import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { barely } from './bare-loop.js'
import { ours } from './ours.js'
import { cluster, pglite } from './postgres.js'
import { triggers } from './triggers.js'
import type { Measured } from './work.js'

/** One contestant in its own process: node contestant.js NAME ROWS. Prints what it measured as JSON. */

export type Contestant = (folder: string, rows: number) => Promise<Omit<Measured, 'peakMb'>> | Omit<Measured, 'peakMb'>
const CONTESTANTS: Record<string, Contestant> = {
  'patient-hook': (folder, rows) => ours(folder, rows, false),
  'patient-hook+history': (folder, rows) => ours(folder, rows, true),
  triggers: (folder, rows) => triggers(folder, rows, false),
  'triggers+history': (folder, rows) => triggers(folder, rows, true),
  bare: barely,
  pglite,
  'postgres-15': (folder, rows) => cluster(folder, rows, false),
  'postgres-15+history': (folder, rows) => cluster(folder, rows, true),
}

const [name = '', rows = '100000'] = process.argv.slice(2)
const run = CONTESTANTS[name]
if (!run) throw new Error(`no contestant ${name}`)

/** Rows of the run that goes first and is not measured: what is compared is a process that has been at work for a while. */
const WARM_UP = 5000

async function inFolder(count: number): Promise<Omit<Measured, 'peakMb'>> {
  const folder = mkdtempSync(join(tmpdir(), 'bench-'))
  try {
    return await run!(folder, count)
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

await inFolder(WARM_UP)
const measured = await inFolder(Number(rows))
process.stdout.write(JSON.stringify({ ...measured, peakMb: Math.round(process.resourceUsage().maxRSS / 1024) }) + '\n')
