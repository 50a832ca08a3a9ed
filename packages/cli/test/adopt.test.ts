import Database from 'better-sqlite3'
import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'

/** A database of another program becomes a project that checks, takes hooks and saves. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')
let base: string
const run = (args: string[], input?: string) => spawnSync('node', [cli, ...args], { encoding: 'utf8', cwd: base, input })

beforeAll(() => {
  base = mkdtempSync(join(tmpdir(), 'cli-adopt-'))
  const db = new Database(join(base, 'old.sqlite'))
  db.exec(`CREATE TABLE site (code TEXT PRIMARY KEY, name TEXT NOT NULL);
    CREATE TABLE lot (id INTEGER PRIMARY KEY, site TEXT REFERENCES site, mass REAL CHECK (mass >= 0), photo BLOB);
    INSERT INTO site VALUES ('fen', 'Low Fen');
    INSERT INTO lot VALUES (7, 'fen', 1.5, x'00');`)
  db.close()
})
afterAll(() => rmSync(base, { recursive: true, force: true }))

test('is adopted, checks, and its records are saved with a new hook', { timeout: 120_000 }, () => {
  const adopted = run(['adopt', 'old.sqlite', '--out', 'vault'])
  expect([adopted.status, adopted.stderr]).toEqual([0, ''])
  expect(adopted.stdout).toMatch(/site +1 record\n/)
  expect(adopted.stdout).toContain('lot.photo: holds binary data only and is left out')
  expect(run(['check', 'vault']).stdout).toBe('2 tables, 0 hooks: all is well\n')
  const made = run([
    'new',
    'hook',
    'lot-mass',
    'vault',
    '--recipe',
    'default-when-empty',
    '--table',
    'lot',
    '--input',
    'field=mass',
    '--input',
    'value=2',
  ])
  expect([made.status, made.stderr]).toEqual([0, ''])
  expect(run(['test', 'vault']).stdout).toMatch(/[1-9] passed, 0 failed/)
  const rows = JSON.stringify([{ table: 'lot', id: 7, values: { mass: -1 } }])
  const refused = run(['rehearse', 'vault', '--save', '-', '--json'], rows)
  expect([refused.status, refused.stdout]).toEqual([1, expect.stringContaining('Mass must be at least 0')])
})

test('a second time nothing is overwritten; what is no data is reported', () => {
  expect(run(['adopt', 'old.sqlite', '--out', 'vault'])).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('vault/project.json already exists'),
  })
  writeFileSync(join(base, 'text.txt'), 'no database '.repeat(100))
  expect(run(['adopt', 'text.txt', '--out', 'other'])).toMatchObject({
    status: 1,
    stderr: expect.stringContaining('text.txt cannot be read as data to adopt'),
  })
  expect(run(['adopt', 'gone', '--out', 'other']).status).toBe(2)
  expect(existsSync(join(base, 'other'))).toBe(false)
})
