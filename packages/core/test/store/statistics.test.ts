import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { Store } from '../../src/store/database.js'
import { Statistics } from '../../src/store/statistics.js'
import { hook, integer, link, text, World } from '../world.js'

/** SQLite is shown how many records a value of each index has, so it looks records up by what tells them best. */

const indexed = { ...text, 'x-index': true }
const tables = {
  shelf: { fields: { name: text } },
  item: { fields: { shelf: link('shelf'), state: indexed, code: { ...text, 'x-unique': true }, size: integer, note: indexed } },
}

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'statistics-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

interface Filled {
  world: World
  store: Store
  fill: (from: number, to: number) => void
}
/** Shelves of items that are in one of three states; the last of them is rare. */
function filled(items: number, { file = ':memory:', shelves = 400 } = {}): Filled {
  const world = new World({ tables })
  const store = new Store(file)
  store.createTables(world.environment.project)
  const fill = (from: number, to: number) =>
    store.run(
      `INSERT INTO item (id, shelf, state, code, size) WITH RECURSIVE n (id) AS (SELECT ${from} UNION ALL SELECT id + 1 FROM n WHERE id < ${to})
       SELECT id, 1 + id % ${shelves}, iif(id % 3 = 0, 'new', iif(id % 1000 = 1, 'gone', 'kept')), 'c' || id, id FROM n`,
    )
  store.run(
    `INSERT INTO shelf (id) WITH RECURSIVE n (id) AS (SELECT 1 UNION ALL SELECT id + 1 FROM n WHERE id < ${shelves}) SELECT id FROM n`,
  )
  fill(1, items)
  return { world, store, fill }
}

const toldOf = (db: Pick<Database.Database, 'prepare'>) =>
  Object.fromEntries(db.prepare('SELECT idx, stat FROM sqlite_stat1 ORDER BY idx').raw().all() as [string, string][])
const isTold = (store: Store) => store.one(`SELECT count(*) FROM sqlite_schema WHERE name = 'sqlite_stat1'`) === 1

test('as ANALYZE itself counts them', () => {
  const { store } = filled(12_000)
  new Statistics(store).afterWork()
  const ours = toldOf(store.db)
  store.db.exec('ANALYZE item')
  const theirs = toldOf(store.db)
  // A text of which there is none is one value for ANALYZE, as it is here.
  expect(ours).toEqual(theirs)
  expect(ours).toMatchObject({
    'item.shelf': '12000 30',
    'item.state': '12000 4000',
    'item.code': '12000 1',
    'item.note': '12000 12000',
  })
})

test('whatever tables and fields are called', () => {
  const odd = {
    fields: { value: indexed, next: indexed, name: indexed, order: { ...integer, 'x-index': true }, number: integer },
    unique: [
      ['name', 'order', 'number'],
      ['value', 'number'],
    ],
  }
  const world = new World({ tables: { next: odd, sqlite: odd } })
  for (const table of ['next', 'sqlite'])
    world.store.run(
      `INSERT INTO "${table}" (id, value, next, name, "order", number) WITH RECURSIVE n (id) AS (SELECT 1 UNION ALL SELECT id + 1 FROM n WHERE id < 3000)
       SELECT id, 'v' || (id % 10), 'n' || (id % 100), NULL, id % 2, id FROM n`,
    )
  new Statistics(world.store).afterWork()
  expect(toldOf(world.store.db)).toMatchObject({
    'next.value': '3000 300',
    'next.next': '3000 30',
    'next.name': '3000 3000',
    'next.order': '3000 1500',
    'next.value+number': '3000 300 1',
    'next.name+order+number': '3000 3000 10 1',
    'sqlite.value': '3000 300',
  })
})

test('of more values than are looked up, by the first of them', () => {
  const { store } = filled(12_000)
  store.run(`UPDATE item SET note = 'note ' || (id / 4)`)
  new Statistics(store).afterWork()
  const [, records] = toldOf(store.db)['item.note']!.split(' ').map(Number)
  expect(records).toBeGreaterThanOrEqual(3)
  expect(records).toBeLessThanOrEqual(5)
})

test('a look-up by links and a state goes by the links', () => {
  const { store } = filled(60_000, { shelves: 2000 })
  // What `find` asks.
  const sql = `SELECT "id" FROM item WHERE shelf IN (SELECT value FROM json_each(?)) AND state = ? ORDER BY "id" LIMIT ?`
  const plan = () => JSON.stringify(store.objects(`EXPLAIN QUERY PLAN ${sql}`, '[1,2,3]', 'kept', 1000))
  expect(plan()).toContain('item.state')
  new Statistics(store).afterWork()
  expect(plan()).toContain('item.shelf')
})

describe('they are rebuilt', () => {
  test('when there are twice as many records, not before', () => {
    const { store, fill } = filled(12_000)
    const statistics = new Statistics(store)
    statistics.afterWork()
    const first = toldOf(store.db)
    fill(12_001, 21_000)
    statistics.afterWork()
    expect(toldOf(store.db)).toEqual(first)
    fill(21_001, 32_000)
    statistics.afterWork()
    expect(toldOf(store.db)).toMatchObject({ 'item.shelf': '32000 80' })
  })

  test('when as many changes were made as half of the records are', () => {
    const { store } = filled(12_000)
    const statistics = new Statistics(store)
    statistics.afterWork()
    expect(toldOf(store.db)['item.note']).toBe('12000 12000')
    store.run(`UPDATE item SET note = iif(id % 2, 'odd', 'even')`)
    statistics.afterWork()
    expect(toldOf(store.db)['item.note']).toBe('12000 6000')
  })

  test('when there is another index', () => {
    const { store } = filled(12_000)
    const statistics = new Statistics(store)
    statistics.afterWork()
    store.db.exec('CREATE INDEX "item.size" ON item (size); UPDATE item SET size = id % 5 WHERE id < 100')
    statistics.afterWork()
    const [records, ofOne] = toldOf(store.db)['item.size']!.split(' ').map(Number)
    expect(records).toBe(12_000)
    expect(ofOne).toBeLessThan(5)
    store.db.exec('DROP INDEX "item.size"')
    statistics.afterWork()
    expect(Object.keys(toldOf(store.db))).not.toContain('item.size')
  })

  test('never of few records, nor before there are many', () => {
    const { store, fill } = filled(900)
    const statistics = new Statistics(store)
    statistics.afterWork()
    expect(isTold(store)).toBe(false)
    fill(901, 20_000)
    statistics.afterWork()
    expect(isTold(store)).toBe(true)
    expect(Object.keys(toldOf(store.db)).filter((name) => name.startsWith('shelf'))).toEqual([])
  })
})

test('nothing is reported while another program writes the file, and later it is', () => {
  const { store } = filled(12_000, { file: join(folder, 'records.db') })
  const other = new Database(join(folder, 'records.db'))
  other.exec('BEGIN IMMEDIATE')
  new Statistics(store).afterWork()
  expect(isTold(store)).toBe(false)
  other.exec('COMMIT')
  other.close()
  new Statistics(store).afterWork()
  expect(toldOf(store.db)).toMatchObject({ 'item.shelf': '12000 30' })
  store.close()
})

test('a save does the same with them and without', () => {
  const find = hook(
    `{ table: 'shelf', moment: 'after-save', load: ({ rows, store }) => store.find('item', { shelf: { in: rows.map(row => row.id) }, state: 'kept' }, { fields: ['shelf'] }),
       each(row, items, { update, log }) { log(items.filter(item => item.shelf === row.id).map(item => item.id).join()); update('item', { shelf: row.id, state: { not: 'new' } }, { size: row.id }) } }`,
  )
  const outcomes = [true, false].map((told) => {
    const world = new World({ tables, hooks: { find } })
    world.load('shelf', [{ id: 1 }, { id: 2 }, { id: 3 }])
    world.load(
      'item',
      Array.from({ length: 1500 }, (_, index) => ({
        id: index + 1,
        shelf: 1 + (index % 3),
        state: index % 5 ? 'kept' : 'new',
        code: `c${index}`,
        size: 1,
      })),
    )
    if (told) new Statistics(world.store).afterWork()
    expect(isTold(world.store)).toBe(told)
    const { logs, spent } = world.run([3, 1].map((id) => ({ table: 'shelf', values: { id, name: `shelf ${id}` } })))
    const history = world.all('ph_history').map(({ tbl, record, patch }) => ({ tbl, record, patch }))
    return { logs, rows: spent.rowsRead, items: world.all('item'), history }
  })
  expect(outcomes[0]!.logs).toHaveLength(2)
  expect(outcomes[0]).toEqual(outcomes[1])
})
