import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { openApplication, readFolder, runBackfill, type Application } from '@patient-hook/core'

/**
 * Lots that existed before are numbered, with history: node dist/backfill.js [ROWS] [ROUNDS]. In one run:
 * - the time of the backfill, of the one that undoes it, and of one SQLite script that numbers the same rows and writes the same history in
 *   one transaction on a file, each the median of the rounds;
 * - the most memory that the engine had (VmHWM of its process, Linux);
 * - how long live saves of one record take beside it: p50 and p99 of all, and of the same without it.
 */
const ROWS = Number(process.argv[2] ?? 180_000)
const rounds = Number(process.argv[3] ?? 3)
const folder = mkdtempSync(join(tmpdir(), 'bench-backfill-'))
const demo = Object.fromEntries(
  Object.entries(Object.fromEntries(readFolder(join(import.meta.dirname, '../../demo')))).filter(
    ([path]) => !/^data\/(lot|germination_test|request|request_line)\./.test(path),
  ),
)
const at = (values: readonly number[], share: number) => [...values].sort((a, b) => a - b)[Math.ceil(share * values.length) - 1]!
const CHUNK = 10_000

async function fill(application: Application): Promise<void> {
  for (let from = 0; from < ROWS; from += CHUNK) {
    const lot = Array.from({ length: Math.min(CHUNK, ROWS - from) }, (_, index) => {
      const id = from + index + 1
      const [gross_mass_g, tare_mass_g] = [100 + (id % 50), 10]
      return {
        id,
        collection: (id % 400) + 1,
        gross_mass_g,
        tare_mass_g,
        net_mass_g: gross_mass_g - tare_mass_g,
        status: 'stored',
        alarm: 'none',
      }
    })
    await application.live.call('load', { lot })
  }
}

/** The same as one script: the numbers, and a patch and a cause of every record. */
function script(file: string): number {
  const db = new Database(file)
  db.pragma('synchronous = FULL')
  const begun = performance.now()
  db.exec(`BEGIN IMMEDIATE;
INSERT INTO ph_save (at, user, rows, spent) VALUES ('2026-01-01T00:00:00.000Z', 'ada', ${ROWS}, '{}');
CREATE TEMP TABLE numbered AS SELECT id, printf('HV-%08d', 5000 + row_number() OVER (ORDER BY id) - 1) AS number FROM lot WHERE accession IS NULL;
UPDATE lot SET accession = numbered.number FROM numbered WHERE numbered.id = lot.id;
INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch)
  SELECT (SELECT max(id) FROM ph_save), 'lot', id, 'update', 0, '{"accession":"backfill"}',
    '[{"op":"test","path":"/accession","value":null},{"op":"replace","path":"/accession","value":' || json_quote(number) || '}]'
  FROM numbered;
UPDATE ph_sequence SET next = 5000 + ${ROWS} WHERE name = 'accession';
COMMIT;`)
  // A script ends with its connection, which moves what is in the write-ahead log into the file, as the application does on its way.
  db.close()
  const ms = performance.now() - begun
  const written = new Database(file, { readonly: true })
  const { numbered, patches } = written
    .prepare('SELECT (SELECT count(accession) FROM lot) AS numbered, (SELECT count(*) FROM ph_history) AS patches')
    .get() as { numbered: number; patches: number }
  written.close()
  if (numbered !== ROWS || patches !== ROWS) throw new Error(`the script numbered ${numbered} and wrote ${patches}`)
  return ms
}

const memoryOf = (pid: number): number => Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024
const lastCollection = 400
let saves = 0
async function saveOne({ live }: Application): Promise<number> {
  const begun = performance.now()
  const rows = [{ table: 'collection', id: (saves % lastCollection) + 1, values: { status_note: `note ${saves++}` } }]
  const { error } = await live.save(rows, { user: 'bram' })
  if (error) throw new Error(error.message)
  return performance.now() - begun
}

const wish = {
  table: 'lot',
  where: { accession: null },
  order: [],
  number: { field: 'accession', series: 'accession' },
  withEffects: false,
  withMessages: false,
}
const times = { ours: [] as number[], undo: [] as number[], script: [] as number[] }
let memory = 0
for (let round = 0; round < rounds; round++) {
  const file = join(folder, `records-${round}.db`)
  const application = await openApplication(file, () => demo)
  await fill(application)
  const { live } = application
  const copy = join(folder, 'script.db')
  const source = new Database(file, { readonly: true })
  await source.backup(copy)
  source.close()
  times.script.push(script(copy))
  rmSync(copy)
  let begun = performance.now()
  const { id } = await live.beginBackfill(wish, 'ada')
  const done = await runBackfill(live, id, { onProgress: () => {} })
  times.ours.push(performance.now() - begun)
  if (done.state !== 'done' || done.figures.changed !== ROWS) throw new Error(JSON.stringify(done))
  begun = performance.now()
  const undo = await live.undoBackfill(id, 'ada')
  const undone = await runBackfill(live, undo.id, { onProgress: () => {} })
  times.undo.push(performance.now() - begun)
  if (undone.figures.changed !== ROWS || undone.figures.left > 0) throw new Error(JSON.stringify(undone))
  memory = Math.max(memory, memoryOf(live.pid!))
  await application.close()
}
const of = (name: keyof typeof times) => at(times[name], 0.5)
console.log(`${ROWS} lots, medians of ${rounds}\n\n| what | s | of the script |\n|---|---|---|`)
for (const [name, word] of [
  ['script', 'one SQLite script'],
  ['ours', 'the backfill'],
  ['undo', 'taking it back'],
] as const)
  console.log(`| ${word} | ${(of(name) / 1000).toFixed(2)} | ${(of(name) / of('script')).toFixed(2)} |`)
console.log(`\nThe engine's memory at most: ${Math.round(memory)} MB`)

const application = await openApplication(join(folder, 'beside.db'), () => demo)
await fill(application)
for (let index = 0; index < 300; index++) await saveOne(application)
const alone: number[] = []
for (let index = 0; index < 500; index++) alone.push(await saveOne(application))
const { id } = await application.live.beginBackfill(wish, 'ada')
let going = true
const run = runBackfill(application.live, id, { onProgress: () => {} }).then(() => (going = false))
const beside: number[] = []
while (going) beside.push(await saveOne(application))
await run
await application.close()
console.log('\n| a live save of one record | p50, ms | p99, ms | saves |\n|---|---|---|---|')
for (const [word, values] of [
  ['alone', alone],
  ['beside the backfill', beside],
] as const)
  console.log(`| ${word} | ${at(values, 0.5).toFixed(1)} | ${at(values, 0.99).toFixed(1)} | ${values.length} |`)
rmSync(folder, { recursive: true, force: true })
