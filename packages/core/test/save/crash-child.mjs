// Saves in bulk, over and over, until it is killed: node crash-child.mjs DATABASE FILES.json
import { readFileSync } from 'node:fs'
import { makeRuntime, save, Store } from '../../dist/internals.js'

const [database, filesJson] = process.argv.slice(2)
const { project, program } = makeRuntime(new Map(JSON.parse(readFileSync(filesJson, 'utf8'))))
const store = new Store(database)
store.createTables(project)
if (store.db.prepare('SELECT count(*) FROM parent').pluck().get() === 0)
  save(
    { project, program, store },
    Array.from({ length: 10 }, () => ({ table: 'parent', values: { total: 0 } })),
  )
for (let first = true; ; first = false) {
  const started = performance.now()
  const rows = Array.from({ length: 600 }, (_, i) => ({ table: 'child', values: { parent: (i % 10) + 1, qty: 1 } }))
  save({ project, program, store }, rows)
  // How long a save takes here, so that the kill comes within the next few.
  if (first) process.send(performance.now() - started)
  // Lets a disconnected parent end this process.
  await new Promise((done) => setImmediate(done))
}
