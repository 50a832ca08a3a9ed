import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { openApplication, readFolder, type Application } from '@patient-hook/core'
import { median } from './median.js'

/**
 * The demo's application with few lots and with many, each with a line of history: node dist/million.js [ROWS] [--write FILE]. In one run, in turn on the
 * two: a save of one lot, a save of 1,000 from all over the table, a save of 20 collections with a hook that finds lots of theirs, a page of the list by
 * an indexed field from its beginning and from its middle. Each begins when the write-ahead log has been moved into the file, so that none pays for those
 * before; then saves of 1,000 that follow each other without a pause, three blocks of the one and of the other. Medians.
 */
const many = Number(process.argv.slice(2).find((each) => /^\d+$/.test(each)) ?? 1_000_000)
const writeAt = process.argv.indexOf('--write')
const FEW = 1000
const CHUNK = 20_000
const COLLECTIONS = 420
const folder = mkdtempSync(join(tmpdir(), 'bench-million-'))
const fileOf = (count: number) => join(folder, `lots-${count}.db`)
const demo = Object.fromEntries(
  [...readFolder(join(import.meta.dirname, '../../demo'))].filter(
    ([path]) => !/^data\/(lot|germination_test|request|request_line)\./.test(path),
  ),
)

/** By two links: those of 20 collections, few, and those of a species, a twentieth of all. */
demo['plugins/vault/hooks/collection-lots-found.ts'] = `import { defineHook } from 'patient-hook'

export default defineHook({
  table: 'collection',
  moment: 'before-save',
  watch: ['keeper_contact'],
  load: ({ rows, store }) =>
    store.find('lot', { collection: { in: rows.map((row) => row.id) }, species: 7 }, { fields: ['collection'] }),
  each(row, lots) {
    row.now.status_note = lots.filter((lot) => lot.collection === row.id).length + ' of the species'
  },
})
`
/** What the demo has; and with more lots more, so that each has as many. */
const collectionsOf = (count: number): number => Math.max(COLLECTIONS, Math.floor((count * COLLECTIONS) / FEW))

async function open(count: number): Promise<Application> {
  const file = fileOf(count)
  const application = await openApplication(file, () => demo)
  for (let from = COLLECTIONS; from < collectionsOf(count); from += CHUNK) {
    const collection = Array.from({ length: Math.min(CHUNK, collectionsOf(count) - from) }, (_, index) => ({
      id: from + index + 1,
      number: `HM-${from + index}`,
      kind: 'wild',
    }))
    await application.live.call('load', { collection })
  }
  for (let from = 0; from < count; from += CHUNK) {
    const lot = Array.from({ length: Math.min(CHUNK, count - from) }, (_, index) => {
      const id = from + index + 1
      return {
        id,
        accession: `LV-${String((id * 7919) % 10_000_000).padStart(8, '0')}`,
        collection: (id % collectionsOf(count)) + 1,
        species: (id % 20) + 1,
        gross_mass_g: 100 + (id % 50),
        tare_mass_g: 10,
        net_mass_g: 90 + (id % 50),
        status: 'stored',
        alarm: 'none',
      }
    })
    await application.live.call('load', { lot })
  }
  const db = new Database(file)
  db.exec(`INSERT INTO ph_save (at, user, rows, spent) VALUES ('2026-01-01T00:00:00.000Z', 'ada', ${count}, '{}');
INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch)
  SELECT 1, 'lot', id, 'create', 0, '{}', '[{"op":"replace","path":"","value":{"id":' || id || ',"accession":"' || accession || '"}}]' FROM lot;`)
  db.close()
  return application
}

let changes = 0
type Work = (application: Application, count: number) => Promise<void>
const saved = async ({ live }: Application, rows: Parameters<Application['live']['save']>[0]) => {
  const { error } = await live.save(rows, { user: 'ada' })
  if (error) throw new Error(error.message)
}
const saveThousand: Work = (application, count) => {
  const step = Math.floor(count / 1000)
  const gross_mass_g = 200 + (changes++ % 90)
  const rows = Array.from({ length: 1000 }, (_, index) => ({ table: 'lot', id: 1 + index * step, values: { gross_mass_g } }))
  return saved(application, rows)
}
const WORK: Record<string, { times: number; work: Work; blocks?: number }> = {
  'a save of one lot': {
    times: 60,
    work: (application, count) =>
      saved(application, [
        { table: 'lot', id: 1 + ((changes * 7919) % count), values: { gross_mass_g: 200 + (changes++ % 90) } },
      ]),
  },
  'a save of 1,000 lots': { times: 15, work: saveThousand },
  'saves of 1,000 lots without a pause': { times: 9, blocks: 3, work: saveThousand },
  'a save of 20 collections, with a find by two links': {
    times: 40,
    work: (application, count) => {
      const first = (changes++ * 7919) % (collectionsOf(count) - 20)
      const keeper_contact = `keeper${changes}@heronreach.example`
      const rows = Array.from({ length: 20 }, (_, index) => ({
        table: 'collection',
        id: first + index + 1,
        values: { keeper_contact },
      }))
      return saved(application, rows)
    },
  },
  'the first page of a list by an indexed field': {
    times: 40,
    work: async ({ reader }) => {
      const { records } = await reader.read('list', 'lot', { orderBy: 'accession', limit: 100 })
      if (records.length < 100) throw new Error('a page was not full')
    },
  },
  'a page from its middle': {
    times: 40,
    work: async ({ reader }, count) => {
      const { records } = await reader.read('list', 'lot', { orderBy: 'accession', limit: 100, after: 1 + Math.floor(count / 2) })
      if (records.length === 0) throw new Error('a page was empty')
    },
  },
}

const applications = [
  [FEW, await open(FEW)],
  [many, await open(many)],
] as const
const lines = [
  `${FEW} and ${many} lots, each with a line of history; medians, in turn in one run`,
  '',
  `| what | ms at ${FEW} | ms at ${many} | ratio |`,
  '|---|---|---|---|',
]
/** Until all of the log is in the file, anyone who else is at it. */
function moveLog(db: Database.Database): void {
  type State = { busy: number; log: number; checkpointed: number }
  for (;;) {
    const [{ busy, log, checkpointed }] = db.pragma('wal_checkpoint(PASSIVE)') as [State]
    if (busy === 0 && checkpointed === log) return
  }
}
const logs = new Map(applications.map(([count]) => [count, new Database(fileOf(count))]))
for (const [name, { times, work, blocks }] of Object.entries(WORK)) {
  const measured = new Map<number, number[]>(applications.map(([count]) => [count, []]))
  for (let round = 0; round < (blocks ?? times); round++)
    for (const [count, application] of applications)
      for (let time = 0; time < (blocks ? times : 1); time++) {
        if (time === 0) moveLog(logs.get(count)!)
        const begun = performance.now()
        await work(application, count)
        measured.get(count)!.push(performance.now() - begun)
      }
  const [few, more] = applications.map(([count]) => median(measured.get(count)!)) as [number, number]
  lines.push(`| ${name} | ${few.toFixed(1)} | ${more.toFixed(1)} | ${(more / few).toFixed(2)} |`)
}
for (const log of logs.values()) log.close()
for (const [, application] of applications) await application.close()
rmSync(folder, { recursive: true, force: true })
lines.push(
  '',
  `Machine: ${cpus().length} × ${cpus()[0]!.model}, Node ${process.version}; ${new Date().toISOString().slice(0, 10)}.`,
)
console.log(lines.join('\n'))
if (writeAt > 0) writeFileSync(process.argv[writeAt + 1]!, `${lines.join('\n')}\n`)
