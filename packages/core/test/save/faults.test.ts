import { fork } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { filesOf, hook, integer, link, text, World, type Source } from '../world.js'

/** What is promised when things go wrong: a save is there whole or not at all, and the error says what happened. */

const source: Source = {
  project: { batchSize: 100, sequences: { s: { prefix: 'S', digits: 6, start: 1 } } },
  tables: {
    parent: { fields: { total: integer } },
    child: { fields: { parent: link('parent'), qty: integer, number: { ...text, 'x-unique': true } } },
  },
  hooks: {
    number: hook(
      `{ table: 'child', moment: 'before-save', on: ['create'], each(row, _, { next }) { row.now.number = next('s') } }`,
    ),
    total: hook(`{ table: 'child', moment: 'after-save', finish({ rows, store, update }) {
      for (const [id, sum] of store.rollup('child', 'parent', rows.map(r => r.now.parent), { sum: ['qty'] })) update('parent', id, { total: sum.sum.qty }) } }`),
    tell: hook(`{ table: 'child', moment: 'after-save', on: ['create'], each(row, _, { send }) { send('told', row.id) } }`),
  },
}

let folder: string
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'faults-'))
})
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** Are all parts of every kept save there, and no part of any other? */
function expectWhole(file: string): number {
  const db = new Database(file)
  const one = (sql: string) => db.prepare(sql).pluck().get() as number
  expect(db.pragma('integrity_check', { simple: true })).toBe('ok')
  expect(db.pragma('foreign_key_check')).toEqual([])
  const saves = one(`SELECT count(*) FROM ph_save WHERE rows = 600`)
  expect(one('SELECT count(*) FROM child')).toBe(saves * 600)
  expect(one(`SELECT count(*) FROM ph_outbox`)).toBe(saves * 600)
  expect(one(`SELECT count(*) FROM ph_history WHERE tbl = 'child'`)).toBe(saves * 600)
  expect(one('SELECT coalesce(sum(total), 0) FROM parent')).toBe(saves * 600)
  expect(one(`SELECT coalesce(max(next), 1) FROM ph_sequence WHERE name = 's'`)).toBe(saves * 600 + 1)
  db.close()
  return saves
}

test(
  'killed with SIGKILL at 50 random points of bulk saves with ripples and outbox, each save is there whole or not at all',
  { timeout: 600_000 },
  async () => {
    const file = join(folder, 'killed.db')
    const files = join(folder, 'files.json')
    writeFileSync(files, JSON.stringify([...filesOf(source)]))
    let state = 20260214
    const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32
    let saves = 0
    for (let kill = 0; kill < 50; kill++) {
      const child = fork(join(import.meta.dirname, 'crash-child.mjs'), [file, files], { execArgv: [] })
      const one = await new Promise<number>((saved) => child.once('message', (ms) => saved(ms as number)))
      const ended = new Promise((done) => child.once('exit', done))
      setTimeout(() => child.kill('SIGKILL'), random() * 3 * one)
      await ended
      const now = expectWhole(file)
      expect(now).toBeGreaterThanOrEqual(saves)
      saves = now
    }
    expect(saves).toBeGreaterThanOrEqual(50)
  },
)

describe('the database', () => {
  test('locked by another program: a clear error, nothing kept, the next save works', () => {
    const file = join(folder, 'locked.db')
    const world = new World(source, file)
    const other = new Database(file)
    other.exec('BEGIN IMMEDIATE')
    expect(world.try([{ table: 'parent', values: { total: 1 } }]).error).toMatchObject({
      code: 'store/locked',
      message: expect.stringContaining('locked.db') as unknown,
    })
    other.exec('ROLLBACK')
    expect(world.put('parent', { total: 1 })).toHaveLength(1)
  })

  test('full: a clear error, nothing kept', () => {
    const file = join(folder, 'full.db')
    const world = new World(source, file)
    world.put('parent', { total: 0 })
    const pages = world.store.db.pragma('page_count', { simple: true }) as number
    world.store.db.pragma(`max_page_count = ${pages + 2}`)
    const rows = Array.from({ length: 2000 }, () => ({ table: 'child', values: { parent: 1, qty: 1 } }))
    expect(world.try(rows).error).toMatchObject({ code: 'store/full' })
    expect(world.all('child')).toEqual([])
    world.store.db.pragma('max_page_count = 1000000')
    expect(world.try(rows.slice(0, 3)).error).toBeNull()
    expect(world.all('child').map((each) => each['number'])).toEqual(['S000001', 'S000002', 'S000003'])
  })

  test('that is none: a clear error', () => {
    const file = join(folder, 'none.db')
    writeFileSync(file, 'this is no database, but long enough to look at: '.repeat(40))
    expect(() => new World(source, file)).toThrow(/is damaged/)
  })

  test('two writers never give a number twice and leave no gap, also after refusals', () => {
    const file = join(folder, 'two.db')
    const [one, two] = [new World(source, file), new World(source, file)]
    one.put('parent', { total: 0 })
    for (let i = 0; i < 20; i++) {
      const world = i % 2 === 0 ? one : two
      world.try([
        { table: 'child', values: { parent: i % 5 === 4 ? 99 : 1 } },
        { table: 'child', values: { parent: 1 } },
      ])
    }
    const numbers = one.all('child').map((each) => each['number'])
    expect(numbers).toEqual(Array.from({ length: 32 }, (_, i) => `S${String(i + 1).padStart(6, '0')}`))
  })
})
