import Database from 'better-sqlite3'
import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'

/** What an operator does without a browser: backups, keys, and records as plain files; beside an application that is running. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
let base: string
let served: ChildProcess | null = null
const run = (...args: string[]) => spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: base })
const rowsIn = (file: string, sql: string) => {
  const db = new Database(join(base, file), { readonly: true })
  try {
    return db.prepare(sql).raw().all()
  } finally {
    db.close()
  }
}
async function serve(): Promise<string> {
  served = spawn('node', [cli, 'serve', 'vault', '--data', 'data', '--port', '0'], { cwd: base })
  return new Promise((done) =>
    served!.stdout!.setEncoding('utf8').on('data', (part: string) => {
      const [link] = /http:\S+token=\S+/.exec(part) ?? []
      if (link) done(link)
    }),
  )
}
async function stop(): Promise<void> {
  const ended = new Promise((done) => served!.once('exit', done))
  served!.kill('SIGTERM')
  await ended
  served = null
}

const SOURCE = `CREATE TABLE site (id INTEGER PRIMARY KEY, name TEXT NOT NULL, wet BOOLEAN);
  CREATE TABLE lot (id INTEGER PRIMARY KEY, site INTEGER REFERENCES site(id), mass REAL, note TEXT);
  INSERT INTO site VALUES (1, 'Low Fen', 1), (4, 'The "old" ditch', 0);
  INSERT INTO lot VALUES (7, 4, 1.5, 'a,b'), (9, NULL, 0.1, '');`

beforeAll(async () => {
  base = mkdtempSync(join(tmpdir(), 'operations-'))
  const db = new Database(join(base, 'old.sqlite'))
  db.exec(SOURCE)
  db.close()
  expect(run('adopt', 'old.sqlite', '--out', 'vault').status).toBe(0)
  await serve()
}, 60_000)
afterAll(async () => {
  if (served) await stop()
  rmSync(base, { recursive: true, force: true })
})

test('records go out as the database that they came from', () => {
  const exported = run('export', '--data', 'data', '--sqlite', '--out', 'new.sqlite')
  expect([exported.status, exported.stderr]).toEqual([0, ''])
  for (const sql of ['SELECT id, name, wet FROM site ORDER BY id', 'SELECT id, site, mass, note FROM lot ORDER BY id'])
    expect(rowsIn('new.sqlite', sql)).toEqual(rowsIn('old.sqlite', sql))
  expect(rowsIn('new.sqlite', `SELECT name FROM sqlite_schema WHERE type = 'table' ORDER BY name`)).toEqual([['lot'], ['site']])
  expect(rowsIn('new.sqlite', 'PRAGMA integrity_check')).toEqual([['ok']])
  expect(rowsIn('new.sqlite', 'PRAGMA foreign_key_check')).toEqual([])
  // What came out comes in again, the same.
  expect(run('adopt', 'new.sqlite', '--out', 'again').status).toBe(0)
  const data = (folder: string, table: string) => readFileSync(join(base, folder, `data/${table}.csv`), 'utf8')
  expect(data('again', 'lot')).toBe(data('vault', 'lot'))
})

test('nothing is overwritten without --force, and - is standard output', () => {
  writeFileSync(join(base, 'lot.csv'), 'mine')
  const csv = ['export', '--data', 'data', '--table', 'lot', '--csv']
  expect(run(...csv)).toMatchObject({ status: 2, stderr: expect.stringContaining('lot.csv: the file already exists') })
  expect(readFileSync(join(base, 'lot.csv'), 'utf8')).toBe('mine')
  expect(run(...csv, '--force')).toMatchObject({ status: 0, stdout: 'wrote lot.csv\n' })
  expect(run(...csv, '--out', '-').stdout).toBe(readFileSync(join(base, 'lot.csv'), 'utf8'))
  expect(run('export', '--data', 'data', '--sqlite', '--out', 'new.sqlite').status).toBe(2)
})

test('keys are created, listed and revoked beside the running application', () => {
  const created = run('keys', 'create', 'scale', '--data', 'data', '--user', 'owner', '--scope', 'save')
  expect(created).toMatchObject({ status: 0, stdout: expect.stringMatching(/^\S+\n$/) })
  expect(run('keys', 'list', '--data', 'data').stdout).toMatch(/^1 {2}scale: save as owner, created \S+, never used\n$/)
  expect(run('keys', 'revoke', '1', '--data', 'data')).toMatchObject({ status: 0, stdout: 'Revoked key 1\n' })
  expect(run('keys', 'list', '--data', 'data').stdout).toContain('revoked ')
  expect(run('keys', 'revoke', '9', '--data', 'data')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('there is no key 9'),
  })
  expect(run('keys', 'create', 'x', '--data', 'data', '--user', 'nobody').status).not.toBe(0)
  expect(run('keys', 'create', 'x', '--data', 'data', '--user', 'owner', '--scope', 'all').status).toBe(2)
})

test('a backup of the running application is restored once it has stopped', { timeout: 60_000 }, async () => {
  expect(run('backup', '--data', 'data', '--out', 'monday.db').status).toBe(0)
  expect(run('backup', '--data', 'data', '--out', 'monday.db').status).toBe(2)
  expect(run('backup', '--data', 'data').stdout).toMatch(/Wrote .*data\/backups\/records-\w+\.db/)
  const running = run('restore', 'monday.db', '--data', 'data')
  expect([running.status, running.stdout]).toEqual([1, ''])
  await stop()
  writeFileSync(join(base, 'broken.db'), 'not a backup')
  expect(run('restore', 'broken.db', '--data', 'data').status).toBe(1)
  const restored = run('restore', 'monday.db', '--data', 'data')
  expect([restored.status, restored.stderr]).toEqual([0, ''])
  expect(restored.stdout).toMatch(
    /The records are those of monday\.db\nThe records from before the restore are in .*records-before-restore/,
  )
  expect(readdirSync(join(base, 'data')).some((file) => file.startsWith('records-before-restore'))).toBe(true)
  expect(run('export', '--data', 'data', '--table', 'lot', '--csv', '--out', '-').stdout).toContain('7,4,1.5,"a,b"')
  expect(existsSync(join(base, 'data/records.db.part'))).toBe(false)
})
