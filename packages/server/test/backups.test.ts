import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Backup, JobInfo } from '@patient-hook/contract'
import Database from 'better-sqlite3'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { filesOf, hook, integer, text } from '../../core/test/world.js'
import { App } from './app.js'

/** Backups that are made while records are saved, and put in their place again. */

const files = () =>
  Object.fromEntries(
    filesOf({
      tables: { item: { fields: { name: text, size: integer } } },
      hooks: { tell: hook(`{ table: 'item', moment: 'after-save', each(row, _, { send }) { send('mail', { item: row.id }) } }`) },
    }),
  )

let folder: string
let app: App
const start = (more: { restore?: string } = {}) => App.start({ files, dataFolder: folder, ...more })
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'backups-'))
  app = await start()
})
afterEach(async () => {
  await app.end(true)
  rmSync(folder, { recursive: true, force: true })
})

async function backup(): Promise<Backup> {
  const { body: job } = await app.ask<JobInfo>('POST', '/backups')
  const answer = await fetch(`${app.base}/api/jobs/${job.id}/events`, { headers: { cookie: app.cookie } })
  // The stream ends with the job.
  expect(await answer.text()).toContain('"state":"done"')
  return (await app.ask<{ backups: Backup[] }>('GET', '/backups')).body.backups[0]!
}
const put = (name: string, count = 1) =>
  app.save(...Array.from({ length: count }, (_, index) => ({ table: 'item', values: { name, size: index } })))
const names = async () =>
  (await app.ask<{ records: { name: string }[] }>('GET', '/tables/item/records')).body.records.map(({ name }) => name)
async function received(count: number): Promise<void> {
  while ((await app.ask<{ total: number }>('GET', '/post-room')).body.total < count);
}
const rowsIn = (file: string) => {
  const db = new Database(file, { readonly: true })
  try {
    return (db.prepare('SELECT count(*) FROM item').pluck().get() as number) + 0
  } finally {
    db.close()
  }
}

test('a backup replaces the records; the previous ones are stored next to it', async () => {
  await put('before')
  const { file, bytes } = await backup()
  expect(statSync(join(folder, file))).toMatchObject({ size: bytes })
  expect(statSync(join(folder, file)).mode & 0o077).toBe(0)
  await put('after')
  await received(2)
  await app.end(true)
  app = await start({ restore: file })
  expect(await names()).toEqual(['before'])
  expect(app.server.restored!.aside).toMatch(/records-before-restore-.*\.db$/)
  expect(rowsIn(app.server.restored!.aside!)).toBe(2)
  // It is an application like any other: it saves, and its messages are taken for new ones.
  await put('new')
  expect(await names()).toEqual(['before', 'new'])
  await received(3)
  await app.end(true)
  app = await start()
  expect(await names()).toEqual(['before', 'new'])
})

test('what must not go back stays: revoked keys, numbers, versions', async () => {
  const key = async (name: string) =>
    (await app.ask<{ id: number; key: string }>('POST', '/keys', { name, user: 'owner', scope: 'save' })).body
  const total = async (secret: string) =>
    (await fetch(`${app.base}/api/v1/tables/item/records`, { headers: { authorization: `Bearer ${secret}` } })).status
  const [revoked, kept] = [await key('old'), await key('fine')]
  await put('before')
  const { file } = await backup()
  const made = await key('new')
  await app.ask('DELETE', `/keys/${revoked.id}`)
  await put('after', 3)
  await received(4)
  const before = (await app.ask<{ messages: { id: number }[] }>('GET', '/outbox')).body.messages[0]!.id
  await app.end(true)
  app = await start({ restore: file })
  expect(app.server.restored!.carried).toMatchObject({ keys: 2, numbers: 4 })
  expect([await total(revoked.key), await total(kept.key), await total(made.key)]).toEqual([401, 200, 200])
  const { records, save } = (await put('new')).body
  expect(records[0]!.id).toBe(5)
  expect(save).toBeGreaterThan(2)
  expect((await app.ask<{ messages: { id: number }[] }>('GET', '/outbox')).body.messages[0]!.id).toBeGreaterThan(before)
})

test('while records are saved a backup holds one moment: whole saves, and none that came later', async () => {
  await put('x', 3000)
  let going = true
  let saved = 0
  const saving = (async () => {
    while (going) {
      await put('y', 10)
      saved += 10
    }
  })()
  const backups = [await backup(), await backup(), await backup()]
  going = false
  await saving
  expect(new Set(backups.map(({ file }) => file)).size).toBe(3)
  for (const { file } of backups) {
    const db = new Database(join(folder, file), { readonly: true })
    const count = db.prepare('SELECT count(*) FROM item').pluck().get() as number
    const told = db.prepare('SELECT sum(rows) FROM ph_save').pluck().get() as number
    db.close()
    expect(count).toBe(told)
    expect(count % 10).toBe(0)
    expect(count).toBeLessThanOrEqual(3000 + saved)
  }
})

test.each<[string, (file: string) => void, RegExp]>([
  ['cut off', (file) => writeFileSync(file, readFileSync(file).subarray(0, 20_000)), /cannot be restored/],
  ['of another kind', (file) => writeFileSync(file, 'name,size\nx,1\n'), /not a database/],
  [
    'of a newer version',
    (file) => {
      const db = new Database(file)
      db.pragma('user_version = 9999')
      db.close()
    },
    /newer version/,
  ],
  [
    'of another application',
    (file) => {
      rmSync(file)
      const db = new Database(file)
      db.exec('CREATE TABLE other (id INTEGER PRIMARY KEY)')
      db.close()
    },
    /none of this application/,
  ],
  ['that is not there', (file) => rmSync(file), /not there/],
])('a file %s is not restored, and the records are as they were', async (_, spoil, message) => {
  await put('mine')
  const { file } = await backup()
  spoil(join(folder, file))
  await app.end(true)
  await expect(start({ restore: file })).rejects.toThrow(message)
  expect(readdirSync(folder).filter((name) => name.startsWith('records-before'))).toEqual([])
  app = await start()
  expect(await names()).toEqual(['mine'])
})

test('what an earlier version wrote is restored, and brought up to date', async () => {
  await app.end(true)
  const file = join(import.meta.dirname, '../../core/test/store/files/version-4.db')
  app = await start({ restore: file })
  const { body } = await app.ask<{ records: { name: string }[] }>('GET', '/tables/item/records')
  expect(body.records.map(({ name }) => name)).toEqual(['one', 'two'])
})
