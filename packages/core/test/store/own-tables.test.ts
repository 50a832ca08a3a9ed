import { copyFileSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { listBackfills, nextIds, nextRecords, readBackfill } from '../../src/backfill/backfill-store.js'
import { listSaves } from '../../src/engine/save-log.js'
import { readHistory } from '../../src/save/history.js'
import { releasesIn } from '../../src/release/release-store.js'
import { switchesIn } from '../../src/release/switches.js'
import { Store } from '../../src/store/database.js'
import { errorOf } from '../error-of.js'
import { listMessages } from '../../src/store/outbox.js'
import { NEWEST } from '../../src/store/own-tables/index.js'

/** The application's own tables, brought up to date from files that earlier versions wrote. */

const written = join(import.meta.dirname, 'files')
let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'own-tables-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

test('a database of another program is refused, and left as it is', () => {
  const file = join(folder, 'records.db')
  const other = new Database(file)
  other.exec('CREATE TABLE customer (id INTEGER PRIMARY KEY, name TEXT); INSERT INTO customer (name) VALUES (1)')
  other.close()
  const before = readFileSync(file)
  expect(errorOf(() => new Store(file))).toMatchObject({ code: 'store/foreign' })
  expect(readFileSync(file)).toEqual(before)
})

test('there is a file of every version before this one', () => {
  const numbers = readdirSync(written).map((name) => Number(/\d+/.exec(name)![0]))
  expect(numbers).toContain(NEWEST - 1)
})

test.each(['version-0.db'])('%s: records, history, numbers and messages are as they were', (name) => {
  const file = join(folder, 'records.db')
  copyFileSync(join(written, name), file)
  const store = new Store(file)
  expect(store.db.pragma('user_version', { simple: true })).toBe(NEWEST)
  expect(store.rows('SELECT * FROM item ORDER BY id')).toEqual([
    [1, 'one', 'N0001', 5],
    [2, 'two', 'N0002', 2],
  ])
  expect(readHistory(store, 'item', 1).map(({ save, at, user, event, changes }) => ({ save, at, user, event, changes }))).toEqual(
    [
      {
        save: 1,
        at: '2026-01-01T00:00:00Z',
        user: 'ada',
        event: 'create',
        changes: [
          { field: 'name', from: null, to: 'one', by: 'typed' },
          { field: 'number', from: null, to: 'N0001', by: 'p/number@1.0.0' },
          { field: 'qty', from: null, to: 1, by: 'typed' },
        ],
      },
      {
        save: 2,
        at: '2026-01-02T00:00:00Z',
        user: 'ada',
        event: 'update',
        changes: [{ field: 'qty', from: 1, to: 5, by: 'typed' }],
      },
    ],
  )
  expect(
    listMessages(store, 0, 10).messages.map(({ id, delivered, tries, failure }) => ({ id, delivered, tries, failure })),
  ).toEqual([
    { id: 3, delivered: null, tries: 0, failure: null },
    { id: 2, delivered: null, tries: 0, failure: null },
    { id: 1, delivered: '2026-01-01T00:00:01Z', tries: 1, failure: null },
  ])
  expect(store.one(`SELECT next FROM ph_sequence WHERE name = 's'`)).toBe(3)
  expect(store.one(`SELECT count(*) FROM sqlite_master WHERE name = 'ph_history_save'`)).toBe(1)
  const named = store.one(`SELECT value FROM ph_meta WHERE key = 'database'`)
  store.close()
  // A second opening changes nothing.
  const again = new Store(file)
  expect(again.one(`SELECT value FROM ph_meta WHERE key = 'database'`)).toBe(named)
  again.close()
})

test('version-2.db: date-times take the form in which text order is time order; what cannot is left as it is', () => {
  const file = join(folder, 'records.db')
  copyFileSync(join(written, 'version-2.db'), file)
  const store = new Store(file)
  expect(store.rows('SELECT id, at, day, note FROM visit ORDER BY id')).toEqual([
    [1, '2026-03-01T12:30:00.000Z', '2026-03-01', '2026-03-01T09:30:00-03:00'],
    [2, '2026-03-01T09:30:00.000Z', null, null],
    [3, '2026-03-01T12:00:00.1234Z', null, null],
    [4, null, null, null],
    [5, '2026-03-01T12:00:00.500Z', null, null],
  ])
  store.close()
})

test('version-3.db: saves of then are there, without what they were given', () => {
  const file = join(folder, 'records.db')
  copyFileSync(join(written, 'version-3.db'), file)
  const store = new Store(file)
  expect(store.rows('SELECT * FROM item')).toEqual([[1, 'one', 'N0001', 5]])
  expect(store.rows('SELECT id, at, user, rows, given FROM ph_save ORDER BY id')).toEqual([
    [1, '2026-01-01T00:00:00.000Z', 'ada', 1, null],
    [2, '2026-01-02T00:00:00.000Z', 'ada', 1, null],
  ])
  expect(readHistory(store, 'item', 1)[1]!.changes).toEqual([{ field: 'qty', from: 1, to: 5, by: 'typed' }])
  store.close()
})

test('version-4.db: what was live then is the first release of each plugin', () => {
  const file = join(folder, 'records.db')
  copyFileSync(join(written, 'version-4.db'), file)
  const store = new Store(file)
  const [release, ...others] = releasesIn(store)
  expect(others).toEqual([])
  expect(release).toMatchObject({ plugin: 'p', version: '1.0.0', audience: null, gate: [], hooks: ['number'] })
  expect(release!.everyoneAt).toBe(release!.at)
  expect(release!.files).toEqual(
    Object.fromEntries(store.rows(`SELECT path, text FROM ph_file WHERE path LIKE 'plugins/%'`) as [string, string][]),
  )
  expect(store.one('SELECT count(*) FROM ph_save WHERE given IS NOT NULL')).toBe(3)
  store.close()
})

test('version-5.db: saves of then have their time, releases and switches are there, and no backfill was', () => {
  const file = join(folder, 'records.db')
  copyFileSync(join(written, 'version-5.db'), file)
  const store = new Store(file)
  const saves = listSaves(store, { offset: 0, limit: 10, only: 'all' }).saves
  expect(saves.map(({ id, user, versions, job, budget }) => ({ id, user, versions, job, budget }))).toEqual(
    [3, 2, 1].map((id) => ({ id, user: 'ada', versions: null, job: null, budget: null })),
  )
  for (const { ms, spent } of saves) expect(ms).toBe(spent['ms'])
  expect(releasesIn(store)).toHaveLength(1)
  expect([...switchesIn(store)]).toMatchObject([['number', { state: 'off' }]])
  expect(listBackfills(store)).toEqual([])
  expect(store.rows('SELECT * FROM item ORDER BY id')).toEqual([
    [1, 'one', 'N0001', 5],
    [2, 'two', 'N0002', 2],
  ])
  store.close()
})

test('version-6.db: backfills of then go on where they were', () => {
  const file = join(folder, 'records.db')
  copyFileSync(join(written, 'version-6.db'), file)
  const store = new Store(file)
  expect(listBackfills(store).map(({ id, state, total, done, undoes }) => ({ id, state, total, done, undoes }))).toEqual([
    { id: 3, state: 'running', total: 1203, done: 1001, undoes: null },
    { id: 2, state: 'running', total: 3, done: 1, undoes: 1 },
    { id: 1, state: 'done', total: 3, done: 3, undoes: null },
  ])
  // It goes through them by falling qty, which is one less than the id; 1 numbered them in their order.
  expect(nextIds(store, readBackfill(store, 3), 500)).toEqual(Array.from({ length: 202 }, (_, index) => 202 - index))
  expect(nextIds(store, { ...readBackfill(store, 3), done: 998 }, 4)).toEqual([205, 204, 203, 202])
  expect(nextRecords(store, readBackfill(store, 2), 10)).toEqual([
    { table: 'item', id: 2 },
    { table: 'item', id: 1 },
  ])
  expect(store.one('SELECT count(*) FROM item WHERE name IS NOT NULL')).toBe(1001)
  store.close()
})

test('a file of a newer version is not touched', () => {
  const file = join(folder, 'records.db')
  new Store(file).close()
  const db = new Database(file)
  db.pragma(`user_version = ${NEWEST + 1}`)
  db.close()
  expect(() => new Store(file)).toThrow(/newer version/)
})

test('the application’s file is written with synchronous = FULL, in WAL', () => {
  const store = new Store(join(folder, 'records.db'))
  expect(store.db.pragma('synchronous', { simple: true })).toBe(2)
  expect(store.db.pragma('journal_mode', { simple: true })).toBe('wal')
  store.close()
})

test('what can be done again is written lazily, and nothing else is', () => {
  const store = new Store(join(folder, 'records.db'))
  const level = () => store.db.pragma('synchronous', { simple: true })
  expect([store.lazily(level), level()]).toEqual([1, 2])
  expect(() =>
    store.lazily(() => {
      throw new Error('no')
    }),
  ).toThrow('no')
  expect(level()).toBe(2)
  // A transaction that is open was begun by somebody who may rely on it.
  store.transaction(() => ({ value: expect(store.lazily(level)).toBe(2), keep: true }))
  store.close()
})
