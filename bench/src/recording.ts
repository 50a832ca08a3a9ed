import { join } from 'node:path'
import { readFolder } from '@patient-hook/core'
import { loadRecords, makeRuntime, Store, Recorder, sealIntrinsics, trySave } from '@patient-hook/core/internals'
import { median } from './median.js'

/**
 * What recording costs: node dist/recording.js [ROUNDS]. The same rehearsal of 500 new lots, as a save is (nothing noted), with verdicts
 * and values noted, and recorded with probes: rounds go A B C A B C; medians and ratios.
 */
const rounds = Number(process.argv[2] ?? 40)
const ROWS = 500

sealIntrinsics()
const files = readFolder(join(import.meta.dirname, '../../demo'))
const plain = makeRuntime(files)
const probed = makeRuntime(files, { equipment: 'probed' })
const { project } = plain
const store = new Store(':memory:')
store.createTables(project)
store.transaction(() => {
  for (const table of ['species', 'site', 'collection'])
    loadRecords(store, project.tables.get(table)!, project.data.get(table) ?? [])
  return { value: undefined, keep: true }
})
const rows = Array.from({ length: ROWS }, (_, index) => ({
  table: 'lot',
  values: { collection: 1 + (index % 50), gross_mass_g: 20 + (index % 7), tare_mass_g: 5 },
}))
const contestants: Record<string, () => void> = {
  save: () => void trySave({ project, program: plain.program, store }, rows, { rehearse: true }),
  noted: () => void trySave({ project, program: plain.program, store }, rows, { rehearse: true, record: true }),
  recorded: () => {
    const recorder = new Recorder((row) => row.row === 1, true)
    probed.probe!.listener = recorder
    const outcome = trySave({ project: probed.project, program: probed.program, store, recorder }, rows, {
      rehearse: true,
      record: true,
    })
    probed.probe!.listener = null
    if (outcome.error || recorder.log.events.length === 0) throw new Error(outcome.error?.message ?? 'no events were recorded')
  },
}
const times = new Map(Object.keys(contestants).map((name) => [name, [] as number[]]))
for (let round = 0; round < rounds; round++)
  for (const [name, work] of Object.entries(contestants)) {
    const begun = performance.now()
    work()
    // The first rounds are still compiling.
    if (round >= rounds / 4) times.get(name)!.push(performance.now() - begun)
  }
const base = median(times.get('save')!)
console.log('| rehearsal of 500 new lots | ms | of a save |\n|---|---|---|')
for (const [name, all] of times) console.log(`| ${name} | ${median(all).toFixed(1)} | ${(median(all) / base).toFixed(2)} |`)
store.close()
