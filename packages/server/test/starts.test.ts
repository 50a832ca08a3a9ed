import { spawn } from 'node:child_process'
import { appendFileSync, existsSync, mkdtempSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { HookError } from '@patient-hook/core'
import { filesOf, hook, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Starts, and ends that nobody wished for: what was answered is there, and what cannot start says why and ends. */

const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: { ...text, 'x-unique': true } } } },
      hooks: {
        tell: hook(
          `{ table: 'item', moment: 'after-save', on: ['create'], each(row, _, { send }) { send('mail', { name: row.now.name }) } }`,
        ),
      },
    }),
  )

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'starts-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))
const start = (more: object = {}) => App.start({ files, dataFolder: folder, ...more })
const database = () => join(folder, 'records.db')
const codeOf = (attempt: Promise<unknown>): Promise<string> =>
  attempt.then(
    () => 'started',
    (error: unknown) => (error as HookError).code,
  )
const posted = () =>
  existsSync(join(folder, 'post-room.jsonl'))
    ? readFileSync(join(folder, 'post-room.jsonl'), 'utf8').split('\n').filter(Boolean)
    : []

/** Until it holds: looked at again after each answer of the application, which is the event that it can change with. */
async function until(holds: () => boolean, app: App): Promise<void> {
  while (!holds()) await app.ask('GET', '/outbox')
}

/** Makes a database with one record and ends its server. */
async function once(): Promise<void> {
  const app = await start()
  await app.save({ table: 'item', values: { name: 'one' } })
  await app.end(true)
}

describe('a folder', () => {
  test('that is served already: the second server says by whom, and ends; after the first it starts', async () => {
    const first = await start()
    const error = await start().then(
      () => null,
      (thrown: HookError) => thrown.report,
    )
    expect(error).toMatchObject({ code: 'store/in-use' })
    expect(error!.message).toContain(`127.0.0.1:${first.server.port}`)
    expect((await first.save({ table: 'item', values: { name: 'x' } })).status).toBe(201)
    await first.end(true)
    const second = await start()
    await second.end(true)
  })

  test('of an earlier version: its file is taken over under its new name', async () => {
    await once()
    for (const ending of ['', '-wal', '-shm'])
      try {
        renameSync(database() + ending, join(folder, `vault.db${ending}`))
      } catch {
        // SQLite has put it away.
      }
    const app = await start()
    expect((await app.ask<{ total: number }>('GET', '/tables/item/records')).body.total).toBe(1)
    await app.end(true)
  })

  test('is read by its owner only', async () => {
    await once()
    expect(statSync(database()).mode & 0o077).toBe(0)
  })
})

describe('a first start that was interrupted', () => {
  test('before the files were there: the next one fills the database', async () => {
    await once()
    const db = new Database(database())
    db.exec('DELETE FROM ph_file; DELETE FROM ph_release; DROP TABLE item; DELETE FROM ph_save; DELETE FROM ph_history')
    db.close()
    rmSync(`${database()}.commits`)
    const app = await start()
    expect((await app.save({ table: 'item', values: { name: 'one' } })).status).toBe(201)
    await app.end(true)
  })

  test('with an empty file: the same', async () => {
    writeFileSync(database(), '')
    const app = await start()
    expect((await app.save({ table: 'item', values: { name: 'one' } })).status).toBe(201)
    await app.end(true)
  })
})

describe('a database', () => {
  test('that another program holds: it says so, and starts when it is free', async () => {
    await once()
    const other = new Database(database())
    other.exec('PRAGMA locking_mode = EXCLUSIVE; BEGIN EXCLUSIVE')
    expect(await codeOf(start())).toBe('store/locked')
    other.close()
    const app = await start()
    await app.end(true)
  })

  test('that is damaged in the middle: it says so at the start', async () => {
    const app = await start()
    for (let i = 0; i < 40; i++)
      await app.save(
        ...Array.from({ length: 50 }, (_, n) => ({ table: 'item', values: { name: `${i}.${n} ${'x'.repeat(200)}` } })),
      )
    await app.end(true)
    // What was in the log only would be written over the damage, and all would be well.
    const db = new Database(database())
    db.pragma('wal_checkpoint(TRUNCATE)')
    db.close()
    const bytes = readFileSync(database())
    bytes.fill(0x5a, Math.floor(bytes.length / 2), Math.floor(bytes.length / 2) + 8192)
    writeFileSync(database(), bytes)
    expect(await codeOf(start())).toBe('store/damaged')
  })

  test('that is short of a column, or of a table: it says which', async () => {
    await once()
    const db = new Database(database())
    db.exec('DROP INDEX "item.name"; ALTER TABLE item RENAME COLUMN name TO nome')
    db.close()
    const error = await start().then(
      () => null,
      (thrown: HookError) => thrown.report,
    )
    expect(error).toMatchObject({ code: 'store/mismatch', table: 'item', field: 'name' })
  })

  test('that a newer version wrote: it says so', async () => {
    await once()
    const db = new Database(database())
    db.pragma('user_version = 999')
    db.close()
    expect(await codeOf(start())).toBe('store/newer')
  })

  test('that is none: it says so', async () => {
    writeFileSync(database(), 'this is no database, but long enough to look at: '.repeat(40))
    expect(await codeOf(start())).toBe('store/damaged')
  })
})

test('a start that fails ends its processes, with exit code 1 and an error for people', async () => {
  writeFileSync(database(), 'this is no database, but long enough to look at: '.repeat(40))
  const cli = join(import.meta.dirname, '../../cli/bin/patient-hook.js')
  const demo = join(import.meta.dirname, '../../../demo')
  const child = spawn('node', [cli, 'serve', demo, '--data', folder, '--port', '0'], { stdio: ['ignore', 'ignore', 'pipe'] })
  let said = ''
  child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()))
  const code = await new Promise((done) => child.once('exit', done))
  expect(code).toBe(1)
  expect(said).toContain('is damaged')
  expect(said).not.toMatch(/\n\s+at /)
})

describe('messages', () => {
  test('a torn last line in the post room does not stop the start, and its message comes again', async () => {
    await once()
    appendFileSync(join(folder, 'post-room.jsonl'), '{"from":"x","id":7,"chan')
    const app = await start()
    await app.save({ table: 'item', values: { name: 'two' } })
    await until(() => posted().some((line) => line.includes('"two"')), app)
    expect(posted().filter((line) => line.includes('"two"'))).toHaveLength(1)
    await app.end(true)
  })

  test('of a database that was begun again are not taken for those of the old one', async () => {
    const old = await start()
    await old.save({ table: 'item', values: { name: 'old' } })
    await until(() => posted().length === 1, old)
    await old.end(true)
    const fresh = await start({ fresh: true })
    await fresh.save({ table: 'item', values: { name: 'new' } })
    await until(() => posted().length === 2, fresh)
    expect(posted()[1]).toContain('"new"')
    await fresh.end(true)
  })

  test('wait while another program holds the write lock; the server lives, and delivers them afterwards', async () => {
    let failures = 1
    const taken: number[] = []
    const service = {
      async deliver(message: { id: number }) {
        if (failures-- > 0) throw new Error('away')
        taken.push(message.id)
      },
    }
    const app = await start({ service })
    const other = new Database(database())
    await app.save({ table: 'item', values: { name: 'one' } })
    other.exec('BEGIN IMMEDIATE')
    // The delivery cannot note its try now; a save is refused with the reason.
    const refused = await app.save({ table: 'item', values: { name: 'two' } })
    expect(refused.body.error).toMatchObject({ code: 'store/locked' })
    other.exec('ROLLBACK')
    other.close()
    expect((await app.save({ table: 'item', values: { name: 'three' } })).status).toBe(201)
    await until(() => new Set(taken).size === 2, app)
    await app.end(true)
  })
})

describe('an engine that is killed', () => {
  test('while saves run: each is there exactly when its answer says so, and messages go out', async () => {
    const app = await start()
    const told = new Map<string, boolean>()
    for (let round = 0; round < 6; round++) {
      const saves = Array.from({ length: 10 }, async (_, n) => {
        const name = `${round}.${n}`
        const { status, body } = await app.save({ table: 'item', values: { name } })
        if (status === 201) told.set(name, true)
        else {
          expect(body.error!.code).toMatch(/^engine\/stopped/)
          expect(typeof body.error!.kept).toBe('boolean')
          told.set(name, body.error!.kept!)
        }
      })
      setImmediate(() => process.kill(app.server.application.live.pid!, 'SIGKILL'))
      await Promise.all(saves)
    }
    const { body } = await app.ask<{ records: { name: string }[] }>('GET', '/tables/item/records?limit=500')
    const there = new Set(body.records.map((each) => each.name))
    for (const [name, kept] of told) expect([name, there.has(name)]).toEqual([name, kept])
    await until(() => new Set(posted()).size >= there.size, app)
    await app.end(true)
  })

  test('and cannot be replaced while the file is locked: calls say so, and the next one after it works', async () => {
    const app = await start()
    await app.save({ table: 'item', values: { name: 'one' } })
    const other = new Database(database())
    process.kill(app.server.application.live.pid!, 'SIGKILL')
    other.exec('BEGIN IMMEDIATE')
    const [first, second] = [
      await app.save({ table: 'item', values: { name: 'two' } }),
      await app.save({ table: 'item', values: { name: 'two' } }),
    ]
    for (const each of [first, second]) expect(each.body.error!.code).toMatch(/^(store\/locked|engine\/stopped)/)
    other.exec('ROLLBACK')
    other.close()
    expect((await app.save({ table: 'item', values: { name: 'two' } })).status).toBe(201)
    await app.end(true)
  })
})
