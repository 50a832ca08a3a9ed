import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openApplication, readFolder } from '@patient-hook/core'
import { median } from './median.js'

/**
 * What releases cost: node dist/releases.js [ROUNDS]. On the demo, medians.
 * - A save of 50 lots by a user who receives the public release, by one who pilots another text, and with no pilot at all: in turn, in one run.
 * - A step back, a pilot's end and a switch, from the call until the next save is answered with the other text.
 */
const rounds = Number(process.argv[2] ?? 25)
const folder = mkdtempSync(join(tmpdir(), 'bench-releases-'))
const demo = Object.fromEntries(readFolder(join(import.meta.dirname, '../../demo')))

const { live, close } = await openApplication(join(folder, 'records.db'), () => demo)
const FILE = 'plugins/requests/hooks/lot-copied.ts'
let grams = 100
const save = async (user: string): Promise<number> => {
  grams++
  const rows = Array.from({ length: 50 }, (_, index) => ({
    table: 'lot',
    id: index + 1,
    values: { gross_mass_g: grams + index },
  }))
  const begun = performance.now()
  const { error } = await live.save(rows, { user })
  if (error) throw new Error(error.message)
  return performance.now() - begun
}
let version = 0
async function release(pilots: string[] | null): Promise<number> {
  await live.putFiles({ [FILE]: demo[FILE]!.replace('copied from lot', `copy ${++version} of lot`) })
  const { stamp } = await live.call('releaseCandidate', ['requests'], 'patch')
  const wish = { part: 'patch' as const, stamp, note: '', user: 'ada', gate: [], coverage: {}, reason: 'bench', audience: pilots }
  const [released] = await live.release({ ...wish, plugins: ['requests'] })
  return released!.id
}
const noteOf = async (user: string): Promise<string> => {
  const { records, ran } = await live.save([{ table: 'lot', copyOf: 1, values: { handling_notes: 'y' } }], { user })
  return `${ran['lot-copied'] ?? 0}: ${records[0]!['handling_notes'] as string}`
}
async function timed(work: () => Promise<unknown>, user: string): Promise<number> {
  const before = await noteOf(user)
  const begun = performance.now()
  await work()
  const after = await noteOf(user)
  const ms = performance.now() - begun
  if (after === before) throw new Error(`the next save ran the same text: ${after}`)
  return ms
}

/** Until what runs is compiled. */
const WARM = 60
for (let round = 0; round < WARM; round++) await save('bram')
const alone: number[] = []
for (let round = 0; round < rounds; round++) alone.push(await save('bram'))
let pilot = await release(['ines'])
for (let round = 0; round < WARM; round++) {
  await save('ines')
  await save('bram')
}
const [others, piloting]: [number[], number[]] = [[], []]
for (let round = 0; round < rounds; round++) {
  others.push(await save('bram'))
  piloting.push(await save('ines'))
}
const ratio = (values: readonly number[]) => (median(values) / median(alone)).toFixed(2)
console.log('| a save of 50 lots | ms | of a save without any pilot |\n|---|---|---|')
console.log(`| no pilot | ${median(alone).toFixed(1)} | 1 |`)
console.log(`| others, beside a pilot | ${median(others).toFixed(1)} | ${ratio(others)} |`)
console.log(`| the pilot’s user | ${median(piloting).toFixed(1)} | ${ratio(piloting)} |`)

const [ended, back, switched]: [number[], number[], number[]] = [[], [], []]
for (let round = 0; round < 9; round++) {
  ended.push(await timed(() => live.setAudience(pilot, [], 'ada'), 'ines'))
  await release(null)
  back.push(await timed(() => live.stepBack('requests', null, 'ada'), 'bram'))
  switched.push(await timed(() => live.switchHook('lot-copied', 'off', 'ada'), 'bram'))
  await live.switchHook('lot-copied', null, 'ada')
  pilot = await release(['ines'])
}
console.log('\n| until the next save is answered with the other text | median ms | longest |\n|---|---|---|')
for (const [what, values] of Object.entries({
  'a pilot ends': ended,
  'a step back': back,
  'a hook is switched off': switched,
}))
  console.log(`| ${what} | ${median(values).toFixed(0)} | ${Math.max(...values).toFixed(0)} |`)
await close()
rmSync(folder, { recursive: true, force: true })
