import Database from 'better-sqlite3'
import fc from 'fast-check'
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { adopt, readDataFolder, readSqlite, type Adoption } from '../../src/adopt/index.js'
import { parseProject } from '../../src/model/project.js'

/** A project out of data of another program. SQLite itself makes the databases: its schema, pragmas and values are not ours. */

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'adopt-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

function fromSql(sql: string): Adoption {
  const file = join(folder, 'source.sqlite')
  const db = new Database(file)
  db.pragma('foreign_keys = off')
  db.exec(sql)
  db.close()
  return adopt(readSqlite(file), 'shop')
}
function fromFiles(files: Record<string, string>): Adoption {
  for (const [name, text] of Object.entries(files)) writeFileSync(join(folder, name), text)
  return adopt(readDataFolder(folder), 'shop')
}
const projectOf = ({ files }: Adoption) => parseProject(files)
const fieldOf = (adoption: Adoption, table: string, field: string) =>
  projectOf(adoption)
    .tables.get(table)!
    .fields.find(({ name }) => name === field)!
const recordsOf = (adoption: Adoption, table: string) => projectOf(adoption).data.get(table)!
const noted = ({ notes }: Adoption) =>
  notes.map(({ about, column, detail }) => `${about}${column ? `.${column}` : ''}: ${detail}`)

describe('a SQLite database', () => {
  test('types come from the declarations and from every value', () => {
    const adoption = fromSql(`
      CREATE TABLE Lots (LotId INTEGER PRIMARY KEY, "Full Name" VARCHAR(8) NOT NULL, active BOOLEAN DEFAULT 1, mass DECIMAL(9,3),
        tested DATE, stored_at DATETIME, count INT DEFAULT 3, big BIGINT, mixed, photo BLOB, empty TIMESTAMP);
      INSERT INTO Lots VALUES (4, 'Ash', 1, 2, '2024-02-29', '2024-02-29 10:00:00', 5, 9007199254740993, 'x', x'00', NULL),
        (9, '', 0, 1.25, NULL, '2024-03-01 11:30:00', NULL, 1, 2.5, NULL, NULL);`)
    const types = projectOf(adoption)
      .tables.get('lots')!
      .fields.map(({ name, type, format, required }) => [name, format ?? type, required])
    expect(types).toEqual([
      ['full_name', 'string', true],
      ['active', 'boolean', false],
      ['mass', 'number', false],
      ['tested', 'date', false],
      ['stored_at', 'date-time', false],
      ['count', 'integer', false],
      ['big', 'string', false],
      ['mixed', 'string', false],
      ['empty', 'date-time', false],
    ])
    expect(fieldOf(adoption, 'lots', 'full_name')).toMatchObject({ label: 'Full name', maxLength: 8 })
    expect([fieldOf(adoption, 'lots', 'active').default, fieldOf(adoption, 'lots', 'count').default]).toEqual([true, 3])
    expect(recordsOf(adoption, 'lots')).toEqual([
      {
        id: 4,
        full_name: 'Ash',
        active: true,
        mass: 2,
        tested: '2024-02-29',
        stored_at: '2024-02-29T10:00:00.000Z',
        count: 5,
        big: '9007199254740993',
        mixed: 'x',
        empty: null,
      },
      {
        id: 9,
        full_name: '',
        active: false,
        mass: 1.25,
        tested: null,
        stored_at: '2024-03-01T11:30:00.000Z',
        count: null,
        big: '1',
        mixed: '2.5',
        empty: null,
      },
    ])
    expect(noted(adoption)).toEqual([
      'Lots.LotId: becomes the id of the record',
      'Lots.stored_at: 2 values without an offset are read as UTC',
      'Lots.big: 2 values are kept as text: the column also holds text, or numbers too large to be exact',
      'Lots.mixed: 1 value is kept as text: the column also holds text, or numbers too large to be exact',
      'Lots.photo: holds binary data only and is left out',
    ])
  })

  test('links follow ids, text keys and the table itself; what leads nowhere is counted', () => {
    const adoption = fromSql(`
      CREATE TABLE species (code TEXT PRIMARY KEY, name TEXT);
      CREATE TABLE lot (id INTEGER PRIMARY KEY, species TEXT NOT NULL REFERENCES species, parent INTEGER REFERENCES lot(id) ON DELETE CASCADE);
      INSERT INTO species VALUES ('ash', 'Ash'), ('oak', 'Oak');
      INSERT INTO lot VALUES (5, 'oak', NULL), (6, 'ash', 5), (7, 'elm', 99);`)
    expect(fieldOf(adoption, 'lot', 'species').link).toEqual({ table: 'species', onDelete: 'refuse' })
    expect(fieldOf(adoption, 'lot', 'parent').link).toEqual({ table: 'lot', onDelete: 'cascade' })
    expect(fieldOf(adoption, 'species', 'code')).toMatchObject({ unique: true, required: true })
    expect(recordsOf(adoption, 'lot')).toEqual([
      { id: 5, species: 2, parent: null },
      { id: 6, species: 1, parent: 5 },
      { id: 7, species: null, parent: null },
    ])
    expect(noted(adoption)).toEqual([
      'lot.species: 1 of 3 records name no species that exists: the link is empty there',
      'lot.species: is not required: some records have no value that can be kept',
      'lot.parent: 1 of 3 records name no lot that exists: the link is empty there',
    ])
  })

  test('checks become choices and bounds; sets and indexes stay; what is computed elsewhere is reported', () => {
    const adoption = fromSql(`
      CREATE TABLE line (request INTEGER, number INT CHECK (number > 0 AND number <= 90), state TEXT CHECK ("state" IN ('new', 'it''s off')) DEFAULT 'new',
        share REAL CHECK (share BETWEEN 0 AND 1), seeds INT, twice INT AS (seeds * 2), CHECK (seeds > number OR state = 'new'),
        PRIMARY KEY (request, number));
      CREATE INDEX line_seeds ON line (seeds);
      CREATE UNIQUE INDEX line_some ON line (seeds) WHERE seeds > 5;
      CREATE VIEW recent AS SELECT 1;
      CREATE TRIGGER count_up AFTER INSERT ON line BEGIN SELECT 1; END;
      CREATE VIRTUAL TABLE words USING fts5 (body);
      INSERT INTO line VALUES (1, 1, 'new', 0.5, 10), (1, 2, 'it''s off', NULL, 20);`)
    const table = projectOf(adoption).tables.get('line')!
    expect(table.uniqueSets).toEqual([['request', 'number']])
    expect(fieldOf(adoption, 'line', 'number')).toMatchObject({ minimum: 1, maximum: 90 })
    expect(fieldOf(adoption, 'line', 'share')).toMatchObject({ minimum: 0, maximum: 1 })
    expect(fieldOf(adoption, 'line', 'state')).toMatchObject({ enum: ['new', "it's off"], default: 'new' })
    expect(adoption.files.get('tables/line.json')).toMatch(/"seeds": \{\s*"x-index": true/)
    expect(recordsOf(adoption, 'line').map(({ twice }) => twice)).toEqual([20, 40])
    expect(noted(adoption)).toEqual([
      'words: a virtual table is not carried over',
      'line.twice: a computed column becomes a field with its values: write a hook that computes it',
      "line: CHECK (seeds > number OR state = 'new') is not carried over: write a hook that refuses such rows",
      'line: the unique index line_some covers some rows or an expression only and is not carried over',
      'line: the trigger count_up is not carried over: write a hook that does the same',
      'recent: a view is not carried over',
    ])
  })

  test('names that cannot be names here are changed, and none is taken twice', () => {
    const adoption = fromSql(`
      CREATE TABLE "Order Items" ("1st" INT, "First name" TEXT, first_name TEXT, id TEXT, "constructor" INT, "x"" y" INT);
      CREATE TABLE order_items (then_ INT);
      INSERT INTO "Order Items" VALUES (1, 'a', 'b', 'c', 2, 3);`)
    expect([...projectOf(adoption).tables.keys()].sort()).toEqual(['order_items', 'order_items_2'])
    expect(recordsOf(adoption, 'order_items')).toEqual([
      { id: 1, f_1st: 1, first_name: 'a', first_name_2: 'b', other_id: 'c', constructor_2: 2, x_y: 3 },
    ])
  })

  test('a file that is no database, or is not there, is an error and stays as it is', () => {
    const file = join(folder, 'notes.txt')
    writeFileSync(file, 'not a database, but long enough to be looked at as one '.repeat(40))
    expect(() => readSqlite(file)).toThrow(/notes\.txt cannot be read as data to adopt: file is not a database/)
    expect(() => readSqlite(join(folder, 'gone'))).toThrow(/gone cannot be read/)
    expect(readFileSync(file, 'utf8')).toMatch(/^not a database/)
  })

  test('every value of every column is in the project, or is reported', { timeout: 60_000 }, () => {
    const cell = fc.oneof(
      fc.constant(null),
      fc.integer(),
      fc.double({ noNaN: true, noDefaultInfinity: true }),
      fc.string({ unit: 'grapheme', maxLength: 20 }),
      fc.constantFrom('2024-02-29', '2024-02-29 10:00:00', 'true', '', '007', '1.10'),
    )
    const declared = fc.constantFrom('', 'INT', 'REAL', 'TEXT', 'BOOLEAN', 'DATE', 'DATETIME', 'NUMERIC', 'VARCHAR(5)')
    const column = fc.record({ declared, cells: fc.array(cell, { minLength: 3, maxLength: 3 }) })
    fc.assert(
      fc.property(fc.array(column, { minLength: 1, maxLength: 4 }), (columns) => {
        const file = join(folder, `${Math.random()}.sqlite`)
        const db = new Database(file)
        db.exec(`CREATE TABLE t (${columns.map((each, at) => `c${at} ${each.declared}`).join(', ')})`)
        const insert = db.prepare(`INSERT INTO t VALUES (${columns.map(() => '?').join(', ')})`)
        for (const row of [0, 1, 2]) insert.run(...columns.map(({ cells }) => cells[row]))
        const stored = db.prepare('SELECT * FROM t').all() as Record<string, unknown>[]
        db.close()
        const adoption = adopt(readSqlite(file), 'p')
        const records = recordsOf(adoption, 't')
        stored.forEach((row, index) => {
          for (const [name, value] of Object.entries(row)) {
            const kept = records[index]![name]
            const { type, format } = fieldOf(adoption, 't', name)
            const asMoment =
              typeof value === 'string' ? Date.parse(value.includes(':') ? `${value.replace(' ', 'T')}Z` : value) : NaN
            if (type === 'boolean') expect(kept).toBe(value === null ? null : value === 1)
            else if (format === 'date-time' && value !== null) expect(Date.parse(kept as string)).toBe(asMoment)
            else if (typeof value === 'number' && type === 'string') expect(Number(kept)).toBe(value)
            // CSV knows one zero.
            else expect(kept === 0 ? 0 : kept).toBe(value === 0 ? 0 : value)
          }
        })
      }),
      { numRuns: 150 },
    )
  })
})

describe('a folder of files', () => {
  test('types, keys, choices and links are found across CSV and JSON', () => {
    const adoption = fromFiles({
      'species.csv': 'code,name\nAB1,Ash\nAB2,Beech\nAB3,Fern\n',
      'visitors.json': '[{ "id": 10, "name": "Ada", "tags": ["x"] }, { "id": 11, "name": "7" }]',
      'visits.csv': `id;species;visitor_id;phone;weight;ok;mood\n${Array.from({ length: 12 }, (_, n) => `${n + 1};${n === 2 ? '' : 'AB2'};1${n % 2};00${n};${n}.5;yes;${n % 2 ? 'calm' : 'loud'}`).join('\n')}\n`,
    })
    expect(fieldOf(adoption, 'visits', 'species').link?.table).toBe('species')
    expect(fieldOf(adoption, 'visits', 'visitor_id').link?.table).toBe('visitors')
    expect(fieldOf(adoption, 'visits', 'mood').enum).toEqual(['calm', 'loud'])
    expect(recordsOf(adoption, 'visits')[2]).toEqual({
      id: 3,
      species: null,
      visitor_id: 10,
      phone: '002',
      weight: 2.5,
      ok: true,
      mood: 'loud',
    })
    expect(recordsOf(adoption, 'visitors')).toEqual([
      { id: 10, name: 'Ada', tags: '["x"]' },
      { id: 11, name: '7', tags: null },
    ])
    expect(noted(adoption)).toEqual(['visitors.tags: lists and objects are kept as JSON text'])
  })

  test('the id of another table is a link, also in the first column with each value once', () => {
    const adoption = fromFiles({
      'sites.csv': 'name,site_id\nFen,4\nMoor,9\n',
      'reports.csv': 'site_id,text\n9,dry\n4,wet\n',
    })
    expect(recordsOf(adoption, 'sites').map(({ id }) => id)).toEqual([4, 9])
    expect(fieldOf(adoption, 'reports', 'site_id').link?.table).toBe('sites')
    expect(recordsOf(adoption, 'reports')).toEqual([
      { id: 1, site_id: 9, text: 'dry' },
      { id: 2, site_id: 4, text: 'wet' },
    ])
  })

  test('what cannot be read is named with its file and line', () => {
    mkdirSync(join(folder, 'none'))
    expect(() => readDataFolder(join(folder, 'none'))).toThrow(/holds no \.csv or \.json file/)
    expect(() => fromFiles({ 'a.csv': 'x,y\n1,2\n3\n' })).toThrow(/the header has 2 columns, this row 1/)
    rmSync(join(folder, 'a.csv'))
    writeFileSync(join(folder, 'b.csv'), Buffer.from([0x61, 0x0a, 0xff, 0x0a]))
    expect(() => readDataFolder(folder)).toThrow(/b\.csv cannot be read/)
  })
})
