import { readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { expect, test } from 'vitest'
import { CsvText } from '../../src/formats/csv.js'

/** csv-spectrum: small CSV files of the kinds that parsers stumble over, each with what it means as JSON. */

const folder = dirname(createRequire(import.meta.url).resolve('csv-spectrum/package.json'))
const names = readdirSync(join(folder, 'csvs')).map((file) => file.replace(/\.csv$/, ''))

test('the suite is there', () => expect(names.length).toBeGreaterThan(10))

/** Not RFC 4180: a quote within a cell that does not begin with one. Such a file is an error with its line, not a guess. */
const STRICT = ['location_coordinates']

test.each(STRICT)('%s is refused', (name) => {
  const text = readFileSync(join(folder, 'csvs', `${name}.csv`), 'utf8')
  expect(() => new CsvText(name, text)).toThrow(/quote is found on field 1 at line 2/)
})

test.each(names.filter((name) => !STRICT.includes(name)))('%s', (name) => {
  const [header, ...rows] = new CsvText(name, readFileSync(join(folder, 'csvs', `${name}.csv`), 'utf8')).rows
  const records = rows.map((cells) => Object.fromEntries(header!.map((column, index) => [column, cells[index]])))
  expect(records).toEqual(JSON.parse(readFileSync(join(folder, 'json', `${name}.json`), 'utf8')))
})
