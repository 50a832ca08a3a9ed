import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { filesOf, link, text } from '../../core/test/world.js'
import { App } from './app.js'

/** The live engine tells SQLite what its indexes hold, as records come; what is served again continues with it. */

const tables = {
  shelf: { fields: { name: text } },
  item: { fields: { shelf: link('shelf'), state: { ...text, 'x-index': true } } },
}
const files = () => Object.fromEntries(filesOf({ tables }))

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'statistics-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

const told = (): Record<string, string> => {
  const db = new Database(join(folder, 'records.db'), { readonly: true })
  try {
    const isThere = db.prepare(`SELECT 1 FROM sqlite_schema WHERE name = 'sqlite_stat1'`).get() !== undefined
    return isThere ? Object.fromEntries(db.prepare('SELECT idx, stat FROM sqlite_stat1').raw().all() as [string, string][]) : {}
  } finally {
    db.close()
  }
}

test('thousands of records on twenty shelves', async () => {
  const app = await App.start({ files, dataFolder: folder })
  const save = async (...rows: object[]) => expect((await app.save(...rows)).status).toBe(201)
  await save(...Array.from({ length: 20 }, (_, n) => ({ table: 'shelf', values: { name: `shelf ${n}` } })))
  expect(told()).toEqual({})
  // Each with a line of history: ten thousand changes and more.
  for (let n = 0; n < 6; n++)
    await save(
      ...Array.from({ length: 1000 }, (_, m) => ({
        table: 'item',
        values: { shelf: 1 + (m % 20), state: m % 2 ? 'new' : 'kept' },
      })),
    )
  // Its answer comes when the engine is done with what it does after the one before.
  await save({ table: 'shelf', values: { name: 'one more' } })
  const made = told()
  expect(Object.keys(made).sort()).toEqual(['item.shelf', 'item.state'])
  const [records, ofShelf] = made['item.shelf']!.split(' ').map(Number) as [number, number]
  expect(records).toBeGreaterThanOrEqual(5000)
  expect(ofShelf).toBe(Math.round(records / 20))
  expect(made['item.state']).toBe(`${records} ${records / 2}`)
  await app.end(true)

  const again = await App.start({ files, dataFolder: folder })
  expect(told()).toEqual(made)
  await again.end(true)
})
