import { mkdtempSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { filesOf, text } from '../../core/test/world.js'
import { App } from './app.js'

/** The write-ahead log is moved into the file beside the saves; what was answered is there, wherever that is interrupted. */

const files = () => Object.fromEntries(filesOf({ tables: { item: { fields: { name: text } } } }))
const LONG = 'x'.repeat(2000)
const ROWS = 500

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'checkpoints-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))
const database = () => join(folder, 'records.db')
const start = () => App.start({ files, dataFolder: folder })

/** Some 2 MB, with their history: two of these are enough for a checkpoint, and thirty would be for one by the save itself. */
const saveMany = (app: App, name: string, value = LONG) =>
  app.save(...Array.from({ length: ROWS }, (_, n) => ({ table: 'item', values: { name: `${name} ${n} ${value}` } })))

describe('the write-ahead log', () => {
  test('is moved into the file before any save would do it', async () => {
    const app = await start()
    for (let n = 0; n < 4; n++) expect((await saveMany(app, `save ${n}`)).status).toBe(201)
    // The file has them once they were moved. Looked at again after each answer: a save of one record is a moment at which the rest can be begun.
    while (statSync(database()).size < 3 * 2 ** 20) await app.save({ table: 'item', values: { name: 'one more' } })
    // Nowhere near the 64 MB at which a save would have moved them itself.
    expect(statSync(`${database()}-wal`).size).toBeLessThan(32 * 2 ** 20)
    await app.end(true)
  })

  test('does not grow for ever where saves never pause', async () => {
    const app = await start()
    const longer = LONG.repeat(2)
    for (let n = 0; n < 14; n++) await Promise.all([saveMany(app, `first ${n}`, longer), saveMany(app, `second ${n}`, longer)])
    const { size } = statSync(`${database()}-wal`)
    // The most is 64 MB, and the save that went beyond; all of it would be more.
    expect(size).toBeLessThan(80 * 2 ** 20)
    expect(statSync(database()).size + size).toBeGreaterThan(100 * 2 ** 20)
    expect((await app.ask<{ total: number }>('GET', '/tables/item/records')).body.total).toBe(28 * ROWS)
    await app.end(true)
  })

  test('killed while it is moved, again and again: what was answered is there, whole', async () => {
    const app = await start()
    const told = new Map<string, boolean>()
    for (let round = 0; round < 8; round++) {
      const name = (n: number) => `${round}.${n}`
      for (let n = 0; n < 3; n++) {
        await saveMany(app, name(n))
        told.set(name(n), true)
      }
      // The third has made the log long enough: its checkpoint is on its way, or near its end, when the process goes.
      const last = saveMany(app, name(3))
      setImmediate(() => process.kill(app.server.application.live.pid!, 'SIGKILL'))
      const { status, body } = await last
      told.set(name(3), status === 201 || body.error!.kept === true)
    }
    await app.end(true)
    const db = new Database(database())
    expect(db.pragma('integrity_check', { simple: true })).toBe('ok')
    const count = db.prepare('SELECT count(*) FROM item WHERE name LIKE ?').pluck()
    for (const [name, kept] of told) expect([name, count.get(`${name} %`)]).toEqual([name, kept ? ROWS : 0])
    db.close()
  })
})
