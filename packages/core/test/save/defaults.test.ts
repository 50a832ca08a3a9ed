import { describe, expect, test } from 'vitest'
import { parseTable } from '../../src/model/table-file.js'
import { readHistory } from '../../src/save/history.js'
import { hook, integer, text, World } from '../world.js'

/** `default`: what a new record has where nothing was typed, before the first hook sees it. */

const source = {
  tables: {
    item: {
      fields: {
        name: text,
        status: { ...text, enum: ['new', 'old'], default: 'new' },
        qty: { ...integer, default: 5 },
        seen: text,
      },
    },
  },
  hooks: {
    sees: hook(
      `{ table: 'item', moment: 'before-save', on: ['create'], each(row) { row.now.seen = row.now.status + ' ' + row.now.qty } }`,
    ),
    more: hook(
      `{ table: 'item', moment: 'after-save', on: ['create'], only: row => row.now.name === 'parent', each(row, _, { create }) { create('item', { name: 'child' }) } }`,
    ),
  },
}

describe('a new record', () => {
  test('has the default where nothing was typed, and hooks see it', () => {
    const world = new World(source)
    expect(world.put('item', { name: 'a' })).toEqual([{ id: 1, name: 'a', status: 'new', qty: 5, seen: 'new 5' }])
    expect(readHistory(world.store, 'item', 1)[0]!.changes).toContainEqual({
      field: 'status',
      from: null,
      to: 'new',
      by: 'default',
    })
  })
  test('keeps what was typed, and null that was typed', () => {
    const world = new World(source)
    expect(world.put('item', { status: 'old', qty: null })).toMatchObject([{ status: 'old', qty: null }])
  })
  test('that a hook asks for has it too; a copy has what it is copied from', () => {
    const world = new World(source)
    world.put('item', { name: 'parent' })
    expect(world.all('item')).toMatchObject([{ name: 'parent' }, { name: 'child', status: 'new', qty: 5 }])
    world.run([{ table: 'item', values: { id: 1, qty: null } }])
    expect(world.run([{ table: 'item', copyOf: 1, values: {} }]).records).toMatchObject([{ qty: null, status: 'new' }])
  })
  test('an update is left alone', () => {
    const world = new World(source)
    world.put('item', { qty: null })
    expect(world.put('item', { id: 1, name: 'b' })).toMatchObject([{ name: 'b', qty: null }])
  })
})

test.each([
  [{ type: 'integer', default: 'five' }, /takes an integer, but the default is text "five"/],
  [{ type: 'string', enum: ['a'], default: 'b' }, /one of a/],
  [{ type: 'integer', minimum: 3, default: 1 }, /must be at least 3/],
  [{ type: 'string', format: 'date', default: 'today' }, /a date/],
])('%j is an error of the table', (field, message) => {
  expect(() => parseTable('tables/t.json', JSON.stringify({ type: 'object', properties: { f: field } }))).toThrow(message)
})
