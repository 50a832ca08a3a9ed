import { join } from 'node:path'
import { median } from './median.js'
import { fill, openPlain } from './sqlite-schema.js'
import { changedLots, CHECK_SQL, columnsOf, DISTRICTS, newLots, PARENTS, type Measured, type Phase, type Row } from './work.js'

/** The same functions in a plain loop: batches of 500, look-ups once a batch, prepared statements; no sandbox, no checks. */
export function barely(folder: string, rows: number): Omit<Measured, 'peakMb'> {
  const db = openPlain(join(folder, 'bare.db'))
  fill(db)
  const ms = {} as Record<Phase, number>
  const phase = (name: Phase, work: () => void) => {
    const started = performance.now()
    db.transaction(work)()
    ms[name] = performance.now() - started
  }
  const byIds = (sql: string, ids: unknown[]) =>
    new Map(
      db
        .prepare(sql)
        .raw()
        .all(JSON.stringify([...new Set(ids)])) as [number, number][],
    )
  const derive = (batch: Row[]) => {
    const collections = byIds(
      'SELECT id, species FROM collection WHERE id IN (SELECT value FROM json_each(?))',
      batch.map((row) => row['collection']),
    )
    const species = byIds('SELECT id, thousand_seed_mass_g FROM species WHERE id IN (SELECT value FROM json_each(?))', [
      ...collections.values(),
    ])
    for (const row of batch) {
      row['species'] = collections.get(row['collection'] as number) ?? null
      row['net_mass_g'] = (row['gross_mass_g'] as number) - (row['tare_mass_g'] as number)
      const mass = species.get(row['species'] as number)
      row['seed_estimate'] = mass ? Math.round(((row['net_mass_g'] as number) / mass) * 1000) : null
      if ((row['tare_mass_g'] as number) > (row['gross_mass_g'] as number)) throw new Error('more than gross')
    }
  }
  const columns = columnsOf('lot')
  const lots = newLots(rows)
  const insert = db.prepare(`INSERT INTO lot (${columns.join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`)
  phase('create', () => {
    for (let at = 0; at < lots.length; at += 500) {
      const batch = lots.slice(at, at + 500)
      for (const row of batch) row['status'] ??= 'drying'
      derive(batch)
      for (const row of batch) insert.run(columns.map((column) => row[column] ?? null))
    }
  })
  const changed = changedLots(rows)
  const read = db.prepare('SELECT * FROM lot WHERE id IN (SELECT value FROM json_each(?))')
  const update = db.prepare('UPDATE lot SET gross_mass_g = ?, species = ?, net_mass_g = ?, seed_estimate = ? WHERE id = ?')
  phase('update', () => {
    for (let at = 0; at < changed.length; at += 500) {
      const batch = changed.slice(at, at + 500)
      const old = new Map(
        (read.all(JSON.stringify(batch.map((row) => row.id))) as (Row & { id: number })[]).map((row) => [row.id, row]),
      )
      const now = batch.map((row) => ({ ...old.get(row.id)!, ...row }))
      derive(now)
      for (const row of now) update.run(row['gross_mass_g'], row['species'], row['net_mass_g'], row['seed_estimate'], row.id)
    }
  })
  const site = db.prepare('UPDATE site SET district = ? WHERE id = ?')
  const children = db.prepare('SELECT id, site FROM collection WHERE site IN (SELECT value FROM json_each(?))').raw()
  const push = db.prepare('UPDATE collection SET district = ? WHERE id = ?')
  const pushes = DISTRICTS.map((district) => {
    phase('push', () => {
      for (let at = 0; at < PARENTS; at += 500) {
        const ids = Array.from({ length: 500 }, (_, i) => at + i + 1)
        for (const id of ids) site.run(district, id)
        for (const [id] of children.all(JSON.stringify(ids)) as [number, number][]) push.run(district, id)
      }
    })
    return ms.push
  })
  ms.push = median(pushes)
  return { ms, sum: db.prepare(CHECK_SQL).pluck().get() as number }
}
