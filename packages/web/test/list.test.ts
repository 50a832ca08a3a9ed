import fc from 'fast-check'
import Papa from 'papaparse'
import { describe, expect, test } from 'vitest'
import { rowsAsCsv, rowsAsJson } from '../src/lib/copy-rows'
import { effectWords, removalWords } from '../src/lib/effect-words'
import { orderOf, sortedBy, sortKeysIn } from '../src/lib/sort-keys'

/** What is in the address of a list, and what is copied out of it. */

describe('orders', () => {
  test('a press on a head goes from rising to falling to not at all', () => {
    expect(sortedBy('', 'name', false)).toBe('name')
    expect(sortedBy('name', 'name', false)).toBe('-name')
    expect(sortedBy('-name', 'name', false)).toBe('')
    expect(sortedBy('-name,site', 'site', false)).toBe('site')
  })
  test('with Shift it sorts within the others', () => {
    expect(sortedBy('name', 'site', true)).toBe('name,site')
    expect(sortedBy('name,site', 'site', true)).toBe('name,-site')
    expect(sortedBy('name,-site', 'site', true)).toBe('name')
    expect(sortedBy('name,-site', 'name', true)).toBe('-name,-site')
  })
  test('are read as they are written', () => {
    const keys = fc.uniqueArray(fc.record({ name: fc.stringMatching(/^[a-z_][a-z0-9_]{0,6}$/), falling: fc.boolean() }), {
      selector: ({ name }) => name,
    })
    fc.assert(
      fc.property(keys, (some) => {
        expect(sortKeysIn(orderOf(some))).toEqual(some)
      }),
    )
  })
})

describe('copies', () => {
  const records = [
    { id: 1, name: 'a "b", c', qty: 0, note: null },
    { id: 2, name: 'two\nlines', qty: 2.5, note: '' },
  ]
  test('as CSV are read back by a parser that is not ours (Papa Parse, RFC 4180)', () => {
    const text = rowsAsCsv(records, ['qty', 'name', 'note'])
    expect(Papa.parse<string[]>(text).data).toEqual([
      ['id', 'qty', 'name', 'note'],
      ['1', '0', 'a "b", c', ''],
      ['2', '2.5', 'two\nlines', '""'],
    ])
  })
  test('as JSON hold the columns that are shown, in their order', () => {
    expect(rowsAsJson(records, ['note', 'qty'])).toBe(
      JSON.stringify(
        [
          { id: 1, note: null, qty: 0 },
          { id: 2, note: '', qty: 2.5 },
        ],
        null,
        2,
      ),
    )
  })
})

describe('what a save does, in words', () => {
  const row = (
    table: string,
    id: number,
    event: string,
    depth: number,
    ...changes: [field: string, by: string, kind: string][]
  ) => ({ table, id, event, depth, changes: changes.map(([field, by, kind]) => ({ field, from: 1, to: 2, by, kind })) }) as never
  test('of changes: those that were given, what hooks set of them, what changes with them', () => {
    const rows = [
      row('lot', 1, 'update', 0, ['mass', 'typed', 'typed'], ['net', 'mass', 'hook']),
      row('lot', 2, 'update', 0),
      row('site', 7, 'update', 1, ['count', 'roll', 'ripple']),
    ]
    expect(effectWords({ rows, sent: [], records: [] })).toBe(
      '1 record changes of 2; hooks set 1 value of them; 1 other record with them, of site.',
    )
    expect(effectWords({ rows: [], sent: [], records: [{ id: 1 }, { id: 2 }] })).toBe('2 records were written.')
  })
  test('of a removal: what goes, what loses its link, what hooks change', () => {
    const rows = [
      row('request', 1, 'delete', 0),
      row('line', 4, 'delete', 1),
      row('line', 5, 'delete', 1),
      row('lot', 2, 'update', 1, ['request', 'link', 'ripple']),
      row('site', 7, 'update', 1, ['count', 'roll', 'ripple']),
    ]
    const whole = [row('request', 1, 'delete', 0, ['number', '', 'hook']), ...rows.slice(1)]
    expect(effectWords({ rows: whole, sent: [], records: [] })).toBe('1 record goes; 2 other records with them, of lot, site.')
    expect(removalWords({ rows })).toBe(
      '2 records of line go with it. 1 record of lot loses its link to it. Hooks also change 1 record of site.',
    )
    expect(removalWords({ rows: rows.slice(0, 1) })).toBe('No other records are affected.')
  })
})
