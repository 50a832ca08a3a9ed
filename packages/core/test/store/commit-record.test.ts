import { copyFileSync, existsSync, mkdtempSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { CommitRecord, forgetCommits } from '../../src/store/commit-record.js'
import { Store } from '../../src/store/database.js'
import { errorOf } from '../error-of.js'

/** A database that has lost what was answered is not opened; one that is ahead of its record, or torn, is. */

let folder: string
let file: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'commits-'))
  file = join(folder, 'records.db')
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

/** Saves are committed into the write-ahead log, and nothing is moved out of it: as after a kill. */
function work(saves: number, noted = saves): void {
  const store = new Store(file)
  store.db.pragma('wal_autocheckpoint = 0')
  const record = new CommitRecord(store)
  for (let save = 1; save <= saves; save++) {
    store.transaction(() => {
      store.run(
        `INSERT INTO ph_save (at, user, rows, spent, token) VALUES ('2026-01-01T00:00:00.000Z', 'ada', 1, '{}', ?)`,
        `t${save}`,
      )
      store.run(
        `INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch) VALUES (?, 'item', 1, 'update', 0, '{}', '[]')`,
        save,
      )
      return { value: undefined, keep: true }
    })
    if (save <= noted) record.note()
  }
  // The last one to close a database moves the log into it: what is there now is kept.
  for (const name of ['', '-wal']) copyFileSync(file + name, `${file}${name}.kept`)
  record.close()
  store.close()
  for (const name of ['', '-wal']) copyFileSync(`${file}${name}.kept`, file + name)
}
const open = () => {
  const store = new Store(file)
  try {
    new CommitRecord(store).close()
    return store.one('SELECT count(*) FROM ph_save') as number
  } finally {
    store.close()
  }
}

test('what was committed is there again', () => {
  work(40)
  expect(open()).toBe(40)
  expect(open()).toBe(40)
})

test('commits that were not noted any more are no gap', () => {
  work(40, 30)
  expect(open()).toBe(40)
})

test('what was committed lazily may be gone after a power cut, and is no gap then', () => {
  const store = new Store(file)
  const record = new CommitRecord(store)
  const save = () =>
    store.transaction(() => {
      store.run(`INSERT INTO ph_save (at, user, rows, spent) VALUES ('2026-01-01T00:00:00.000Z', 'ada', 1, '{}')`)
      return { value: undefined, keep: true }
    })
  save()
  record.note()
  const before = readFileSync(`${file}.commits`)
  store.lazily(save)
  record.note()
  expect(readFileSync(`${file}.commits`)).toEqual(before)
  save()
  record.note()
  expect(readFileSync(`${file}.commits`)).not.toEqual(before)
  record.close()
  store.close()
})

const log = () => `${file}-wal`
const spoils: [string, () => void][] = [
  [
    'a byte of its middle is another',
    () => {
      const bytes = readFileSync(log())
      bytes[Math.floor(bytes.length / 2)]! ^= 0xff
      writeFileSync(log(), bytes)
    },
  ],
  ['its end is missing', () => truncateSync(log(), Math.floor(statSync(log()).size / 2))],
  ['its head is zeros', () => writeFileSync(log(), Buffer.concat([Buffer.alloc(32), readFileSync(log()).subarray(32)]))],
  ['it is not there', () => rmSync(log())],
  ['it is empty', () => truncateSync(log(), 0)],
]
test.each(spoils)('a write-ahead log of which %s is not gone on without', (_, spoil) => {
  work(40)
  spoil()
  const error = errorOf(open)
  // Without any of its log the file has no tables, and begins as a new one.
  expect(error.code).toBe('store/gap')
  expect(error.message).toMatch(
    /^.*records\.db lacks saves that were committed: \d+ saves are missing: it ends with save \d+, and save 40 of 2026-01-01/,
  )
  expect(errorOf(open).code).toBe('store/gap')
  forgetCommits(file)
  expect(open()).toBeLessThan(40)
})

test('another file in its place is reported, too', () => {
  work(40)
  for (const name of ['', '-wal', '.commits']) if (existsSync(file + name)) copyFileSync(file + name, `${folder}/own${name}`)
  for (const name of ['', '-wal', '-shm', '.commits', '.kept', '-wal.kept']) rmSync(file + name, { force: true })
  const store = new Store(file)
  for (let save = 1; save <= 60; save++)
    store.run(`INSERT INTO ph_save (at, user, rows, spent, token) VALUES ('2026-01-01T00:00:00.000Z', 'bo', 1, '{}', 'x')`)
  for (let entry = 1; entry <= 60; entry++)
    store.run(
      `INSERT INTO ph_history (save, tbl, record, event, depth, cause, patch) VALUES (1, 'item', 1, 'update', 0, '{}', '[]')`,
    )
  store.close()
  copyFileSync(`${folder}/own.commits`, `${file}.commits`)
  expect(errorOf(open).message).toContain('save 40 of 2026-01-01T00:00:00.000Z is not the one that was answered')
})

test('a record that was torn while it was written is read from its other half', () => {
  work(39)
  const bytes = readFileSync(`${file}.commits`)
  for (const [slot, spoiled] of [0, 512].entries()) {
    const torn = Buffer.from(bytes)
    torn.fill(0, spoiled, spoiled + 200)
    writeFileSync(`${file}.commits`, torn)
    expect(open(), `slot ${slot}`).toBe(39)
  }
})
